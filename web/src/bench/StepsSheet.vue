<script setup lang="ts">
/** All steps of the job in one table: what each does, to what, with which result; several at once are switched, moved, kept or given away. */
import Dialog from 'primevue/dialog';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { counted, formatCount, formatDuration } from '@noble-prism/core/units';
import { useJob } from '../stores/job.ts';
import DataTable from '../parts/DataTable.vue';
import type { TableColumn } from '../parts/dataTable.ts';
import EmptyState from '../parts/EmptyState.vue';
import GiveSteps from './GiveSteps.vue';
import { stationName } from './stations.ts';
import { changeSteps, openStep } from './stepEdits.ts';
import { linesWith, useStepLines } from './stepLines.ts';
import type { StepLine } from './stepLines.ts';

const props = defineProps<{ visible: boolean }>();
const emit = defineEmits<{ 'update:visible': [boolean] }>();
const store = useJob();
const router = useRouter();
const lines = useStepLines();
const sought = ref('');
const chosen = ref<ReadonlySet<string>>(new Set());
/** The last one chosen: with Shift all between are chosen too. */
let anchor = '';
const giving = ref(false);

const found = computed(() => linesWith(lines.value, sought.value));
/** Chosen and there, in their order. */
const picked = computed(() => lines.value.filter(({ step }) => chosen.value.has(step.id)));
const ids = computed(() => picked.value.map(({ step }) => step.id));
const troubled = computed(() => lines.value.filter(({ troubles }) => troubles.length > 0).length);
watch(
  () => props.visible,
  () => {
    sought.value = '';
    chosen.value = new Set();
    giving.value = false;
  },
);

const COLUMNS: TableColumn<StepLine>[] = [
  { id: 'chosen', title: '', width: '20px' },
  { id: 'number', title: 'No.', width: '34px', figure: true, by: ({ number }) => -number, text: ({ number }) => String(number) },
  { id: 'on', title: 'On', width: '26px' },
  { id: 'title', title: 'Step', width: '104px', by: ({ title }) => title },
  { id: 'station', title: 'Station', width: '72px', by: ({ station }) => station, text: ({ station }) => stationName(station) },
  { id: 'summary', title: 'Does', width: 'minmax(90px, 1.2fr)', by: ({ summary }) => summary, text: ({ summary }) => summary },
  { id: 'rule', title: 'Concerns', width: 'minmax(90px, 1.2fr)', by: ({ rule }) => rule, text: ({ rule }) => rule },
  { id: 'found', title: 'Found, rows', width: '64px', figure: true, by: (line) => reportOf(line)?.matched, text: (line) => count(reportOf(line)?.matched) },
  { id: 'changed', title: 'Changed, rows', width: '64px', figure: true, by: (line) => reportOf(line)?.changed, text: (line) => count(reportOf(line)?.changed) },
  { id: 'triangles', title: 'Triangles after', width: '78px', figure: true, by: ({ triangles }) => triangles, text: ({ triangles }) => count(triangles) },
  { id: 'change', title: 'Change, triangles', width: '74px', figure: true, by: ({ change }) => change, text: ({ change }) => (change ? signed(change) : '') },
  { id: 'time', title: 'Time', width: '62px', figure: true, by: (line) => reportOf(line)?.seconds, text: (line) => took(line) },
  { id: 'troubles', title: 'Problems', width: 'minmax(90px, 1.4fr)', by: ({ troubles }) => troubles.length },
]; // prettier-ignore

const reportOf = ({ report }: StepLine) => (report?.on ? report : undefined);
const count = (value: number | undefined) => (value === undefined ? '' : formatCount(value));
const signed = (value: number) => `${value < 0 ? '−' : '+'}${formatCount(Math.abs(value))}`;
function took(line: StepLine): string {
  const report = reportOf(line);
  if (!report) return '';
  return report.pending > 0 ? 'computing' : formatDuration(report.seconds);
}

function choose(line: StepLine, event: MouseEvent | KeyboardEvent): void {
  // Buttons and boxes in the row do what they say.
  if ((event.target as Element).closest('button, input')) return;
  pick(line, event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'toggle' : 'set');
}
function pick({ step }: StepLine, how: 'set' | 'toggle' | 'range'): void {
  const all = found.value.map((line) => line.step.id);
  if (how === 'range' && all.includes(anchor)) {
    const [from, to] = [all.indexOf(anchor), all.indexOf(step.id)].sort((a, b) => a - b);
    chosen.value = new Set([...chosen.value, ...all.slice(from, to + 1)]);
    return;
  }
  anchor = step.id;
  if (how === 'set') chosen.value = new Set([step.id]);
  else
    chosen.value = new Set(
      chosen.value.has(step.id) ? ids.value.filter((id) => id !== step.id) : [...ids.value, step.id],
    );
}
const allAreChosen = computed(
  () => found.value.length > 0 && found.value.every(({ step }) => chosen.value.has(step.id)),
);
function chooseAll(): void {
  chosen.value = new Set(allAreChosen.value ? [] : found.value.map(({ step }) => step.id));
}

function open({ step, station }: StepLine): void {
  openStep.value = step.id;
  emit('update:visible', false);
  void router.replace({ name: 'bench', params: { job: store.job?.id, station } });
}

function key(event: KeyboardEvent): void {
  if ((event.target as Element).closest('input[type=search]')) return;
  if (event.key === 'Delete') changeSteps.removeAll(ids.value);
  else if (event.altKey && event.key === 'ArrowUp') changeSteps.moveAll(ids.value, -1);
  else if (event.altKey && event.key === 'ArrowDown') changeSteps.moveAll(ids.value, 1);
  else if (event.key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey)) chooseAll();
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <Dialog
    :visible="visible"
    modal
    dismissable-mask
    header="Steps"
    :style="{ width: '1180px', maxWidth: '96vw' }"
    @update:visible="emit('update:visible', $event)"
  >
    <div class="sheet" @keydown="key">
      <div class="bar">
        <span class="line-field">
          <input
            v-model="sought"
            type="search"
            autofocus
            aria-label="Find steps"
            placeholder="Find step, rule, problem…"
          />
        </span>
        <span class="quiet count" role="status"
          >{{
            picked.length
              ? `${counted(picked.length, 'step')} chosen`
              : sought
                ? `${found.length} of ${counted(lines.length, 'step')}`
                : counted(lines.length, 'step')
          }}<template v-if="troubled && !picked.length"
            >, <span class="warn">{{ troubled }} with problems</span></template
          ></span
        >
        <span class="gap" />
        <button class="plain" :disabled="!ids.length" @click="changeSteps.switchAll(ids, true)">Switch on</button>
        <button class="plain" :disabled="!ids.length" @click="changeSteps.switchAll(ids, false)">Switch off</button>
        <button
          class="plain"
          :disabled="!ids.length"
          title="Move earlier (Alt ↑)"
          @click="changeSteps.moveAll(ids, -1)"
        >
          Earlier
        </button>
        <button class="plain" :disabled="!ids.length" title="Move later (Alt ↓)" @click="changeSteps.moveAll(ids, 1)">
          Later
        </button>
        <button class="plain" :disabled="!lines.length" :aria-expanded="giving" @click="giving = !giving">
          {{ ids.length ? 'Keep or give…' : 'Keep or give all…' }}
        </button>
        <button class="plain bad" :disabled="!ids.length" title="Delete (Del)" @click="changeSteps.removeAll(ids)">
          Delete
        </button>
      </div>
      <GiveSteps
        v-if="giving"
        :steps="(picked.length ? picked : lines).map(({ step }) => step)"
        @done="giving = false"
      />
      <EmptyState v-if="!lines.length">No steps: the sources as they came. Add one at a station.</EmptyState>
      <EmptyState v-else-if="!found.length">No step says “{{ sought }}”.</EmptyState>
      <DataTable
        v-else
        label="All steps"
        class="table"
        :columns="COLUMNS"
        :rows="found"
        :key-of="({ step }) => step.id"
        :chosen="chosen"
        :tallest="480"
        @choose="choose"
      >
        <template #head-chosen>
          <input type="checkbox" :checked="allAreChosen" aria-label="Choose all" @change="chooseAll" />
        </template>
        <template #cell-chosen="{ row }">
          <input
            type="checkbox"
            :checked="chosen.has(row.step.id)"
            :aria-label="`Choose ${row.number} ${row.title}`"
            @click="pick(row, $event.shiftKey ? 'range' : 'toggle')"
          />
        </template>
        <template #cell-on="{ row }">
          <input
            type="checkbox"
            :checked="row.step.on"
            :aria-label="`${row.number} ${row.title}: switched on`"
            @change="changeSteps.toggle(row.step.id)"
          />
        </template>
        <template #cell-title="{ row }">
          <button
            class="plain link open"
            :class="{ off: !row.step.on }"
            :title="`Open ${row.title} at its station`"
            @click="open(row)"
          >
            {{ row.title }}
          </button>
        </template>
        <template #cell-troubles="{ row }">
          <span v-if="row.troubles.length" class="warn" :title="row.troubles.join('\n')"
            >{{ row.troubles[0]
            }}<template v-if="row.troubles.length > 1"> (and {{ row.troubles.length - 1 }} more)</template></span
          >
        </template>
      </DataTable>
    </div>
  </Dialog>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: 8px;
  padding: 2px;
}
.bar {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.bar .line-field {
  width: 220px;
}
.count {
  white-space: nowrap;
}
.gap {
  flex: 1;
}
.table {
  --table-sheet: var(--p-dialog-background, var(--raised));
}
input[type='checkbox'] {
  display: block;
  margin: 0;
  width: 12px;
  height: 12px;
}
.open {
  padding: 0;
}
.off {
  text-decoration: line-through;
}
</style>
