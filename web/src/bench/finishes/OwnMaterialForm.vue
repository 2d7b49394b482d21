<script setup lang="ts">
/** An own material, edited: its ball follows at once, and so does the view where the job uses it. */
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import type { ChoiceField, QuantityField as Field } from '@noble-prism/core/fields/field';
import { hexFromLinear, linearFromHex } from '@noble-prism/core/finish/colour';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { Material } from '@noble-prism/core/scene/types';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import FieldRow from '../../parts/FieldRow.vue';
import FormRow from '../../parts/FormRow.vue';
import { useJob } from '../../stores/job.ts';
import { useLibrary } from '../../stores/library.ts';
import { copyIn, withCopy } from './ownInJob.ts';

const props = defineProps<{ own: OwnMaterial; fresh: boolean }>();
const emit = defineEmits<{ done: [id: string | undefined]; change: [own: OwnMaterial] }>();
const store = useJob();
const library = useLibrary();

const draft = ref<OwnMaterial>(JSON.parse(JSON.stringify(props.own)) as OwnMaterial);
const material = computed(() => draft.value.material);
const used = computed(() => copyIn(store.steps, props.own.material.id));

const share = (label: string, help: string): Field => ({ type: 'quantity', of: 'share', unit: '%', label, min: 0, max: 1, help }); // prettier-ignore
const FIELDS = {
  metallic: share('Metalness', 'Bare metal is 100 %, everything else 0 %.'),
  roughness: share('Roughness', 'A mirror is 0 %.'),
  opacity: share('Opacity', 'Below 100 % there are holes in it: for gauze and meshes. Glass is transmission.'),
  transmission: share('Transmission', 'Share of the light that goes through: glass, water.'),
  ior: { type: 'quantity', of: 'factor', unit: '', label: 'Refraction', min: 1, max: 3, help: 'Index of refraction: water 1.33, glass 1.52.' }, // prettier-ignore
  clearcoat: share('Clear coat', 'A clear layer over it, as on a car.'),
  clearcoatRoughness: share('Coat roughness', 'Of the clear layer.'),
} satisfies Partial<Record<keyof Material, Field>>;
type Factor = keyof typeof FIELDS;
const STANDARD: Record<Factor, number> = { metallic: 0, roughness: 0.5, opacity: 1, transmission: 0, ior: 1.5, clearcoat: 0, clearcoatRoughness: 0 }; // prettier-ignore
/** What is absent where it is as it is without. */
const OPTIONAL: readonly Factor[] = ['transmission', 'ior', 'clearcoat', 'clearcoatRoughness'];

const SIZE: Field = { type: 'quantity', of: 'length', unit: 'm', label: 'Picture width', min: 0.001, max: 1000, help: 'Length that its pictures cover on solids.' }; // prettier-ignore
const GLOW: Field = { type: 'quantity', of: 'factor', unit: '', label: 'Glow', min: 0, max: 1000, help: 'Strength of the light that it sends out, beside the light of the view.' }; // prettier-ignore
const SIDES: ChoiceField = {
  type: 'choice',
  label: 'Seen from',
  choices: [
    { value: 'kept', label: 'the sides that a part had' },
    { value: 'both', label: 'both sides' },
    { value: 'one', label: 'one side' },
  ],
  help: 'Closed bodies need one; sheets and open shells vanish from behind without both.',
};
const sides = computed(() => ({ true: 'both', false: 'one', undefined: 'kept' })[`${material.value.doubleSided}`]);
const hasPictures = computed(() => draft.value.of !== undefined || draft.value.textures.length > 0);
const glow = computed(() => Math.max(0, ...(material.value.emissive ?? [])));

function set(values: Partial<Material>): void {
  const next = { ...material.value, ...values };
  for (const name of OPTIONAL) if (next[name] === STANDARD[name]) delete next[name];
  draft.value = { ...draft.value, material: next };
}
function setSides(value: string): void {
  const { doubleSided: _, ...rest } = material.value;
  draft.value = { ...draft.value, material: value === 'kept' ? rest : { ...rest, doubleSided: value === 'both' } };
}
function setGlow(strength: number | undefined, hex = hexFromLinear(glowColour.value)): void {
  const next = { ...material.value };
  delete next.emissive;
  if (strength) next.emissive = linearFromHex(hex).map((value) => value * strength) as [number, number, number];
  draft.value = { ...draft.value, material: next };
}
const glowColour = computed(() => (glow.value > 0 ? material.value.emissive!.map((value) => value / glow.value) : [1, 1, 1])); // prettier-ignore

watch(draft, (own) => {
  emit('change', own);
  if (used.value) store.tryOut({ step: 'own', title: finishesStep.title, make: withCopy(own) });
});
onBeforeUnmount(() => store.tryOut());

async function save(): Promise<void> {
  const own = { ...draft.value, material: { ...material.value, name: material.value.name.trim() } };
  if (!(await library.keep(own))) return;
  if (used.value) store.change(`${own.material.name} changed`, withCopy(own));
  emit('done', own.material.id);
}
</script>

<template>
  <form class="own" @submit.prevent="save">
    <FormRow id="own-name" label="Name">
      <span class="line-field"
        ><input
          id="own-name"
          :value="material.name"
          maxlength="200"
          autocomplete="off"
          @input="set({ name: ($event.target as HTMLInputElement).value })"
      /></span>
    </FormRow>
    <FormRow id="own-colour" label="Colour">
      <input
        id="own-colour"
        type="color"
        :value="hexFromLinear(material.baseColor)"
        @input="set({ baseColor: linearFromHex(($event.target as HTMLInputElement).value) })"
      />
    </FormRow>
    <!-- All of them, always: a field that came and went would move the buttons away from under the pointer. -->
    <FieldRow
      v-for="(field, name) in FIELDS"
      :id="`own-${name}`"
      :key="name"
      :field="field"
      :model-value="material[name] ?? STANDARD[name]"
      @update:model-value="$event !== undefined && set({ [name]: $event as number })"
    />
    <FieldRow id="own-glow" :field="GLOW" :model-value="glow" @update:model-value="setGlow($event as number)" />
    <FormRow id="own-glow-colour" label="Glow colour">
      <input
        id="own-glow-colour"
        type="color"
        :disabled="glow === 0"
        :value="hexFromLinear(glowColour)"
        @input="setGlow(glow, ($event.target as HTMLInputElement).value)"
      />
    </FormRow>
    <FieldRow id="own-sides" :field="SIDES" :model-value="sides" @update:model-value="setSides($event as string)" />
    <FieldRow
      v-if="hasPictures"
      id="own-size"
      :field="SIZE"
      :model-value="draft.size ?? 1"
      @update:model-value="draft = { ...draft, size: ($event as number | undefined) ?? 1 }"
    />
    <p v-if="library.error" class="bad" role="alert">{{ library.error }}</p>
    <p v-if="used" class="quiet note">
      This job uses it: what is changed is seen in the view, and kept with the job too.
    </p>
    <div class="buttons">
      <button class="act first" type="submit" :disabled="!material.name.trim()">
        {{ fresh ? 'Keep in the library' : 'Keep the change' }}
      </button>
      <button class="act" type="button" @click="emit('done', undefined)">Cancel</button>
    </div>
  </form>
</template>

<style scoped>
.own {
  font-size: 12px;
}
.buttons {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
.note {
  margin-top: 8px;
}
input[type='color'] {
  width: 44px;
  height: 24px;
  padding: 0;
  border: 1px solid var(--rule);
  background: none;
}
</style>
