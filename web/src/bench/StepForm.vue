<script setup lang="ts">
/** The form of a kind of step, drawn from the fields that the kind says of itself. */
import { computed } from 'vue';
import type { Field } from '@noble-prism/core/fields/field';
import type { Spot } from '@noble-prism/core/scene/spot';
import { linksOf } from '@noble-prism/core/linkage/links';
import { select } from '@noble-prism/core/select/select';
import ChoiceField from '../parts/ChoiceField.vue';
import FieldRow from '../parts/FieldRow.vue';
import FormRow from '../parts/FormRow.vue';
import { useJob } from '../stores/job.ts';
import RowField from './RowField.vue';
import ScopeField from './ScopeField.vue';
import SpotField from './SpotField.vue';
import StepActions from './StepActions.vue';
import { useStepForm } from './stepForm.ts';

const props = defineProps<{
  kind: string;
  /** Fields that mean nothing as things are. */
  hides?: readonly string[];
  /** There is nothing yet that it could be about: only what stands first is shown. */
  idle?: boolean;
}>();
const store = useJob();
const form = useStepForm<Record<string, unknown>>(props.kind, { previewed: true });
const fields = computed(() =>
  Object.entries(form.spec.fields as Record<string, Field<object>>).filter(
    ([name, field]) => !props.hides?.includes(name) && (field.when?.(form.parameters) ?? true),
  ),
);
/** What has to be known before a new one is applied; of one that is there already, or shown, the scene says nothing any more. */
const beforehand = computed(() => {
  if (form.editing.value || form.tried.value || !form.spec.beforehand) return [];
  const rows = select(store.scene, form.selector.value, form.spec.themselves?.(form.parameters));
  return form.spec.beforehand(store.scene, rows, form.parameters);
});
const links = computed(() =>
  linksOf(store.scene).map(({ id, name, kind }) => ({ value: id, label: name, note: kind })),
);
const isWhole = computed(() => form.spec.whole?.(form.parameters) ?? false);
const spotIn = (name: string) => form.parameters[name] as Spot | undefined;
const keyIn = (name: string) => form.parameters[name] as string | undefined;
defineExpose({
  selector: form.selector,
  parameters: form.parameters,
  shown: form.shown,
  editing: form.editing,
  setAll: form.setAll,
});
</script>

<template>
  <slot name="first" />
  <template v-if="!idle">
    <FieldRow
      v-for="[name, field] in fields"
      :id="`${kind}-${name}`"
      :key="name"
      :field="field"
      :model-value="form.parameters[name]"
      @update:model-value="form.set(name, $event)"
      @invalid="form.setWrong(name, $event)"
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
      <ChoiceField
        v-else-if="field.type === 'link'"
        :id="`${kind}-${name}`"
        :choices="links"
        :model-value="keyIn(name) || undefined"
        placeholder="choose a link"
        empty="Nothing is linked yet."
        @update:model-value="form.set(name, $event)"
      />
      <SpotField
        v-else-if="field.type === 'spot'"
        :id="`${kind}-${name}`"
        :label="field.label"
        :with-axis="field.withAxis"
        :model-value="spotIn(name)"
        @update:model-value="form.set(name, $event)"
      />
    </FieldRow>
    <slot />
    <FormRow v-if="!isWhole" :id="`${kind}-scope`" label="Concerns">
      <ScopeField
        :id="`${kind}-scope`"
        :model-value="form.selector.value"
        :counts="form.counts.value"
        @update:model-value="form.choose"
      />
    </FormRow>
    <p v-if="form.lacks.value && !form.error.value" class="note warn" role="status">{{ form.lacks.value }}</p>
    <p v-for="sentence in beforehand" :key="sentence" class="note warn">{{ sentence }}</p>
    <StepActions
      :editing="form.editing.value"
      :report="form.report.value"
      :changed="form.changed.value"
      :error="form.error.value"
      :add="form.spec.act"
      :begun-there="form.spec.begunThere"
      :tried="form.tried.value"
      previews
      :beside="form.spec.beside"
      :added="form.addedReport.value"
      @preview="form.togglePreview"
      @save="form.save"
      @close="form.close"
    />
  </template>
</template>

<style scoped>
.note {
  margin-top: 6px;
  font-size: 12px;
}
</style>
