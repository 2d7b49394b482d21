<script setup lang="ts">
/** The schedule as a file: saved as CSV or JSON, and one that was saved looked at before it is taken. */
import { computed, ref, shallowRef } from 'vue';
import { signing } from '@noble-prism/core/preparation/equals';
import { LARGEST_SCHEDULE, readSchedule, scheduleCsv, scheduleJson } from '@noble-prism/core/finish/scheduleFile';
import { Schedule } from '@noble-prism/core/finish/schedule';
import { ALL, select } from '@noble-prism/core/select/select';
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import { counted } from '@noble-prism/core/units';
import FileButton from '../../parts/FileButton.vue';
import { saveFile } from '../../parts/saveFile.ts';
import { useJob } from '../../stores/job.ts';
import { useLibrary } from '../../stores/library.ts';
import { useKnown } from '../known.ts';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule }>();
const store = useJob();
const known = useKnown();
const library = useLibrary();

const error = ref('');
const read = shallowRef<{ file: string; rules: FinishRule[]; idle: FinishRule[] }>();
/** Own materials are called by their names in files, as all others are. */
const own = computed(() => Object.fromEntries(library.own.map(({ material }) => [material.id, material])));
const named = computed(() => ({ materials: { ...store.base.materials, ...own.value }, sources: store.base.sources.map((source) => ({ ...source, name: known.source(source.id) })) })); // prettier-ignore

const fileName = (ending: string) => `${store.job?.name ?? 'job'}, finishes.${ending}`;
function exportAs(ending: 'csv' | 'json'): void {
  const { rules, counts } = props.schedule;
  const text =
    ending === 'csv'
      ? // Programs for tables take UTF-8 for what it is where a byte order mark says so.
        `\ufeff${scheduleCsv(rules.value, named.value, counts.value?.lines)}`
      : scheduleJson(rules.value, named.value.sources, signing(store.base));
  saveFile(fileName(ending), ending === 'csv' ? 'text/csv' : 'application/json', text);
}

async function take([chosen]: { file: File }[]): Promise<void> {
  error.value = '';
  read.value = undefined;
  if (!chosen) return;
  const { file } = chosen;
  try {
    if (file.size > LARGEST_SCHEDULE) throw new Error(`It has more than ${LARGEST_SCHEDULE / 1e6} MB.`);
    const rules = readSchedule(new TextDecoder().decode(await file.arrayBuffer()), named.value);
    const { before } = props.schedule;
    const { lines } = new Schedule(before.value, select(before.value, ALL), rules);
    read.value = { file: file.name, rules, idle: rules.filter((rule, i) => rule.on !== false && lines[i].parts === 0) };
  } catch (thrown) {
    error.value = `${file.name}: ${(thrown as Error).message} Nothing was taken.`;
  }
}

function apply(how: 'below' | 'instead'): void {
  const taken = read.value;
  if (!taken) return;
  const note = `${counted(taken.rules.length, 'rule')} of ${taken.file} ${how === 'below' ? 'added' : 'taken instead'}`;
  props.schedule.change(note, (rules) => (how === 'below' ? [...rules, ...taken.rules] : taken.rules));
  read.value = undefined;
}
</script>

<template>
  <div class="files">
    <button class="plain link" :disabled="!schedule.rules.value.length" @click="exportAs('csv')">Save as CSV</button>
    <button class="plain link" :disabled="!schedule.rules.value.length" @click="exportAs('json')">Save as JSON</button>
    <FileButton label="A finish schedule" accept=".csv,.tsv,.txt,.json" look="plain link" @choose="take"
      >Open a file…</FileButton
    >
  </div>
  <p v-if="error" class="bad" role="alert">{{ error }}</p>
  <section v-if="read" class="read" aria-label="Schedule from a file">
    <p>
      <b>{{ read.file }}</b> has {{ counted(read.rules.length, 'rule') }}.
      <span v-if="read.idle.length" class="warn">
        {{ counted(read.idle.length, 'of them is', 'of them are') }} on no part here:
        {{
          read.idle
            .slice(0, 4)
            .map(({ which }) => known.rule(which))
            .join('; ')
        }}{{ read.idle.length > 4 ? ' …' : '' }}
      </span>
    </p>
    <div class="buttons">
      <button class="act first" @click="apply('below')">Add below</button>
      <button class="act" @click="apply('instead')">Take instead of all rules</button>
      <button class="act" @click="read = undefined">Cancel</button>
    </div>
  </section>
</template>

<style scoped>
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  font-size: 12px;
}
.read {
  margin-top: 6px;
  font-size: 12px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 6px;
}
</style>
