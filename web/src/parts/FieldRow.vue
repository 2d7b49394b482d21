<script setup lang="ts">
/** The line of a form for a field, as the field says of itself. Fields with a form of their own are drawn elsewhere. */
import { computed } from 'vue';
import type { Field } from '@noble-prism/core/fields/field';
import ChoiceField from './ChoiceField.vue';
import FormRow from './FormRow.vue';
import QuantityField from './QuantityField.vue';
import WordsField from './WordsField.vue';

const props = defineProps<{
  id: string;
  field: Field;
  modelValue: unknown;
  /** Words that can be chosen, for fields that are words. */
  offers?: readonly { value: string; label: string }[];
  /** Where the line is short, what speaks for itself stands alone; numbers keep their names. */
  short?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [unknown]; enter: []; invalid: [words: string] }>();

const isBare = computed(() => props.short && props.field.type !== 'quantity');
const choice = computed(() => props.modelValue as string | undefined);
/** What is meant where nothing is said. */
const number = computed(() => {
  const { field, modelValue } = props;
  const meaning = field.type === 'quantity' && typeof field.optional === 'object' && field.optional;
  return (modelValue as number | undefined) ?? (meaning && 'meaning' in meaning ? meaning.meaning : undefined);
});
/** What stands in a number's field while it is empty; nothing where it may not be. */
const otherwise = computed(() => {
  const { field } = props;
  if (field.type !== 'quantity' || !field.optional) return undefined;
  if (field.optional === true) return 'none';
  return 'otherwise' in field.optional ? field.optional.otherwise : undefined;
});
</script>

<template>
  <component
    :is="isBare ? 'div' : FormRow"
    v-if="field.type !== 'own'"
    v-bind="isBare ? {} : { id, label: field.label, hint: field.help }"
  >
    <ChoiceField
      v-if="field.type === 'choice'"
      :id="id"
      :label="isBare ? field.label : undefined"
      :model-value="choice"
      :choices="field.choices"
      @update:model-value="emit('update:modelValue', $event)"
    />
    <QuantityField
      v-else-if="field.type === 'quantity'"
      :id="id"
      :model-value="number"
      :of="field.of"
      :unit="field.unit"
      :min="field.min"
      :max="field.max"
      :otherwise="otherwise"
      :offers="field.offers"
      :offer-names="field.offerNames"
      @update:model-value="emit('update:modelValue', $event)"
      @invalid="emit('invalid', $event && `${field.label}: ${$event}`)"
      @enter="emit('enter')"
    />
    <span v-else-if="field.type === 'text'" class="line-field">
      <input
        :id="id"
        :value="modelValue"
        :maxlength="field.most"
        :title="field.help"
        :aria-label="isBare ? field.label : undefined"
        :placeholder="isBare ? field.label : undefined"
        autocomplete="off"
        @input="emit('update:modelValue', ($event.target as HTMLInputElement).value)"
        @keydown.enter="emit('enter')"
      />
    </span>
    <!-- What has to do with the job is drawn by who knows it. -->
    <slot v-else-if="field.type === 'row' || field.type === 'spot' || field.type === 'link'" />
    <WordsField
      v-else
      :id="id"
      :label="field.label"
      :model-value="modelValue as string[]"
      :offers="offers ?? []"
      @update:model-value="emit('update:modelValue', $event)"
    />
  </component>
</template>
