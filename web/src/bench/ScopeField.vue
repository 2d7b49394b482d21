<script setup lang="ts">
/** What a step concerns: a rule, or what is picked just now. */
import Select from 'primevue/select';
import { computed } from 'vue';
import type { Selector } from '@noble-prism/core/select/select';
import { describeSelector, select } from '@noble-prism/core/select/select';
import { factsOf } from '@noble-prism/core/scene/facts';
import { ASSEMBLY, PART } from '@noble-prism/core/scene/nodes';
import { formatCount } from '@noble-prism/core/units';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import LengthField from './LengthField.vue';

const props = defineProps<{
  id: string;
  modelValue: Selector;
  /** What is counted: parts where nothing is said. */
  of?: 'parts' | 'assemblies' | 'rows';
}>();
const emit = defineEmits<{ 'update:modelValue': [Selector] }>();
const store = useJob();
const selection = useSelection();

const layers = computed(() => [...factsOf(store.scene).wordsIn('layer')].sort());
const classes = computed(() => [...factsOf(store.scene).wordsIn('class')].sort());
const options = computed(() => [
  { value: 'all', label: 'everything' },
  {
    value: 'picked',
    label:
      props.modelValue.by === 'picked'
        ? describeSelector(props.modelValue)
        : `what is selected (${selection.nodes.length})`,
    disabled: props.modelValue.by !== 'picked' && selection.nodes.length === 0,
  },
  ...layers.value.map((layer) => ({ value: `layer ${layer}`, label: `layer ${layer}` })),
  ...classes.value.map((name) => ({ value: `class ${name}`, label: `class ${name}` })),
  { value: 'name', label: 'by name at this step' },
  { value: 'received', label: 'by name as received' },
  { value: 'size', label: 'by size' },
  ...(value.value !== 'other' ? [] : [{ value: 'other', label: describeSelector(props.modelValue) }]),
]);
const value = computed(() => {
  const { modelValue } = props;
  if (modelValue.by === 'layer' && modelValue.layers.length === 1) return `layer ${modelValue.layers[0]}`;
  if (modelValue.by === 'class' && modelValue.classes.length === 1) return `class ${modelValue.classes[0]}`;
  if (modelValue.by === 'name' && modelValue.as === 'received') return 'received';
  return ['all', 'picked', 'name', 'size'].includes(modelValue.by) ? modelValue.by : 'other';
});
const count = computed(() => {
  const { of = 'parts' } = props;
  const rows = select(store.scene, props.modelValue, of === 'rows');
  if (of === 'rows') return rows.size;
  const { kind } = store.scene.nodes.columns;
  const wanted = of === 'parts' ? PART : ASSEMBLY;
  let sum = 0;
  for (let row = 0; row < kind.length; row++) if (kind[row] === wanted && rows.has(row)) sum++;
  return sum;
});
const counted = computed(() => {
  const [one, many] = { parts: ['part', 'parts'], assemblies: ['assembly', 'assemblies'], rows: ['row', 'rows'] }[
    props.of ?? 'parts'
  ];
  return `${formatCount(count.value)} ${count.value === 1 ? one : many}`;
});

const patternNow = () => (props.modelValue.by === 'name' ? props.modelValue.pattern : '*');

function choose(next: string): void {
  if (next === 'all') emit('update:modelValue', { by: 'all' });
  else if (next === 'picked') emit('update:modelValue', { by: 'picked', keys: [...selection.keys] });
  else if (next === 'name') emit('update:modelValue', { by: 'name', pattern: patternNow() });
  else if (next === 'received') emit('update:modelValue', { by: 'name', pattern: patternNow(), as: 'received' });
  else if (next === 'size') emit('update:modelValue', { by: 'size', min: 0, max: 0.1 });
  else if (next.startsWith('class ')) emit('update:modelValue', { by: 'class', classes: [next.slice(6)] });
  else if (next.startsWith('layer ')) emit('update:modelValue', { by: 'layer', layers: [next.slice(6)] });
}
</script>

<template>
  <div>
    <Select
      :label-id="id"
      :aria-labelledby="`${id}-label`"
      :model-value="value"
      :options="options"
      option-value="value"
      option-label="label"
      option-disabled="disabled"
      :filter="options.length > 20"
      filter-placeholder="Find"
      auto-filter-focus
      @update:model-value="choose"
    />
    <span v-if="modelValue.by === 'name'" class="line-field">
      <input
        :value="modelValue.pattern"
        aria-label="Name pattern, * stands for anything"
        title="* stands for anything, ? for one character"
        maxlength="300"
        @change="
          emit('update:modelValue', { ...modelValue, pattern: ($event.target as HTMLInputElement).value || '*' })
        "
      />
    </span>
    <div v-if="modelValue.by === 'size'" class="sizes">
      <template v-for="end in ['min', 'max'] as const" :key="end">
        <label :for="`${id}-${end}`">{{ end === 'min' ? 'from' : 'to' }}</label>
        <LengthField
          :id="`${id}-${end}`"
          unit="mm"
          :min="0"
          :model-value="modelValue[end] ?? (end === 'min' ? 0 : 1000)"
          @update:model-value="emit('update:modelValue', { ...modelValue, [end]: $event })"
        />
      </template>
    </div>
    <button
      v-if="
        selection.nodes.length > 0 &&
        modelValue.by === 'picked' &&
        [...selection.keys].join() !== modelValue.keys.join()
      "
      class="plain again"
      @click="choose('picked')"
    >
      Take the selection ({{ selection.nodes.length }})
    </button>
    <small :class="count === 0 ? 'warn' : 'quiet'">{{ counted }}</small>
  </div>
</template>

<style scoped>
.sizes {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 8px;
  align-items: baseline;
  padding-top: 4px;
}
small {
  display: block;
  padding: 2px 2px 0;
}
.again {
  color: var(--iris);
  font-size: 12px;
}
</style>
