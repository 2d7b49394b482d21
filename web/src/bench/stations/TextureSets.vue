<script setup lang="ts">
/** Loose pictures of a source: what sets they make, and the way to where they are bound. */
import { useRouter } from 'vue-router';
import { counted } from '@noble-prism/core/units';
import { useTextureSets } from '../finishes/textureSets.ts';
import { openAction } from '../openAction.ts';

const props = defineProps<{ source: string }>();
const sets = useTextureSets(() => props.source);
const router = useRouter();

function bind(): void {
  openAction('finishes', 'textures');
  void router.push({ params: { station: 'finishes' } });
}
</script>

<template>
  <p v-if="sets.length" class="sets">
    {{ counted(sets.length, 'texture set') }}:
    <template v-for="(set, i) in sets" :key="set.key"
      ><template v-if="i">, </template>{{ set.name
      }}<span v-if="!set.steps.length" class="warn"> (loose)</span></template
    >.
    <button class="plain link" @click="bind">Bind in Finishes</button>
  </p>
</template>

<style scoped>
.sets {
  margin: 6px 0 4px;
  overflow-wrap: anywhere;
}
.link {
  color: var(--iris);
}
</style>
