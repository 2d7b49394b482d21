<script setup lang="ts">
/** Texture sets that came as loose pictures: what each of them belongs to. */
import { computed } from 'vue';
import { textureSets } from '@noble-prism/core/finish/textureSets';
import type { SetSlot, TextureSet } from '@noble-prism/core/finish/textureSets';
import { partsByMaterial } from '@noble-prism/core/scene/parts';
import { describeSelector } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import type { TexturesParameters } from '@noble-prism/core/steps/textures';
import { counted } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import { texturesStep } from '@noble-prism/core/steps/textures';
import ChoiceField from '../../parts/ChoiceField.vue';
import FieldRow from '../../parts/FieldRow.vue';
import { changeSteps } from '../stepEdits.ts';

const props = defineProps<{ source: string }>();
const store = useJob();
const selection = useSelection();

const WORDS: Record<SetSlot, string> = {
  baseColor: 'colour',
  normal: 'normals',
  metallicRoughness: 'roughness and metalness',
  roughness: 'roughness',
  gloss: 'gloss',
  metallic: 'metalness',
  opacity: 'opacity',
  occlusion: 'occlusion',
  emissive: 'glow',
};

const sets = computed(() =>
  textureSets(
    Object.values(store.base.textures).filter(({ source, state }) => source === props.source && state === 'unbound'),
  ),
);
/** Steps that bind a set: told by its pictures. */
const stepsOf = (set: TextureSet) =>
  store.steps.filter(
    (step) =>
      step.kind === 'textures' &&
      Object.values((step.parameters as TexturesParameters).slots).some((id) => Object.values(set.slots).includes(id)),
  );

/** Materials that parts have as the job stands, with the number of parts. */
const materials = computed(() => {
  const counts = new Map<string, number>();
  for (const [id, rows] of partsByMaterial(store.scene)) counts.set(id, rows.length);
  return [...counts]
    .map(([id, count]) => ({ id, count, name: store.scene.materials[id]?.name ?? id }))
    .sort((a, b) => a.name.localeCompare(b.name));
});
const parts = (count: number) => counted(count, 'part');
const choices = computed(() => [
  ...(selection.parts.size > 0 ? [{ value: 'selection', label: `the selection, ${parts(selection.parts.size)}` }] : []),
  ...materials.value.map(({ id, name, count }) => ({ value: `material ${id}`, label: `${name}, ${parts(count)}` })),
]);

function kindsOf({ slots, others }: TextureSet): string {
  const held = (Object.keys(slots) as SetSlot[]).map((slot) => WORDS[slot]);
  return [...new Set(held), ...others.map(({ what }) => `${what} (not bound)`)].join(', ');
}

function bind(set: TextureSet, choice: string): void {
  const [what, id = ''] = choice === 'selection' ? ['selection'] : ['material', choice.slice('material '.length)];
  const selector: Selector = what === 'selection' ? selection.selector : { by: 'material', materials: [id] };
  const parameters: TexturesParameters = { set: set.name, slots: { ...set.slots }, material: id, tile: 1 };
  changeSteps.add('textures', selector, parameters);
}
function belongsTo(parameters: TexturesParameters, selector: Selector): string {
  const { material } = parameters;
  if (!material) return describeSelector(selector);
  return store.base.materials[material]?.name ?? store.scene.materials[material]?.name ?? 'a material that is gone';
}
function setTile(id: string, parameters: TexturesParameters, tile: number): void {
  changeSteps.edit(id, { parameters: { ...parameters, tile } });
}
</script>

<template>
  <div v-if="sets.length" class="sets">
    <div v-for="set in sets" :key="set.name" class="set">
      <p>
        <b>{{ set.name }}</b> <span class="quiet">{{ kindsOf(set) }}</span>
      </p>
      <template v-for="step in stepsOf(set)" :key="step.id">
        <p class="bound">
          <span>on {{ belongsTo(step.parameters as TexturesParameters, step.selector) }}</span>
          <button
            class="plain"
            :aria-label="`Take ${set.name} off again`"
            title="Take off again"
            @click="changeSteps.remove(step.id)"
          >
            ×
          </button>
        </p>
        <FieldRow
          :id="`tile-${step.id}`"
          :field="texturesStep.fields.tile"
          :model-value="(step.parameters as TexturesParameters).tile"
          @update:model-value="setTile(step.id, step.parameters as TexturesParameters, $event as number)"
        />
      </template>
      <!-- Made anew with each binding: it asks for the next one. -->
      <ChoiceField
        :key="stepsOf(set).length"
        :label="`What ${set.name} belongs to`"
        :model-value="undefined"
        :choices="choices"
        :placeholder="stepsOf(set).length ? 'belongs to this too…' : 'belongs to…'"
        empty="No parts yet. Drop the model that it belongs to."
        @update:model-value="$event && bind(set, $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.sets {
  display: grid;
  gap: 10px;
  margin: 6px 0 4px;
  padding-left: 10px;
}
.set {
  display: grid;
  gap: 2px;
}
.bound {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
</style>
