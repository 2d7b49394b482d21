<script setup lang="ts">
/** Materials that would become one, in groups, before they do: each group can be left as it is. */
import { computed, ref, shallowRef, watch } from 'vue';
import { meanColour } from '@noble-prism/core/finish/library/given';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { groupsIn } from '@noble-prism/core/steps/mergeMaterials';
import type { MergeMaterialsParameters } from '@noble-prism/core/steps/mergeMaterials';
import type { Material, Scene } from '@noble-prism/core/scene/types';
import { counted, formatNumber } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { openStep } from '../stepEdits.ts';
import StepForm from '../StepForm.vue';

const store = useJob();
const form = ref<InstanceType<typeof StepForm>>();
const given = computed(() => form.value?.parameters as MergeMaterialsParameters | undefined);
/** The scene without what is tried: what is merged there is in no group any more. */
const before = shallowRef<Scene>(store.scene);
watch(
  () => [store.scene, store.trial] as const,
  ([scene, trial]) => {
    if (!trial) before.value = scene;
  },
);
const isNew = computed(() => store.steps.find(({ id }) => id === openStep.value)?.kind !== 'merge-materials');
const groups = computed(() => (isNew.value && given.value ? groupsIn(before.value, given.value.tolerance) : []));

function keep(id: string, merged: boolean): void {
  const rest = (given.value?.apart ?? []).filter((other) => other !== id);
  const apart = merged ? rest : [...rest, id];
  form.value?.setAll({ apart: apart.length > 0 ? apart : undefined });
}
const colourOf = (material: Material) => hexFromLinear(meanColour(material));
</script>

<template>
  <StepForm ref="form" kind="merge-materials">
    <template v-if="isNew && given">
      <p v-if="!groups.length" class="quiet note">No two materials are the same within this tolerance.</p>
      <fieldset v-else>
        <legend>{{ counted(groups.length, 'group') }} of the same</legend>
        <label v-for="{ kept, others, difference, parts } in groups" :key="kept.id">
          <input
            type="checkbox"
            :checked="!given.apart?.includes(kept.id)"
            @change="keep(kept.id, ($event.target as HTMLInputElement).checked)"
          />
          <span>
            <i class="material-dot" :style="{ background: colourOf(kept) }" /><b>{{ kept.name }}</b>
            <span v-for="other in others" :key="other.id" class="other">
              <i class="material-dot" :style="{ background: colourOf(other) }" />{{ other.name }}
            </span>
            <span class="quiet facts">
              {{ counted(parts, 'part') }},
              {{ difference === 0 ? 'no difference' : `at most ${formatNumber(difference * 100, 2)} % apart` }}
            </span>
          </span>
        </label>
      </fieldset>
    </template>
  </StepForm>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 6px 0;
  padding: 0;
  font-size: 12px;
  max-height: 320px;
  overflow-y: auto;
}
label {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr);
  gap: 6px;
  padding: 5px 0;
  border-top: 1px solid var(--rule-soft);
}
input {
  margin: 2px 0 0;
}
.other,
.facts {
  display: block;
}
.note {
  font-size: 12px;
}
</style>
