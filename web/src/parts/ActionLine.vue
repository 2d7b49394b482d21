<script setup lang="ts">
/** Something that can be done at a station: a quiet line while it is closed, its form while it is open. */
import { nextTick, onMounted, ref, watch } from 'vue';

const props = defineProps<{
  title: string;
  open: boolean;
  note?: string;
  hint?: string;
  /** It is brought into sight when it is there, not only when it is opened. */
  reveals?: boolean;
}>();
const emit = defineEmits<{ toggle: [] }>();
const line = ref<HTMLElement>();
// The form of the last of many would open below the edge.
watch(() => props.open, reveal);
onMounted(() => props.reveals && reveal());
async function reveal(): Promise<void> {
  await nextTick();
  if (props.open) line.value?.scrollIntoView({ block: 'nearest' });
}
</script>

<template>
  <section ref="line" class="action" :class="{ open }" :aria-label="title">
    <h3>
      <button :aria-expanded="open" :title="open ? undefined : hint" @click="emit('toggle')">
        <span class="title">{{ title }}</span>
        <span v-if="note" class="quiet note">{{ note }}</span>
        <svg viewBox="0 0 8 8" aria-hidden="true">
          <path :d="open ? 'M0.5 2h7L4 7z' : 'M2 0.5v7L7 4z'" fill="currentColor" />
        </svg>
      </button>
    </h3>
    <div v-if="open" class="body">
      <p v-if="hint" class="quiet hint">{{ hint }}</p>
      <slot />
    </div>
  </section>
</template>

<style scoped>
.action {
  border-top: 1px solid var(--rule);
}
h3 {
  margin: 0;
  font: inherit;
}
h3 button {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  min-height: 32px;
  padding: 6px 0;
  background: none;
  border: 0;
  text-align: left;
  cursor: pointer;
}
h3 button:hover .title {
  color: var(--iris);
}
.title {
  flex: 1;
}
.open .title {
  font-weight: 600;
}
.note {
  font-size: 12px;
}
svg {
  width: 8px;
  height: 8px;
  color: var(--ink-2);
}
.body {
  padding: 0 0 12px;
}
.hint {
  font-size: 12px;
  margin-bottom: 6px;
}
</style>
