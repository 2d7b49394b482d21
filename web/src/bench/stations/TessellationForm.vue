<script setup lang="ts">
/** How the solids are tessellated: purposes, limits, rules for some parts, the forecast, and what was measured afterwards. */
import Select from 'primevue/select';
import { computed, defineAsyncComponent, ref } from 'vue';
import { stepKind } from '@noble-prism/core/steps/kinds';
import { SHARE_LIMITS, TESSELLATION_PRESETS } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { forecastAt } from '@noble-prism/core/preparation/forecast';
import { asTessellated, measuredParts } from '@noble-prism/core/scene/measured';
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import { describeSelector, select } from '@noble-prism/core/select/select';
import { formatAngle, formatCount, formatDeviation } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import LengthRow from '../LengthRow.vue';
import MeasuredTable from '../MeasuredTable.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { openStep } from '../stepEdits.ts';
import { useStepForm } from '../stepForm.ts';

// Charts are heavy, and most visits draw none.
const ForecastChart = defineAsyncComponent(() => import('./ForecastChart.vue'));
const CompareSettings = defineAsyncComponent(() => import('./CompareSettings.vue'));

const store = useJob();
const selection = useSelection();
const form = useStepForm<TessellateParameters>('tessellate', { followSelection: false, single: true });

/** Later rules have the last word on the parts that they name. */
const rules = computed(() => store.steps.filter((step) => step.kind === 'tessellate'));

const asking = computed(() => store.openTasks.some(({ kind }) => kind === 'forecast'));
const hasSolids = computed(() => store.base.nodes.some((node) => node.solid));
const forecastNow = computed(() => store.forecast && forecastAt(store.forecast, form.parameters.chord));
const isStale = computed(() => !store.forecast || Math.abs(store.forecast.angle - form.parameters.angle) > 1e-6);

/** What can be limited besides the deviation; empty means not at all. */
const EDGES = [
  { edge: 'shortest', label: 'Edges from', hint: 'Shorter edges are joined, even beyond the chord deviation', max: 10 },
  { edge: 'longest', label: 'Edges up to', hint: 'Longer edges are divided', max: 1000 },
] as const;

const measured = computed(() => measuredParts(store.scene, (mesh) => asTessellated(store.scene, mesh).exact?.max));
const exactOf = ({ figures }: MeasuredParts) => asTessellated(store.scene, figures).exact ?? { max: 0, chord: 0 };
/** More than the last digit shown over what was allowed. */
const isBeyond = (part: MeasuredParts) => exactOf(part).max > exactOf(part).chord * 1.001;
const beyond = computed(() => measured.value.filter(isBeyond).length);
const measuredFigures = (part: MeasuredParts) => [
  formatDeviation(exactOf(part).max),
  formatDeviation(exactOf(part).chord),
];

/** The part to compare settings on: the first selected one that has a solid. */
const comparable = computed(() => {
  const { nodes } = store.scene;
  for (const row of selection.parts) if (nodes.columns.solid[row] > 0) return nodes.row(row);
  return undefined;
});
const comparing = ref(false);
/** Limits that the part was tessellated with: those of the last rule that names it. */
const limitsNow = computed(() => {
  const part = comparable.value;
  return rules.value.findLast((rule) => part && rule.on && select(store.scene, rule.selector).has(part.id))
    ?.parameters as TessellateParameters | undefined;
});
function take(parameters: TessellateParameters): void {
  for (const key of ['share', 'least', 'most', 'shortest', 'longest'] as const) delete form.parameters[key];
  Object.assign(form.parameters, parameters);
  comparing.value = false;
}

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
  if (found) for (const key of ['share', 'least', 'most', 'shortest', 'longest'] as const) delete form.parameters[key];
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
function limitEdge(edge: 'shortest' | 'longest', length: number | undefined): void {
  own({ [edge]: length });
  if (length === undefined) delete form.parameters[edge];
}
</script>

<template>
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
    <LengthRow
      v-for="{ edge, label, hint, max } in EDGES"
      :id="edge"
      :key="edge"
      :label="label"
      :hint="hint"
      unit="mm"
      optional
      :min="1e-5"
      :max="max"
      :model-value="form.parameters[edge]"
      @update:model-value="limitEdge(edge, $event)"
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
    <button
      class="plain link compare"
      :disabled="!comparable"
      :title="comparable ? undefined : 'Select a part that is a solid'"
      @click="comparing = true"
    >
      {{ comparable ? `Compare two settings on ${comparable.name} …` : 'Compare two settings on a selected part …' }}
    </button>
    <CompareSettings
      v-if="comparing && comparable"
      :part="comparable"
      :form="form.parameters"
      :now="limitsNow"
      @close="comparing = false"
      @take="take"
    />
  </div>
  <div v-if="measured.length" class="section">
    <p class="caps">Measured from the exact surfaces</p>
    <p :class="beyond ? 'warn' : 'quiet'">
      {{
        beyond
          ? `${formatCount(beyond)} of ${formatCount(measured.length)} exceed their limit.`
          : `All ${formatCount(measured.length)} within their limit; worst first.`
      }}
    </p>
    <MeasuredTable :parts="measured" :heads="['max, mm', 'limit, mm']" :figures="measuredFigures" :beyond="isBeyond" />
  </div>
</template>

<style scoped>
.forecast {
  text-align: right;
}
.link {
  color: var(--iris);
}
.compare {
  margin: 8px 0 0 -4px;
  text-align: left;
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
</style>
