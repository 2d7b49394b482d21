<script setup lang="ts">
import Select from 'primevue/select';
import { computed, defineAsyncComponent, ref } from 'vue';
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { stepKind } from '@noble-prism/core/steps/kinds';
import { SHARE_LIMITS, TESSELLATION_PRESETS } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { forecastAt } from '@noble-prism/core/preparation/forecast';
import { formatAngle, formatBytes, formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import LengthRow from '../LengthRow.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { describeSelector } from '../describe.ts';
import { openStep } from '../stepEdits.ts';
import { useStepForm } from '../stepForm.ts';
import SourceSheet from './SourceSheet.vue';

// Charts are heavy, and most visits draw none.
const ForecastChart = defineAsyncComponent(() => import('./ForecastChart.vue'));

const store = useJob();
const chooser = ref<HTMLInputElement>();
const form = useStepForm<TessellateParameters>('tessellate', { followSelection: false, single: true });

/** Later rules have the last word on the parts that they name. */
const rules = computed(() => store.steps.filter((step) => step.kind === 'tessellate'));

const asking = computed(() => store.openTasks.some(({ kind }) => kind === 'forecast'));
const hasSolids = computed(() => store.base.nodes.some((node) => node.solid));
const forecastNow = computed(() => store.forecast && forecastAt(store.forecast, form.parameters.chord));
const isStale = computed(() => !store.forecast || Math.abs(store.forecast.angle - form.parameters.angle) > 1e-6);

/** What a share of the size is kept within. */
const ENDS = [
  { end: 'least', label: 'Not below', hint: 'Never finer than this' },
  { end: 'most', label: 'Not above', hint: 'Never coarser than this' },
] as const;

const presets = computed(() => [
  ...TESSELLATION_PRESETS.map(({ preset, title, purpose }) => ({ preset, title, purpose })),
  { preset: 'own', title: 'Own values', purpose: '' },
]);
function choosePreset(name: string): void {
  const found = TESSELLATION_PRESETS.find((preset) => preset.preset === name);
  Object.assign(
    form.parameters,
    found ? { preset: found.preset, chord: found.chord, angle: found.angle } : { preset: 'own' },
  );
  if (found) for (const key of ['share', 'least', 'most'] as const) delete form.parameters[key];
}
function limitBy(way: 'length' | 'share'): void {
  if (way === 'share') own({ ...SHARE_LIMITS });
  else {
    own({});
    for (const key of ['share', 'least', 'most'] as const) delete form.parameters[key];
  }
}
function own(change: Partial<TessellateParameters>): void {
  Object.assign(form.parameters, change, { preset: 'own' });
}

function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  void store.receive([...(input.files ?? [])].map((file) => ({ path: file.name, file })));
  input.value = '';
}
</script>

<template>
  <div class="section">
    <p class="caps">Sources</p>
    <p v-if="!store.sources.length" class="quiet">
      None yet. Drop models anywhere: one file, many, a folder or a zip. A mesh, its material file and its pictures
      belong together.
    </p>
    <SourceSheet v-for="source in store.sources" :key="source.id" :source="source" />
    <p v-for="entry in store.uploads" :key="entry.number" class="upload">
      {{ entry.name }} <span class="quiet">{{ formatBytes(entry.sent) }} of {{ formatBytes(entry.total) }}</span>
      <button class="plain" @click="entry.cancel()">Cancel</button>
    </p>
    <input
      ref="chooser"
      type="file"
      multiple
      :accept="READABLE_ENDINGS"
      class="visually-hidden"
      aria-label="Choose files"
      tabindex="-1"
      @change="choose"
    />
    <button class="act" :class="{ first: !store.sources.length }" @click="chooser?.click()">Choose files…</button>
  </div>

  <div class="section">
    <p class="caps">Tessellation</p>
    <ul v-if="rules.length > 1" class="rules">
      <li v-for="rule in rules" :key="rule.id">
        <button class="plain" :aria-pressed="form.editing.value?.id === rule.id" @click="openStep = rule.id">
          {{ describeSelector(rule.selector) }}</button><span class="quiet">{{
          stepKind('tessellate').summary(rule.parameters)
        }}</span>
      </li>
    </ul>
    <div class="row">
      <label id="preset-label" for="preset">Purpose</label>
      <Select
        label-id="preset"
        aria-labelledby="preset-label"
        :model-value="form.parameters.preset"
        :options="presets"
        option-value="preset"
        option-label="title"
        @update:model-value="choosePreset"
      >
        <template #option="{ option }"
          ><span
            >{{ option.title }} <span class="quiet">{{ option.purpose }}</span></span
          ></template
        >
      </Select>
    </div>
    <div class="row">
      <label id="by-label" for="by">Limit by</label>
      <Select
        label-id="by"
        aria-labelledby="by-label"
        :model-value="form.parameters.share === undefined ? 'length' : 'share'"
        :options="[
          { value: 'length', label: 'one chord deviation' },
          { value: 'share', label: 'share of each part’s size' },
        ]"
        option-value="value"
        option-label="label"
        @update:model-value="limitBy"
      />
    </div>
    <template v-if="form.parameters.share !== undefined">
      <LengthRow
        id="share"
        label="Share"
        hint="Chord deviation as a share of the largest side of each part"
        unit="%"
        :min="1e-6"
        :max="0.1"
        :model-value="form.parameters.share"
        @update:model-value="own({ share: $event })"
      />
      <LengthRow
        v-for="{ end, label, hint } in ENDS"
        :id="end"
        :key="end"
        :label="label"
        :hint="hint"
        unit="mm"
        :min="1e-6"
        :max="1"
        :model-value="form.parameters[end] ?? SHARE_LIMITS[end]"
        @update:model-value="own({ [end]: $event })"
      />
    </template>
    <LengthRow
      v-else
      id="chord"
      label="Chord dev."
      hint="Largest distance between a triangle and the exact surface"
      unit="mm"
      :min="1e-6"
      :max="1"
      :model-value="form.parameters.chord"
      @update:model-value="own({ chord: $event })"
    />
    <LengthRow
      id="angle"
      label="Angle"
      hint="Largest turn between neighbouring triangles"
      unit="°"
      :min="0.017"
      :max="1.572"
      :model-value="form.parameters.angle"
      @update:model-value="own({ angle: $event })"
    />
    <div class="row">
      <label id="tessellate-scope-label" for="tessellate-scope">Concerns</label>
      <ScopeField id="tessellate-scope" :model-value="form.selector.value" @update:model-value="form.choose" />
    </div>
    <div class="row">
      <span class="label">Forecast</span>
      <span class="forecast">
        <template v-if="asking">counting …</template>
        <template v-else-if="form.parameters.share !== undefined">for one chord deviation only</template>
        <template v-else-if="store.forecast && forecastNow !== undefined">
          about {{ formatCount(forecastNow) }} triangles
        </template>
        <template v-else-if="store.forecast">outside the curve</template>
        <button
          v-if="!asking && isStale && form.parameters.share === undefined"
          class="plain link"
          :disabled="!hasSolids"
          @click="store.askForecast(form.parameters.angle)"
        >
          {{ store.forecast ? 'again for this angle' : 'draw the curve' }}
        </button>
      </span>
    </div>
    <template v-if="store.forecast?.points.length && form.parameters.share === undefined">
      <ForecastChart :forecast="store.forecast" :chord="form.parameters.chord" @choose="own({ chord: $event })" />
      <p class="quiet">
        All solids at one limit and {{ formatAngle(store.forecast.angle) }}, before any reduction; from
        {{ store.forecast.sampled }} of {{ formatCount(store.forecast.solids) }} solids, which stand for
        {{ Math.round(store.forecast.share * 100) }} %. Click the curve to take a limit.
      </p>
    </template>
    <StepActions
      :editing="form.editing.value"
      :report="form.report.value"
      :changed="form.changed.value"
      :error="form.error.value"
      add="Tessellate"
      closable
      another="Other limits for some"
      @save="form.save"
      @close="form.close"
    />
  </div>
</template>

<style scoped>
.forecast {
  text-align: right;
}
.link {
  color: var(--iris);
}
.rules {
  margin-bottom: 8px;
}
.rules li {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
  min-height: 24px;
}
.rules [aria-pressed='true'] {
  font-weight: 600;
}
.upload {
  margin-bottom: 8px;
}
</style>
