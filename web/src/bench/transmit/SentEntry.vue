<script setup lang="ts">
/** A transmittal: what was sent when, what came out of each target, how it reads back, and ways to have it again. */
import { computed, ref } from 'vue';
import { changesBetween } from '@noble-prism/core/transmit/changes';
import type { Change } from '@noble-prism/core/transmit/changes';
import { counted, formatBytes, formatCount } from '@noble-prism/core/units';
import { summaryOfTarget } from '@noble-prism/core/transmit/targets/target';
import type { SentOutput, Transmittal } from '@noble-prism/wire/job';
import { api } from '../../api/client';
import { sentState } from './sentState.ts';

const props = defineProps<{
  sent: Transmittal;
  /** The one before it, of which this is a newer state. */
  before?: Transmittal;
  open: boolean;
}>();
const emit = defineEmits<{ toggle: []; remove: []; again: [] }>();
const doomed = ref(false);
/** What is different from the one before, once somebody asks. */
const changes = ref<Change[]>();
const problem = ref('');
async function compare(): Promise<void> {
  problem.value = '';
  if (changes.value || !props.before) return void (changes.value = undefined);
  try {
    const [before, after] = await Promise.all([props.before, props.sent].map(({ id }) => api.manifest(id)));
    changes.value = changesBetween(before, after);
  } catch (error) {
    problem.value = (error as Error).message;
  }
}
/** Output whose comparison is shown. */
const shown = ref<number>();
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const figure = (text: string) => (Number.isFinite(Number(text)) ? formatCount(Number(text)) : text);
const made = computed(() => when.format(new Date(props.sent.made_at)));
const bytes = computed(() => props.sent.files.reduce((sum, file) => sum + file.bytes, 0));
const state = computed(() => sentState(props.sent));
const stateOf = ({ error, readBack }: SentOutput) =>
  error ? { text: 'not written', tone: 'bad' } : readBack?.holds ? { text: 'read-back ✓', tone: 'good' } : { text: 'read-back ✗', tone: 'bad' }; // prettier-ignore
const fileOf = (name: string) => {
  const number = props.sent.files.findIndex((file) => file.name === name);
  return { href: `/api/transmittals/${props.sent.id}/files/${number}`, bytes: props.sent.files[number]?.bytes ?? 0 };
};
const lostOf = ({ carryOver }: SentOutput) => carryOver?.lines.filter(({ state }) => state === 'lost') ?? [];
const bytesOf = ({ files }: SentOutput) => files.reduce((sum, name) => sum + fileOf(name).bytes, 0);
/** One target stands open by itself: there is nothing to choose. */
const compared = computed(() => (props.sent.outputs.length === 1 ? 0 : shown.value));
</script>

<template>
  <article>
    <header>
      <button class="plain name" :aria-expanded="open" @click="emit('toggle')">
        <strong class="clip" :title="sent.name">{{ sent.name }}</strong>
      </button>
      <span :class="state.tone">{{ state.text }}</span>
    </header>
    <p class="quiet">
      {{ made }} · version {{ sent.version }} ·
      {{ counted(new Set(sent.outputs.map((output) => output.name)).size, 'target') }},
      {{ counted(sent.files.length, 'file') }}, {{ formatBytes(bytes) }}
    </p>
    <template v-if="open">
      <ul>
        <li v-for="(output, i) in sent.outputs" :key="i">
          <div class="output">
            <span class="clip" :title="summaryOfTarget(output.settings)">{{ output.piece ?? output.name }}</span>
            <button
              class="plain"
              :class="stateOf(output).tone"
              :aria-expanded="compared === i"
              :disabled="!!output.error"
              @click="shown = shown === i ? undefined : i"
            >
              {{ stateOf(output).text }}
            </button>
          </div>
          <p v-if="output.error" class="bad small">{{ output.error.message }}</p>
          <p v-else class="quiet small">
            {{ output.triangles ? counted(output.triangles, 'triangle') : counted(output.parts ?? 0, 'part') }},
            {{ formatBytes(bytesOf(output)) }} in
            {{ counted(output.files.length, 'file') }}
          </p>
          <p v-if="!output.error" class="small files">
            <a v-for="name in output.files.slice(0, 4)" :key="name" :href="fileOf(name).href" download>{{ name }}</a>
            <span v-if="output.files.length > 4" class="quiet">and {{ output.files.length - 4 }} more</span>
          </p>
          <p v-if="output.notInFull" class="bad small">{{ output.notInFull.join(' ') }}</p>
          <p v-if="output.overLimits" class="warn small">{{ output.overLimits.join(' ') }}</p>
          <p v-if="lostOf(output).length" class="quiet small">
            Lost:
            {{
              lostOf(output)
                .map(({ title }) => title.toLowerCase())
                .join(', ')
            }}
          </p>
          <table v-if="compared === i && output.readBack">
            <thead>
              <tr>
                <th scope="col">Compared</th>
                <th scope="col" class="figure">Sent</th>
                <th scope="col" class="figure">In the file</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="check in output.readBack.checks" :key="check.what">
                <td>{{ check.what }}<small v-if="check.note" class="quiet">{{ check.note }}</small></td>
                <td class="figure">{{ figure(check.sent) }}</td>
                <td class="figure" :class="check.holds ? 'good' : 'bad'">
                  {{ figure(check.found) }} {{ check.holds ? '✓' : '✗' }}
                </td>
              </tr>
            </tbody>
          </table>
          <ul v-if="compared === i && output.readBack?.differences.length" class="bad small">
            <li v-for="difference in output.readBack.differences" :key="difference">{{ difference }}</li>
          </ul>
        </li>
      </ul>
      <p v-if="sent.folder" class="quiet small">Also in the folder {{ sent.folder }} of the server’s deliveries.</p>
    </template>
    <p class="links">
      <a :href="`/api/transmittals/${sent.id}/file`" download>{{ sent.files.length > 1 ? 'Files' : 'File' }}</a>
      <a :href="`/api/transmittals/${sent.id}/manifest`" download>Manifest</a>
      <a v-if="sent.report" :href="`/api/transmittals/${sent.id}/report`" download>Report</a>
      <button v-if="before" class="plain" :aria-expanded="!!changes" @click="compare">What changed</button>
      <button class="plain" :aria-label="`Send ${sent.name} again`" @click="emit('again')">Send again</button>
      <button class="plain" :aria-label="`Delete ${sent.name} of ${made}`" @click="doomed = !doomed">Delete…</button>
    </p>
    <div v-if="changes" class="changes small">
      <p class="quiet">Since {{ before?.name }} of {{ before && when.format(new Date(before.made_at)) }}:</p>
      <p v-if="!changes.length">Nothing: the same sources, steps and parts.</p>
      <dl v-for="{ what, items, more } in changes" :key="what">
        <dt>{{ what }}</dt>
        <dd v-for="item in items" :key="item">{{ item }}</dd>
        <dd v-if="more" class="quiet">and {{ more }} more</dd>
      </dl>
    </div>
    <p v-if="problem" class="bad small" role="alert">{{ problem }}</p>
    <p v-if="doomed" class="note" role="alert">
      The files and the manifest go for good.
      <button class="act danger" @click="emit('remove')">Delete</button>
      <button class="act" @click="doomed = false">Keep</button>
    </p>
  </article>
</template>

<style scoped>
article {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-soft);
}
header,
.output {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: baseline;
}
.name {
  padding: 0;
  min-width: 0;
  text-align: left;
}
.output > .clip {
  flex: 1;
}
.small,
article > .quiet {
  font-size: 12px;
}
.output .plain {
  padding: 0;
  text-decoration: underline;
}
.output .plain:disabled {
  text-decoration: none;
}
li {
  padding: 3px 0;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  overflow-wrap: anywhere;
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: baseline;
  margin-top: 2px;
}
.links .plain,
a {
  color: var(--iris);
  text-decoration: underline;
  padding: 0;
}
.note {
  font-size: 12px;
}
.changes {
  margin: 4px 0;
  overflow-wrap: anywhere;
}
.changes dt {
  color: var(--ink-2);
  margin-top: 4px;
}
.changes dd {
  margin: 0 0 0 10px;
}
small {
  display: block;
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
