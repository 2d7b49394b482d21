<script setup lang="ts">
/** The material library: all that there is in families, looked at, given to the selection, copied and edited. */
import Dialog from 'primevue/dialog';
import { computed, ref, watch } from 'vue';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { FAMILIES } from '@noble-prism/core/finish/library/entry';
import { LIBRARY, libraryMaterial } from '@noble-prism/core/finish/library/library';
import { OWN, ownCopy, shownAlone } from '@noble-prism/core/finish/library/own';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import { libraryId } from '@noble-prism/core/finish/library/given';
import { roundTripError, specularGloss } from '@noble-prism/core/finish/specularGloss';
import { givenToRows } from '@noble-prism/core/finish/scopes';
import type { Material } from '@noble-prism/core/scene/types';
import { counted, formatLength, formatNumber } from '@noble-prism/core/units';
import FactList from '../../parts/FactList.vue';
import { useJob } from '../../stores/job.ts';
import { useLibrary } from '../../stores/library.ts';
import { useSelection } from '../../stores/selection.ts';
import { ranked } from '../../parts/wordRank.ts';
import MaterialBall from './MaterialBall.vue';
import OwnMaterialForm from './OwnMaterialForm.vue';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule }>();
const visible = defineModel<boolean>('visible', { required: true });
const store = useJob();
const selection = useSelection();
const library = useLibrary();
watch(visible, (open) => open && void library.load(), { immediate: true });

interface Shown {
  material: Material;
  family: string;
  also: string;
  own?: OwnMaterial;
}
const OWN_FAMILY = 'Own';
const all = computed<Shown[]>(() => [
  ...library.own.map((own) => ({ material: shownAlone(own), family: OWN_FAMILY, also: '', own })),
  ...LIBRARY.map((material) => ({ material, family: material.family, also: material.also })),
]);
const sought = ref('');
const families = computed(() => {
  const found = ranked(all.value, sought.value, ({ material, family, also }) => ({ title: material.name, also: [also, family] })); // prettier-ignore
  return [OWN_FAMILY, ...FAMILIES].flatMap((family) => {
    const list = found.filter((one) => one.family === family);
    return list.length > 0 ? [{ family, list }] : [];
  });
});
const count = computed(() => families.value.reduce((sum, { list }) => sum + list.length, 0));

const chosen = ref(LIBRARY[0].id);
const shown = computed(() => all.value.find(({ material }) => material.id === chosen.value) ?? all.value[0]);
/** What is edited, as it is by now. */
const edited = ref<{ own: OwnMaterial; fresh: boolean }>();
const ball = computed<Material>(() => (edited.value ? shownAlone(edited.value.own) : shown.value.material));

const percent = (value: number) => `${formatNumber(value * 100)} %`;
const facts = computed(() => {
  const { metallic, roughness, opacity, transmission, ior, clearcoat, emissive, baseColor } = shown.value.material;
  const size = shown.value.own?.size ?? libraryMaterial(shown.value.material.id)?.made?.size;
  return [
    { name: 'Colour', value: hexFromLinear(baseColor) },
    { name: 'Metalness', value: percent(metallic) },
    { name: 'Roughness', value: percent(roughness) },
    ...(opacity < 1 ? [{ name: 'Opacity', value: percent(opacity) }] : []),
    ...(transmission ? [{ name: 'Transmission', value: percent(transmission) }] : []),
    ...(ior ? [{ name: 'Refraction', value: formatNumber(ior, 4) }] : []),
    ...(clearcoat ? [{ name: 'Clear coat', value: percent(clearcoat) }] : []),
    ...(emissive ? [{ name: 'Glow', value: `× ${formatNumber(Math.max(...emissive))}` }] : []),
    ...(size === undefined ? [] : [{ name: 'Pictures cover', value: formatLength(size, 'm') }]),
    ...workflow.value,
  ];
});

/** The same for programs that ask for diffuse, specular and gloss, and what is lost on the way there and back. */
const workflow = computed(() => {
  const { diffuse, specular, glossiness } = specularGloss(shown.value.material);
  return [
    { name: 'As diffuse', value: hexFromLinear(diffuse) },
    { name: 'Specular', value: hexFromLinear(specular) },
    { name: 'Gloss', value: percent(glossiness) },
    { name: 'There and back', value: `${percent(roundTripError(shown.value.material))} off` },
  ];
});

const newId = () => `${OWN}${crypto.randomUUID().slice(0, 12)}`;
function copy(): void {
  const { material, own } = shown.value;
  const id = newId();
  const name = `${material.name}, copy`;
  const made: OwnMaterial = own ? { ...own, material: { ...own.material, id, name } } : ownCopy(material, {}, id, name);
  edited.value = { own: made, fresh: true };
}
/** The material that the selection shows, where it is one that came with the job. */
const ofSelection = computed<Material | undefined>(() => {
  const [part] = selection.nodes.length === 1 ? selection.nodes : [];
  const id = part?.materials.find((one) => !libraryMaterial(libraryId(one)) && !one.startsWith(OWN) && one !== 'none');
  return id === undefined ? undefined : store.scene.materials[id];
});
function take(material: Material): void {
  edited.value = { own: ownCopy(material, store.scene.textures, newId(), material.name), fresh: true };
}
function done(id: string | undefined): void {
  edited.value = undefined;
  if (id !== undefined) chosen.value = id;
}
async function remove(): Promise<void> {
  await library.remove(shown.value.material.id);
}
function give(): void {
  const { id, name } = shown.value.material;
  props.schedule.change(`${name} given to the selection`, (rules) => givenToRows(rules, [...selection.keys], id));
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Material library" class="library-sheet" :style="{ width: '1040px' }">
    <div class="library">
      <div class="all">
        <div class="search">
          <span class="line-field"
            ><input
              v-model="sought"
              type="search"
              aria-label="Find a material"
              placeholder="Find a material: oak, brushed, floor …"
          /></span>
          <span class="quiet" role="status">{{ counted(count, 'material') }}</span>
        </div>
        <div class="list">
          <p v-if="count === 0" class="quiet">Nothing is called so.</p>
          <section v-for="{ family, list } in families" :key="family" :aria-label="family">
            <h3 class="caps">{{ family }}</h3>
            <div class="grid">
              <button
                v-for="one in list"
                :key="one.material.id"
                class="card"
                :class="{ chosen: one.material.id === shown.material.id }"
                :aria-pressed="one.material.id === shown.material.id"
                :title="one.material.name"
                @click="chosen = one.material.id"
              >
                <MaterialBall :material="one.material" :size="54" />
                <span>{{ one.material.name }}</span>
              </button>
            </div>
          </section>
        </div>
      </div>
      <div class="one">
        <MaterialBall :material="ball" :size="150" class="large" />
        <OwnMaterialForm
          v-if="edited"
          :own="edited.own"
          :fresh="edited.fresh"
          @change="edited = { ...edited, own: $event }"
          @done="done"
        />
        <template v-else>
          <h3>{{ shown.material.name }}</h3>
          <p class="quiet">{{ shown.family }}</p>
          <FactList :facts="facts" />
          <div class="buttons">
            <button class="act first" :disabled="selection.parts.size === 0" @click="give">
              {{
                selection.parts.size === 0
                  ? 'Give to the selection'
                  : `Give to ${counted(selection.parts.size, 'part')}`
              }}
            </button>
            <button v-if="shown.own" class="act" @click="edited = { own: shown.own, fresh: false }">Edit</button>
            <button class="act" @click="copy">Copy and edit</button>
            <button v-if="shown.own" class="act" @click="remove">Delete</button>
          </div>
          <p v-if="ofSelection" class="note">
            <button class="plain link" @click="take(ofSelection)">
              Keep “{{ ofSelection.name }}” of the selection
            </button>
          </p>
          <p v-if="library.error" class="bad" role="alert">{{ library.error }}</p>
        </template>
      </div>
    </div>
  </Dialog>
</template>

<style scoped>
.library {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 290px;
  gap: 24px;
  height: min(600px, 74vh);
}
.all {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.search {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content;
  gap: 12px;
  align-items: baseline;
}
.list {
  overflow-y: auto;
  scrollbar-width: thin;
  padding-right: 8px;
}
section h3 {
  margin: 14px 0 4px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  gap: 2px;
}
.card {
  display: grid;
  justify-items: center;
  align-content: start;
  gap: 4px;
  padding: 7px 4px;
  background: none;
  border: 1px solid transparent;
  border-radius: 3px;
  cursor: pointer;
  font-size: 11px;
  line-height: 1.25;
  text-align: center;
}
.card:hover {
  background: var(--iris-wash);
}
.card.chosen {
  border-color: var(--iris);
  background: var(--iris-wash);
}
.one {
  overflow-y: auto;
  scrollbar-width: thin;
  font-size: 12px;
}
.one h3 {
  font: 600 15px var(--serif);
}
.large {
  display: block;
  margin: 4px auto 12px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 12px;
}
.note {
  margin-top: 10px;
}
</style>
