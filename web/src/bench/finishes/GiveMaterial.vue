<script setup lang="ts">
/** Another material for what is selected, within a scope that is said, counted and outlined before it is applied. */
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { givenEverywhere, givenToLayer, givenToRows } from '@noble-prism/core/finish/scopes';
import { libraryId } from '@noble-prism/core/finish/library/given';
import { partsByMaterial } from '@noble-prism/core/scene/parts';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { select } from '@noble-prism/core/select/select';
import type { Scene } from '@noble-prism/core/scene/types';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import { counted, formatArea } from '@noble-prism/core/units';
import PanelSection from '../../parts/PanelSection.vue';
import { useFaces } from '../../stores/faces.ts';
import { useJob } from '../../stores/job.ts';
import { partsAmong, useSelection } from '../../stores/selection.ts';
import MaterialField from './MaterialField.vue';
import { useMaterialChoices } from './materialChoices.ts';
import { useKnown } from '../known.ts';
import { newId } from '../stepEdits.ts';
import { withLaterRule } from './laterSchedule.ts';
import { paintFaces } from './paintFaces.ts';
import type { ChangeRules, ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule }>();
const store = useJob();
const selection = useSelection();
const faces = useFaces();
const known = useKnown();
const { nameOf, colourOf } = useMaterialChoices();

/** Id of the schedule that is made behind steps that make materials. */
let laterId = newId();

const material = ref<string>();
const chosen = ref('selection');
/** The scene as it is without what is tried. */
const shown = shallowRef<Scene>(store.scene);
watch(
  () => [store.scene, props.schedule.tried.value] as const,
  ([scene, tried]) => {
    if (!tried && !store.trial) shown.value = scene;
  },
  { immediate: true },
);

interface Scope {
  id: string;
  label: string;
  /** How much it is, for people. */
  count: string;
  rows: Rows;
  /** How the rules of the schedule are to be; absent for faces, which are no matter of rules, and where steps behind it make the material. */
  make?(to: string): ChangeRules;
  /** The rule for a schedule behind the step that makes the material. */
  later?(to: string): FinishRule;
}
/** Materials of one selection that are offered to be changed everywhere, at most. */
const MOST = 4;

const scopes = computed<Scope[]>(() => {
  if (faces.picked.length === 0) return scopesOfParts();
  const rows = Rows.of(shown.value.nodes.rows, faces.picked.map(({ row }) => row)); // prettier-ignore
  const count = `${counted(faces.picked.length, 'face')}, ${formatArea(faces.area, 'mm')}`;
  return [{ id: 'faces', label: faces.picked.length === 1 ? 'This face' : 'These faces', count, rows }];
});

function scopesOfParts(): Scope[] {
  const { parts, keys } = selection;
  const scene = shown.value;
  if (parts.size === 0 || scene.nodes.rows === 0) return [];
  const out: Omit<Scope, 'count'>[] = [];
  const { nodes } = scene;
  const of = (rows: Iterable<number>) => Rows.of(nodes.rows, rows);
  const last = [...keys].at(-1);
  const [single] = selection.nodes.filter(({ key, kind }) => key === last && kind === 'part');
  if (single)
    out.push({ id: 'part', label: `This part, ${single.name}`, rows: of([single.id]), make: (to) => (rules) => givenToRows(rules, [single.key], to) }); // prettier-ignore
  if (parts.size > 1)
    out.push({ id: 'selection', label: 'The selection', rows: parts, make: (to) => (rules) => givenToRows(rules, [...keys], to) }); // prettier-ignore
  const layers = new Set([...parts].map((row) => nodes.word('layer', row)));
  for (const layer of layers)
    if (layer && layers.size <= MOST) {
      const rows = partsAmong(scene, select(scene, { by: 'layer', layers: [layer] }));
      out.push({ id: `layer ${layer}`, label: `Layer ${layer}`, rows, make: (to) => (rules) => givenToLayer(rules, layer, to) }); // prettier-ignore
    }
  const users = usersIn(scene);
  const had = usersIn(props.schedule.before.value);
  const used = [...users].filter(([, rows]) => rows.some((row) => parts.has(row)));
  for (const [id, rows] of used.slice(0, MOST)) {
    const name = id === 'none' ? 'there is no material' : `${known.material(id)} is used`;
    const isKnown = had.has(id) || props.schedule.rules.value.some((rule) => rule.material === id);
    const how = isKnown
      ? { make: (to: string): ChangeRules => (rules) => givenEverywhere(rules, id, to, had.has(id)) } // prettier-ignore
      : { later: (to: string): FinishRule => ({ which: { by: 'material', materials: [id] }, material: to }) };
    out.push({ id: `material ${id}`, label: `Everywhere ${name}`, rows: of(rows), ...how });
  }
  return out.map((one) => ({ ...one, count: counted(one.rows.size, 'part') }));
}
/** Parts by the materials that they show; one of the library is the same however its pictures lie. */
function usersIn(scene: Scene): Map<string, number[]> {
  const out = new Map<string, Set<number>>();
  for (const [id, rows] of partsByMaterial(scene)) {
    const all = out.get(libraryId(id)) ?? new Set<number>();
    for (const row of rows) all.add(row);
    out.set(libraryId(id), all);
  }
  return new Map([...out].map(([id, rows]) => [id, [...rows]]));
}
const scope = computed(() => scopes.value.find(({ id }) => id === chosen.value) ?? scopes.value[0]);
/** Scopes as they stand in the list: what is tried does not change the list. */
const tries = ref(false);

function show(): void {
  if (!material.value || !scope.value) return;
  tries.value = true;
  const { make, later } = scope.value;
  if (make) props.schedule.tryOut(make(material.value));
  else if (later)
    store.tryOut({ step: laterId, title: finishesStep.title, make: withLaterRule(later(material.value), laterId) });
  else faces.tried = colourOf(material.value) || undefined;
}
function choose(id: string): void {
  chosen.value = id;
  outline(scope.value);
  show();
}
function give(to: string | undefined): void {
  material.value = to;
  show();
}
function outline(of: Scope | undefined): void {
  selection.outlined = of?.rows;
}
function cancel(): void {
  // Faces are tried by their colour alone.
  if (tries.value && store.trial?.title === finishesStep.title) store.tryOut();
  end();
}
function end(): void {
  tries.value = false;
  material.value = faces.tried = undefined;
}
function apply(): void {
  if (!material.value || !scope.value) return;
  const { label, make, later } = scope.value;
  const note = `${nameOf(material.value)} given: ${label.toLowerCase()}`;
  if (make) props.schedule.change(note, make(material.value));
  else if (later) {
    store.change(note, withLaterRule(later(material.value), laterId));
    laterId = newId();
  } else {
    paintFaces(shown.value, faces.picked, material.value);
    faces.picked = [];
  }
  end();
}
// What is tried belongs to what was selected.
watch(() => [selection.keys, faces.picked], cancel);
onBeforeUnmount(cancel);
</script>

<template>
  <PanelSection title="Give a material" class="give">
    <p v-if="!scopes.length" class="quiet">
      Select parts in the view or the ledger, or
      <button class="plain link" @click="faces.active || faces.toggle()">single faces</button>.
    </p>
    <template v-else>
      <MaterialField
        label="Material to give"
        :model-value="material"
        placeholder="choose a material"
        @update:model-value="give"
      />
      <div role="radiogroup" aria-label="How far it goes" @pointerleave="outline(undefined)">
        <label
          v-for="one in scopes"
          :key="one.id"
          @pointerenter="outline(one)"
          @focusin="outline(one)"
          @focusout="outline(undefined)"
        >
          <input type="radio" name="give-scope" :checked="one.id === scope?.id" @change="choose(one.id)" />
          <span class="label">{{ one.label }}</span>
          <span class="quiet">{{ one.count }}</span>
        </label>
      </div>
      <div v-if="material && scope" class="buttons">
        <button class="act first" @click="apply">
          Give to {{ scope.make || scope.later ? scope.count : counted(faces.picked.length, 'face') }}
        </button>
        <button class="act" @click="cancel">Cancel</button>
      </div>
    </template>
  </PanelSection>
</template>

<style scoped>
.give {
  font-size: 12px;
}
[role='radiogroup'] {
  margin: 6px 0;
}
label {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) max-content;
  gap: 6px;
  align-items: center;
  padding: 3px 0;
  cursor: pointer;
}
.label {
  overflow-wrap: anywhere;
}
input {
  margin: 0;
}
.buttons {
  display: flex;
  gap: 8px;
}
</style>
