<script setup lang="ts">
/** How the solids are tessellated: purposes, limits, rules for some parts, the forecast, and what was measured afterwards. */
import { computed, defineAsyncComponent, ref } from 'vue';
import { SHARE_LIMITS, TESSELLATION_PRESETS, tessellateStep } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { forecastAt } from '@noble-prism/core/preparation/forecast';
import { asTessellated, measuredParts } from '@noble-prism/core/scene/measured';
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import type { ExactDeviation } from '@noble-prism/core/scene/types';
import { select } from '@noble-prism/core/select/select';
import { formatAngle, formatCount, formatDeviation } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import type { Field } from '@noble-prism/core/fields/field';
import ChoiceField from '../../parts/ChoiceField.vue';
import FieldRow from '../../parts/FieldRow.vue';
import FormRow from '../../parts/FormRow.vue';
import MeasuredTable from '../../parts/MeasuredTable.vue';
import type { Figure } from '../../parts/MeasuredTable.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { useKnown } from '../known.ts';
import { openStep } from '../stepEdits.ts';
import { useStepForm } from '../stepForm.ts';

// Charts are heavy, and most visits draw none.
const ForecastChart = defineAsyncComponent(() => import('../stations/ForecastChart.vue'));
const CompareSettings = defineAsyncComponent(() => import('../stations/CompareSettings.vue'));

const store = useJob();
const selection = useSelection();
const form = useStepForm<TessellateParameters>('tessellate', { single: true });
const known = useKnown();

/** Later rules have the last word on the parts that they name. */
const rules = computed(() => store.steps.filter((step) => step.kind === 'tessellate'));

const asking = computed(() => store.openTasks.some(({ kind }) => kind === 'forecast'));
const hasSolids = computed(() => store.base.nodes.some((node) => node.solid));
const forecastNow = computed(() => store.forecast && forecastAt(store.forecast, form.parameters.chord));
const isStale = computed(() => !store.forecast || Math.abs(store.forecast.angle - form.parameters.angle) > 1e-6);

/** The limits, as the kind says them; the purpose stands above, with the ready-made ones. */
const limits = computed(() =>
  (Object.entries(tessellateStep.fields) as [keyof TessellateParameters, Field<TessellateParameters>][]).filter(
    ([name, field]) => name !== 'preset' && (field.when?.(form.parameters) ?? true),
  ),
);

const measured = computed(() => measuredParts(store.scene, (mesh) => asTessellated(store.scene, mesh).exact?.max));
/** As it stands in the job, metres. */
function exactOf({ figures, stretch }: MeasuredParts): ExactDeviation {
  const { max, chord } = asTessellated(store.scene, figures).exact ?? { max: 0, chord: 0 };
  return { max: max * stretch, chord: chord * stretch };
}
/** More than the last digit shown over what was allowed. */
const isBeyond = (part: MeasuredParts) => exactOf(part).max > exactOf(part).chord * 1.001;
const beyond = computed(() => measured.value.filter(isBeyond).length);
const FIGURES: readonly Figure[] = [
  {
    id: 'max',
    title: 'max, mm',
    value: (part) => exactOf(part).max,
    text: (part) => formatDeviation(exactOf(part).max),
  },
  {
    id: 'limit',
    title: 'limit, mm',
    value: (part) => exactOf(part).chord,
    text: (part) => formatDeviation(exactOf(part).chord),
  },
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

const presets = computed(() => [
  ...TESSELLATION_PRESETS.map(({ preset, title, purpose }) => ({ value: preset, label: title, note: purpose })),
  { value: 'own', label: 'Own values' },
]);
function choosePreset(name: string | undefined): void {
  const found = TESSELLATION_PRESETS.find((preset) => preset.preset === name);
  Object.assign(
    form.parameters,
    found ? { preset: found.preset, chord: found.chord, angle: found.angle } : { preset: 'own' },
  );
  if (found) for (const key of ['share', 'least', 'most', 'shortest', 'longest'] as const) delete form.parameters[key];
}
function limitBy(way: 'length' | 'share' | undefined): void {
  if (way === 'share') own({ ...SHARE_LIMITS });
  else {
    own({});
    for (const key of ['share', 'least', 'most'] as const) delete form.parameters[key];
  }
}
function own(change: Partial<TessellateParameters>): void {
  Object.assign(form.parameters, change, { preset: 'own' });
}
function limit(name: string, value: unknown): void {
  own({});
  form.set(name, value);
}
const WAYS = [
  { value: 'length', label: 'one chord deviation' },
  { value: 'share', label: 'share of each part’s size' },
] as const;
</script>

<template>
  <ul v-if="rules.length > 1" class="rules">
    <li v-for="rule in rules" :key="rule.id">
      <button class="plain" :aria-pressed="form.editing.value?.id === rule.id" @click="openStep = rule.id">
        {{ known.rule(rule.selector) }}</button
      ><span class="quiet">{{ tessellateStep.summary(rule.parameters as TessellateParameters) }}</span>
    </li>
  </ul>
  <FormRow id="preset" label="Purpose">
    <ChoiceField
      id="preset"
      :model-value="form.parameters.preset"
      :choices="presets"
      @update:model-value="choosePreset"
    />
  </FormRow>
  <FormRow id="by" label="Limit by">
    <ChoiceField
      id="by"
      :model-value="form.parameters.share === undefined ? 'length' : 'share'"
      :choices="WAYS"
      @update:model-value="limitBy"
    />
  </FormRow>
  <FieldRow
    v-for="[name, field] in limits"
    :id="name"
    :key="name"
    :field="field"
    :model-value="form.parameters[name]"
    @update:model-value="limit(name, $event)"
    @invalid="form.setWrong(name, $event)"
    @enter="form.save"
  />
  <FormRow id="tessellate-scope" label="Concerns">
    <ScopeField id="tessellate-scope" :model-value="form.selector.value" @update:model-value="form.choose" />
  </FormRow>
  <FormRow label="Forecast">
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
  </FormRow>
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
  <div v-if="measured.length" class="measured">
    <p class="caps">Measured from the exact surfaces</p>
    <p :class="beyond ? 'warn' : 'quiet'">
      {{
        beyond
          ? `${formatCount(beyond)} of ${formatCount(measured.length)} exceed their limit.`
          : `All ${formatCount(measured.length)} within their limit; worst first.`
      }}
    </p>
    <MeasuredTable label="Measured from the exact surfaces" :parts="measured" :figures="FIGURES" :beyond="isBeyond" />
  </div>
</template>

<style scoped>
.measured {
  margin-top: 14px;
}
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
