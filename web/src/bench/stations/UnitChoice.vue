<script setup lang="ts">
/** In which unit a source is read: as it declares, another one, or by a distance whose true length is known. */
import { computed, ref } from 'vue';
import type { SourceInfo } from '@noble-prism/core/scene/types';
import type { UnitParameters } from '@noble-prism/core/steps/unit';
import { formatLength, formatNumber, metresPer } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useMeasure } from '../../stores/measure.ts';
import ChoiceField from '../../parts/ChoiceField.vue';
import FormRow from '../../parts/FormRow.vue';
import QuantityField from '../../parts/QuantityField.vue';
import { readLarger, unitStepOf } from './sourceChoices.ts';

const props = defineProps<{ info: SourceInfo }>();
const store = useJob();
const measure = useMeasure();
const calibrating = ref(false);
const truth = ref<number | undefined>(1);

const UNITS = ['mm', 'cm', 'm', 'inch', 'foot'];
const step = computed(() => unitStepOf(store.steps, props.info.id));
const factor = computed(() => (step.value ? (step.value.parameters as UnitParameters).factor : 1));
const declared = computed(() => {
  const { units, unit } = props.info;
  const name = units.length > 1 ? `${units.join(', ')}, mixed` : unit.name;
  return unit.declared ? `${name}, as declared` : `${name}, assumed`;
});
const factorOf = (unit: string) => (metresPer(unit) ?? 1) / props.info.unit.metres;
const options = computed(() => [
  { value: 'declared', label: declared.value },
  ...UNITS.filter((unit) => Math.abs(factorOf(unit) - 1) > 1e-9).map((unit) => ({ value: unit, label: unit })),
  ...(value.value === 'own' ? [{ value: 'own', label: `× ${formatNumber(factor.value, 6)}` }] : []),
  { value: 'known', label: 'by a known length…' },
]);
const value = computed<string>(() => {
  if (Math.abs(factor.value - 1) < 1e-9) return 'declared';
  return UNITS.find((unit) => Math.abs(factorOf(unit) / factor.value - 1) < 1e-9) ?? 'own';
});

function choose(next: string | undefined): void {
  if (next === 'known') {
    calibrating.value = true;
    if (!measure.active) measure.toggle();
    return;
  }
  calibrating.value = false;
  if (next === 'declared') readLarger(props.info.id, 1, '');
  else if (next !== undefined && next !== 'own') readLarger(props.info.id, factorOf(next), `read in ${next}`);
}

function calibrate(): void {
  if (!measure.distance || !truth.value || !(truth.value > 0)) return;
  const next = (truth.value / measure.distance) * factor.value;
  readLarger(
    props.info.id,
    next,
    `${formatLength(measure.distance, 'm', 4)} is ${formatLength(truth.value, 'm', 4)} in truth`,
  );
  measure.stop();
  calibrating.value = false;
}
function cancel(): void {
  measure.stop();
  calibrating.value = false;
}
</script>

<template>
  <div class="unit">
    <ChoiceField
      :label="`Unit of ${info.name}`"
      :model-value="value"
      :choices="options"
      :class="{ warn: !info.unit.declared && value === 'declared' }"
      @update:model-value="choose"
    />
    <div v-if="calibrating" class="calibrate">
      <p v-if="measure.distance === undefined" class="quiet">
        Click two points in the view whose true distance you know.
      </p>
      <template v-else>
        <p>Measured {{ formatLength(measure.distance, 'm', 5) }}</p>
        <FormRow :id="`truth-${info.id}`" label="In truth">
          <QuantityField :id="`truth-${info.id}`" v-model="truth" of="length" unit="m" :min="1e-6" :max="1e7" />
        </FormRow>
        <button class="act first" @click="calibrate">Calibrate</button>
      </template>
      <button class="act" @click="cancel">Cancel</button>
    </div>
  </div>
</template>

<style scoped>
.calibrate {
  margin: 4px 0 8px;
  display: grid;
  gap: 6px;
  justify-items: start;
}
.calibrate .row {
  width: 100%;
}
</style>
