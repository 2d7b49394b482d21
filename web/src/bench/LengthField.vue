<script setup lang="ts">
/** A length with its unit, or nothing where that is allowed: shown in one unit, typed in any (`0.2`, `0.2 mm`, `1/64 in` is not understood: `0.016 in` is). */
import { ref, watch } from 'vue';
import { formatNumber, metresPer, parseAngle, parseLength } from '@noble-prism/core/units';

const props = defineProps<{
  id: string;
  modelValue: number | undefined;
  unit: string;
  min?: number;
  max?: number;
  /** May be left empty; then there is no such limit. */
  optional?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [number | undefined] }>();
const text = ref('');
const wrong = ref('');

const isAngle = () => props.unit === '°';
const isShare = () => props.unit === '%';

function show(): void {
  const { modelValue } = props;
  if (modelValue === undefined) {
    text.value = '';
    return;
  }
  text.value = inUnit(modelValue).replaceAll('\u2009', '');
}

function inUnit(value: number): string {
  const inside = isAngle() ? (value * 180) / Math.PI : isShare() ? value * 100 : value / (metresPer(props.unit) ?? 1);
  return formatNumber(inside, 4);
}
watch(() => props.modelValue, show, { immediate: true });

function parse(typed: string): number | undefined {
  const plain = typed.trim().replace(',', '.');
  if (isAngle()) return parseAngle(plain);
  if (isShare()) return plain.replace(/\s*%$/, '') === '' ? undefined : Number(plain.replace(/\s*%$/, '')) / 100;
  return parseLength(plain, props.unit);
}

/** What is taken here, in the unit of the field. */
function bounds(low: number, high: number): string {
  const parts = [
    ...(Number.isFinite(low) ? [`at least ${inUnit(low)} ${props.unit}`] : []),
    ...(Number.isFinite(high) ? [`at most ${inUnit(high)} ${props.unit}`] : []),
  ];
  return `It has to be ${parts.join(' and ')}.`;
}

function commit(): void {
  if (props.optional && !text.value.trim()) {
    wrong.value = '';
    if (props.modelValue !== undefined) emit('update:modelValue', undefined);
    return;
  }
  const value = parse(text.value);
  const low = props.min ?? -Infinity;
  const high = props.max ?? Infinity;
  if (value === undefined || !Number.isFinite(value))
    wrong.value = `Not a ${isAngle() ? 'angle' : isShare() ? 'share' : 'length'}: try ${isAngle() ? '16°' : isShare() ? '50 %' : `0.2 ${props.unit}`}.`;
  else if (value < low || value > high) wrong.value = bounds(low, high);
  else {
    wrong.value = '';
    if (value !== props.modelValue) emit('update:modelValue', value);
    show();
  }
}
</script>

<template>
  <div>
    <span class="line-field">
      <input
        :id="id"
        v-model="text"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="optional ? 'none' : undefined"
        :aria-invalid="wrong ? 'true' : undefined"
        @change="commit"
        @keydown.enter="commit"
      />
      <span v-if="!optional || text" class="unit">{{ unit }}</span>
    </span>
    <small v-if="wrong" class="bad" role="alert">{{ wrong }}</small>
  </div>
</template>

<style scoped>
input {
  text-align: right;
}
</style>
