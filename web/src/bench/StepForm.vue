<script setup lang="ts">
/** The form of a kind of step, drawn from the fields that the kind says of itself. */
import { computed } from 'vue';
import type { Field } from '@noble-prism/core/fields/field';
import FieldRow from '../parts/FieldRow.vue';
import FormRow from '../parts/FormRow.vue';
import RowField from './RowField.vue';
import ScopeField from './ScopeField.vue';
import StepActions from './StepActions.vue';
import { useStepForm } from './stepForm.ts';

const props = defineProps<{ kind: string }>();
const form = useStepForm<Record<string, unknown>>(props.kind, { previewed: true });
const fields = computed(() =>
  Object.entries(form.spec.fields as Record<string, Field<object>>).filter(
    ([, field]) => field.when?.(form.parameters) ?? true,
  ),
);
const keyIn = (name: string) => form.parameters[name] as string | undefined;
</script>

<template>
  <FieldRow
    v-for="[name, field] in fields"
    :id="`${kind}-${name}`"
    :key="name"
    :field="field"
    :model-value="form.parameters[name]"
    @update:model-value="form.set(name, $event)"
    @enter="form.save"
  >
    <RowField
      v-if="field.type === 'row'"
      :id="`${kind}-${name}`"
      :label="field.label"
      :optional="field.optional"
      :model-value="keyIn(name)"
      @update:model-value="form.set(name, $event)"
    />
  </FieldRow>
  <FormRow :id="`${kind}-scope`" label="Concerns">
    <ScopeField
      :id="`${kind}-scope`"
      :model-value="form.selector.value"
      :counts="form.counts.value"
      @update:model-value="form.choose"
    />
  </FormRow>
  <StepActions
    :editing="form.editing.value"
    :report="form.report.value"
    :changed="form.changed.value"
    :error="form.error.value"
    :add="form.spec.act"
    :begun-there="form.spec.begunThere"
    :tried="form.tried.value"
    :previews="form.spec.needs === 'manifest'"
    @preview="form.togglePreview"
    @save="form.save"
    @close="form.close"
  />
</template>
