<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { impossibleSize } from '@noble-prism/core/scene/plausible';
import { PART } from '@noble-prism/core/scene/nodes';
import { transformPoint } from '@noble-prism/core/scene/matrix';
import { intoCoordinates } from '@noble-prism/core/scene/origin';
import type { Coordinates } from '@noble-prism/core/scene/origin';
import { takeOff } from '@noble-prism/core/scene/facts';
import { worldBox } from '@noble-prism/core/scene/tree';
import { counted, formatBytes, formatCount, formatLength } from '@noble-prism/core/units';
import { WRITERS } from '@noble-prism/core/write/formats';
import { titleOf } from '@noble-prism/core/steps/kinds';
import type { Transmittal } from '@noble-prism/wire/job';
import ChoiceField from '../../parts/ChoiceField.vue';
import EmptyState from '../../parts/EmptyState.vue';
import FormRow from '../../parts/FormRow.vue';
import PanelSection from '../../parts/PanelSection.vue';
import ProgressLine from '../../parts/ProgressLine.vue';
import { useJob } from '../../stores/job.ts';
import { openStep } from '../stepEdits.ts';
import { troublesOf } from '../stepTroubles.ts';

const store = useJob();
const target = ref<string | undefined>(WRITERS[0].target);
const name = ref('');
const opened = ref<string>();
/** The transmittal that is about to be deleted, until that is confirmed. */
const doomed = ref<string>();
const figure = (text: string) => (Number.isFinite(Number(text)) ? formatCount(Number(text)) : text);
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
/** Which coordinates the files are in: asked only where the job has others than its own. */
const coordinates = ref<string | undefined>('local');
const frames = computed(() => {
  const { offset, map } = store.scene.origin ?? {};
  return [
    { value: 'local', label: 'of the job' },
    ...(offset ? [{ value: 'restored', label: 'as received, offset put back' }] : []),
    ...(map ? [{ value: 'map', label: 'of the map' }] : []),
  ];
});
const chosenFrame = computed(
  () => (frames.value.find(({ value }) => value === coordinates.value) ?? frames.value[0]).value as Coordinates,
);
/** Where the origin of the job comes to lie in the files. */
const lies = computed(() => {
  const at = transformPoint(intoCoordinates(store.scene.origin ?? {}, chosenFrame.value), [0, 0, 0]);
  return at.map((value, i) => `${'xyz'[i]} ${formatLength(value, 'm', 11)}`).join(', ');
});
const targets = WRITERS.map((writer) => ({ value: writer.target, label: `${writer.title} (.${writer.ending})` }));

watch(
  () => store.job?.id,
  () => (name.value = store.job?.name ?? ''),
  { immediate: true },
);
/** What is downloaded: its file, or a zip of several. */
const fileOf = ({ name, files }: Transmittal) => (files.length > 1 ? `${name}.zip` : files[0].name);
const bytesOf = ({ files }: Transmittal) => files.reduce((sum, { bytes }) => sum + bytes, 0);
const figures = computed(() => takeOff(store.scene));
/** What is sent, in the unit and with the axis of the format. */
const holds = computed(() => {
  const { parts, triangles, materials } = figures.value;
  const writer = WRITERS.find((candidate) => candidate.target === target.value);
  const way = writer ? `; ${writer.unit.name === 'm' ? 'metres' : writer.unit.name}, ${writer.upAxis} up` : '';
  return `${counted(parts, 'part')}, ${counted(triangles, 'triangle')}, ${counted(materials, 'material')}${way}`;
});
const waiting = computed(() => store.evaluation?.missing ?? 0);
const upright = computed(() => store.scene.sources.filter((source) => source.up !== 'y').map((source) => source.name));
const task = computed(() => store.openTasks.find((candidate) => candidate.kind === 'transmit'));
const failed = computed(() => {
  const last = store.job?.tasks.filter((candidate) => candidate.kind === 'transmit').at(-1);
  return last?.state === 'failed' ? last.error : undefined;
});
/** Steps that find nothing, or could not do what they were to do. */
const troubled = computed(() =>
  store.steps.flatMap((step) => {
    const report = store.evaluation?.reports.find(({ id }) => id === step.id);
    const words = troublesOf(report, store.base.nodes.length === 0);
    return words.length > 0 ? [{ id: step.id, title: titleOf(step), words }] : [];
  }),
);
/** A box that cannot be is said before it is sent, not only where it was received. */
const impossible = computed(() => {
  const box = worldBox(store.scene);
  return box && impossibleSize(box);
});
const missing = computed(() => {
  const { nodes } = store.scene;
  const { kind, mesh } = nodes.columns;
  const rows: number[] = [];
  for (let row = 0; row < nodes.rows; row++) if (kind[row] === PART && mesh[row] === 0) rows.push(row);
  return rows.map((row) => nodes.row(row));
});
// The newest result stands open: that is what one waits for.
watch(
  () => store.job?.transmittals[0]?.id,
  (id, before) => {
    if (before !== undefined || store.job?.transmittals.length === 1) opened.value = id;
  },
  { immediate: true },
);
</script>

<template>
  <PanelSection title="Send">
    <FormRow id="target" label="Format">
      <ChoiceField id="target" v-model="target" :choices="targets" />
    </FormRow>
    <FormRow id="send-name" label="Name">
      <span class="line-field"><input id="send-name" v-model="name" maxlength="200" autocomplete="off" /></span>
    </FormRow>
    <template v-if="frames.length > 1">
      <FormRow id="send-coordinates" label="Coordinates">
        <ChoiceField
          id="send-coordinates"
          :model-value="chosenFrame"
          :choices="frames"
          @update:model-value="coordinates = $event"
        />
      </FormRow>
      <FormRow label="Origin at">
        <span>{{ lies }}</span>
      </FormRow>
      <p v-if="chosenFrame !== 'local'" class="quiet note">
        Kept in doubles in the file; a tool that works with floats may show such places shaking.
      </p>
    </template>
    <FormRow label="Holds">
      <span>{{ holds }}</span>
    </FormRow>
    <p v-if="waiting" class="quiet note">
      {{ formatCount(waiting) }} meshes are still being computed; sending waits for them.
    </p>
    <p v-else-if="missing.length && figures.parts" class="warn note">
      {{ formatCount(missing.length) }} parts have no triangles and will be empty rows:
      {{
        missing
          .slice(0, 3)
          .map((node) => node.name)
          .join(', ')
      }}
    </p>
    <p v-if="upright.length" class="warn note">
      {{ upright.join(', ') }}: still z up. The receiving tool will show it lying on its back; turn it in Arrange.
    </p>
    <template v-if="troubled.length">
      <p class="warn note">{{ troubled.length === 1 ? 'A step is' : `${troubled.length} steps are` }} not as meant:</p>
      <ul class="warn note troubles">
        <li v-for="{ id, title, words } in troubled" :key="id">
          <button class="plain link" @click="openStep = id">{{ title }}</button>: {{ words[0]
          }}<template v-if="words.length > 1"> (and {{ words.length - 1 }} more)</template>
        </li>
      </ul>
    </template>
    <p v-if="impossible" class="bad note" role="alert">{{ impossible }}</p>
    <div class="actions">
      <button
        class="act first"
        :disabled="!name.trim() || !!task || figures.parts === 0"
        @click="target && store.send({ target, name: name.trim(), coordinates: chosenFrame })"
      >
        Send
      </button>
    </div>
    <ProgressLine v-if="task" :what="task.progress?.what ?? 'Waiting for the worker'" @cancel="store.cancel(task.id)" />
    <p v-if="failed && !task" class="bad note" role="alert">{{ failed.message }}</p>
  </PanelSection>
  <PanelSection title="Sent">
    <EmptyState v-if="!store.job?.transmittals.length">
      Nothing yet. Each file is read back after it is written and compared with what was sent.
    </EmptyState>
    <article v-for="sent in store.job?.transmittals" :key="sent.id">
      <header>
        <strong :title="fileOf(sent)">{{ fileOf(sent) }}</strong>
        <span :class="sent.read_back.holds ? 'good' : 'bad'">{{ sent.read_back.holds ? 'holds' : 'differs' }}</span>
      </header>
      <p class="quiet">
        {{ when.format(new Date(sent.made_at)) }}, version {{ sent.version }} · {{ formatBytes(bytesOf(sent)) }},
        {{ formatCount(sent.triangles) }} triangles
      </p>
      <p class="links">
        <a :href="`/api/transmittals/${sent.id}/file`" :download="fileOf(sent)">{{
          sent.files.length > 1 ? 'Files' : 'File'
        }}</a>
        <a :href="`/api/transmittals/${sent.id}/manifest`" download>Manifest</a>
        <button
          class="plain"
          :aria-expanded="opened === sent.id"
          @click="opened = opened === sent.id ? undefined : sent.id"
        >
          Read-back
        </button>
        <button
          class="plain"
          :aria-label="`Delete ${fileOf(sent)} of ${when.format(new Date(sent.made_at))}`"
          @click="doomed = doomed === sent.id ? undefined : sent.id"
        >
          Delete…
        </button>
      </p>
      <p v-if="doomed === sent.id" class="note" role="alert">
        The file and its manifest go for good.
        <button class="act danger" @click="store.deleteTransmittal(sent.id)">Delete</button>
        <button class="act" @click="doomed = undefined">Keep</button>
      </p>
      <table v-if="opened === sent.id">
        <thead>
          <tr>
            <th scope="col">Compared</th>
            <th scope="col" class="figure">Sent</th>
            <th scope="col" class="figure">In the file</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="check in sent.read_back.checks" :key="check.what">
            <td>
              {{ check.what }}<small v-if="check.note" class="quiet">{{ check.note }}</small>
            </td>
            <td class="figure">{{ figure(check.sent) }}</td>
            <td class="figure" :class="check.holds ? 'good' : 'bad'">
              {{ figure(check.found) }} {{ check.holds ? '✓' : '✗' }}
            </td>
          </tr>
        </tbody>
      </table>
      <ul v-if="opened === sent.id && sent.read_back.differences.length" class="bad note">
        <li v-for="difference in sent.read_back.differences" :key="difference">{{ difference }}</li>
      </ul>
    </article>
  </PanelSection>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 10px;
}
.note {
  margin-top: 6px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
article {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-soft);
}
header {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
strong {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
article .quiet {
  font-size: 12px;
}
small {
  display: block;
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: baseline;
}
.links .plain {
  color: var(--iris);
  text-decoration: underline;
  padding: 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
  margin-top: 4px;
}
th {
  font-weight: 400;
  color: var(--ink-2);
  text-align: left;
}
th.figure {
  text-align: right;
}
td {
  border-top: 1px solid var(--rule-soft);
  padding: 2px 0;
}
</style>
