<script setup lang="ts">
/** Templates: preparations kept without sources. One is given to this job, or to every new one. */
import Dialog from 'primevue/dialog';
import { ref, watch } from 'vue';
import { asPrismError } from '@noble-prism/core/errors';
import { stepsFor } from '@noble-prism/core/preparation/template';
import { titleOf } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import { api } from '../api/client.ts';
import type { Template } from '@noble-prism/wire/job';
import { useJob } from '../stores/job.ts';
import EmptyState from '../parts/EmptyState.vue';
import { changeSteps } from './stepEdits.ts';

const props = defineProps<{ visible: boolean }>();
const emit = defineEmits<{ 'update:visible': [boolean]; given: [] }>();
const store = useJob();
const templates = ref<Template[]>();
const doomed = ref<string>();
const wrong = ref('');

watch(
  () => props.visible,
  (visible) => {
    doomed.value = undefined;
    if (visible) void guarded(load);
  },
);
async function load(): Promise<void> {
  templates.value = await api.templates();
}
async function guarded(work: () => Promise<unknown>): Promise<void> {
  wrong.value = '';
  try {
    await work();
  } catch (thrown) {
    wrong.value = asPrismError(thrown).message;
  }
}

/** `2 Rename, Reduce`. */
function holds({ steps }: Template): string {
  const counts = new Map<string, number>();
  for (const step of steps) counts.set(titleOf(step), (counts.get(titleOf(step)) ?? 0) + 1);
  return [...counts].map(([title, count]) => (count > 1 ? `${count} ${title}` : title)).join(', ');
}

function give({ name, steps, sources }: Template): void {
  const ours = store.sources.map((source) => ({ id: source.id, name: source.name }));
  changeSteps.addAll(stepsFor(steps, sources, ours), `Template ${name} given`.slice(0, 300));
  emit('given');
}
const forEvery = ({ id, every }: Template) =>
  guarded(async () => void (templates.value = await api.changeTemplate(id, { every: !every })));
const remove = ({ id }: Template) => guarded(async () => void (templates.value = await api.deleteTemplate(id)));
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    dismissable-mask
    header="Templates"
    :style="{ width: '720px', maxWidth: '96vw' }"
    @update:visible="emit('update:visible', $event)"
  >
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
    <EmptyState v-if="templates && !templates.length">
      None yet. Choose steps in the sheet of steps (S) and keep them as a template.
    </EmptyState>
    <ul v-else>
      <li v-for="template in templates" :key="template.id">
        <div class="what">
          <strong class="clip">{{ template.name }}</strong>
          <p class="quiet">{{ counted(template.steps.length, 'step') }}: {{ holds(template) }}</p>
          <p v-if="doomed === template.id" role="alert">
            Jobs that were given it keep their steps.
            <button class="act danger" @click="remove(template)">Delete {{ template.name }}</button>
            <button class="act" @click="doomed = undefined">Keep</button>
          </p>
        </div>
        <label class="every"
          ><input type="checkbox" :checked="template.every" @change="forEvery(template)" /> every new job</label
        >
        <button class="act" :aria-label="`Give ${template.name} to this job`" @click="give(template)">
          Give to this job
        </button>
        <button
          class="plain"
          :aria-label="`Delete ${template.name}`"
          @click="doomed = doomed === template.id ? undefined : template.id"
        >
          Delete…
        </button>
      </li>
    </ul>
  </Dialog>
</template>

<style scoped>
li {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule-soft);
}
.what {
  flex: 1;
  min-width: 0;
}
.every {
  display: flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
  color: var(--ink-2);
}
input {
  margin: 0;
}
</style>
