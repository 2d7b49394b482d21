<script setup lang="ts">
/** Pictures that files refer to and that did not come along, with the materials that wait for them. */
import { computed } from 'vue';
import { partsByMaterial } from '@noble-prism/core/scene/parts';
import { counted } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';

const store = useJob();
const selection = useSelection();

interface Missing {
  id: string;
  name: string;
  source: string;
  /** Rows of the parts that would show it. */
  rows: number[];
}
const missing = computed<Missing[]>(() => {
  const { scene } = store;
  const lost = Object.values(scene.textures).filter(({ state }) => state === 'missing');
  if (lost.length === 0) return [];
  const parts = partsByMaterial(scene);
  return lost.map(({ id, name, source }) => {
    const users = Object.values(scene.materials).filter(({ textures = {} }) =>
      Object.values(textures).some(({ texture }) => texture === id),
    );
    const rows = [...new Set(users.flatMap((material) => parts.get(material.id) ?? []))];
    return { id, name, source: store.sources.find((one) => one.id === source)?.name ?? '', rows };
  });
});
const pick = ({ rows }: Missing) => selection.pick(rows.map((row) => store.scene.nodes.key(row)));
</script>

<template>
  <details v-if="missing.length" class="missing">
    <summary class="warn">{{ counted(missing.length, 'picture is missing', 'pictures are missing') }}</summary>
    <ul>
      <li v-for="one in missing" :key="one.id">
        <span class="name" :title="`${one.name}, named in ${one.source}`">{{ one.name }}</span>
        <button
          v-if="one.rows.length"
          class="plain link"
          title="Select the parts that would show it"
          @click="pick(one)"
        >
          {{ counted(one.rows.length, 'part') }}
        </button>
        <span v-else class="quiet">on no part</span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.missing {
  font-size: 12px;
  margin-bottom: 6px;
}
summary {
  cursor: pointer;
}
ul {
  list-style: none;
  margin: 0;
  padding: 2px 0 0 10px;
  max-height: 160px;
  overflow-y: auto;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.link {
  color: var(--iris);
}
</style>
