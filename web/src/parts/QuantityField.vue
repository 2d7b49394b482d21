<script setup lang="ts">
/** A number with its unit, or nothing where that is allowed: shown in one unit, typed in any (`0.2`, `0.2 mm`, `0.016 in`). */
import { nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { formatQuantity } from '@noble-prism/core/fields/field';
import type { Quantity } from '@noble-prism/core/fields/field';
import { parseAngle, parseLength, parseNumber } from '@noble-prism/core/typed';
import { formatCount, formatNumber, metresPer } from '@noble-prism/core/units';

const props = defineProps<{
  id: string;
  modelValue: number | undefined;
  of: Quantity;
  unit: string;
  min?: number;
  max?: number;
  /** May be left empty; what is meant then: `none` where there is no such limit. */
  otherwise?: string | undefined;
  label?: string;
  /** Values that are one click away. */
  offers?: readonly number[] | undefined;
  /** What each of them is called. */
  offerNames?: readonly string[] | undefined;
}>();
const emit = defineEmits<{
  'update:modelValue': [number | undefined];
  /** What is wrong with what stands there; empty where nothing is any more. */
  invalid: [words: string];
  /** Enter was pressed, and what stands there was taken. */
  enter: [];
}>();
const text = ref('');
const wrong = ref('');
watch(wrong, (words) => emit('invalid', words));
onBeforeUnmount(() => wrong.value && emit('invalid', ''));

/** What stands there while nobody types: rounded, so that leaving it must not store it. */
let shown = '';
function show(): void {
  shown = text.value = props.modelValue === undefined ? '' : inUnit(props.modelValue).replaceAll('\u2009', '');
}

function inUnit(value: number): string {
  const { of, unit } = props;
  if (of === 'angle') return formatNumber((value * 180) / Math.PI, 8);
  if (of === 'share') return formatNumber(value * 100, 4);
  if (of === 'count') return formatCount(value);
  if (of !== 'length') return formatNumber(value, 6);
  const metres = metresPer(unit) ?? 1;
  // Far from zero four figures would hide what matters: a tenth of a millimetre is always shown.
  const figures = Math.ceil(Math.log10(Math.max(Math.abs(value), 1e-12) / TENTH));
  return formatNumber(value / metres, Math.max(4, figures));
}
watch(() => [props.modelValue, props.unit], show, { immediate: true });

/** Of a millimetre, metres. */
const TENTH = 1e-4;

/** Undefined, or not a number, where it is none. */
function parse(typed: string): number | undefined {
  if (typed.trim() === '') return undefined;
  if (props.of === 'angle') return parseAngle(typed) ?? NaN;
  if (props.of === 'length') return parseLength(typed, props.unit) ?? NaN;
  const number = typed
    .trim()
    .replace(/\s*(%|kg\/m³|kg\/m3|s)$/, '')
    .replace(/^×\s*/, '');
  if (number === '') return undefined;
  if (props.of === 'count') return wholeNumber(number);
  const value = parseNumber(number) ?? NaN;
  return props.of === 'share' ? value / 100 : value;
}

/** `500 000`, `500.000` and `500,000` are the same; not a number where it is not whole. */
function wholeNumber(typed: string): number {
  const digits = typed
    .replace(/triangles?$/, '')
    .replace(/[\s\u2009]/g, '')
    .replace(/[.,](?=\d{3}(\D|$))/g, '');
  return /^\d+$/.test(digits) ? Number(digits) : NaN;
}

const KINDS = {
  length: { a: 'a length', such: () => `0.2 ${props.unit}` },
  angle: { a: 'an angle', such: () => '16°' },
  share: { a: 'a share', such: () => '50 %' },
  count: { a: 'a whole number', such: () => '500 000' },
  factor: { a: 'a number', such: () => '2.5' },
  density: { a: 'a density', such: () => '7850' },
  time: { a: 'a time', such: () => '2.5' },
} as const;

/** What is taken here, in the unit of the field. */
function bounds(low: number, high: number): string {
  const parts = [
    ...(Number.isFinite(low) ? [`at least ${inUnit(low)} ${props.unit}`] : []),
    ...(Number.isFinite(high) ? [`at most ${inUnit(high)} ${props.unit}`] : []),
  ];
  return `It has to be ${parts.map((part) => part.trim()).join(' and ')}.`;
}

function commit(): void {
  if (text.value === shown && !wrong.value) return;
  if (props.otherwise !== undefined && !text.value.trim()) {
    wrong.value = '';
    if (props.modelValue !== undefined) emit('update:modelValue', undefined);
    return;
  }
  const value = parse(text.value);
  const low = props.min ?? -Infinity;
  const high = props.max ?? Infinity;
  const kind = KINDS[props.of];
  if (value === undefined || !Number.isFinite(value)) wrong.value = `Not ${kind.a}: try ${kind.such()}.`;
  // What is typed in degrees is not exactly the bound.
  else if (value < low - Math.abs(low) * 1e-9 || value > high + Math.abs(high) * 1e-9) wrong.value = bounds(low, high);
  else {
    wrong.value = '';
    if (value !== props.modelValue) emit('update:modelValue', value);
    show();
  }
}

async function enter(): Promise<void> {
  commit();
  // What was taken has to be known before it is applied.
  await nextTick();
  if (!wrong.value) emit('enter');
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
        :aria-label="label"
        :placeholder="otherwise"
        :aria-invalid="wrong ? 'true' : undefined"
        :aria-describedby="wrong ? `${id}-wrong` : undefined"
        @change="commit"
        @keydown.enter="enter"
      />
      <span v-if="unit && (otherwise === undefined || text)" class="unit">{{ unit }}</span>
    </span>
    <span v-if="offers" class="offers">
      <button v-for="(value, i) in offers" :key="value" class="plain link" @click="emit('update:modelValue', value)">
        {{ [offerNames?.[i], formatQuantity(value, { of, unit })].filter(Boolean).join(' ') }}
      </button>
    </span>
    <small v-if="wrong" :id="`${id}-wrong`" class="bad" role="alert">{{ wrong }}</small>
  </div>
</template>

<style scoped>
.offers {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 0 10px;
  font-size: 12px;
}
input {
  text-align: right;
}
</style>
