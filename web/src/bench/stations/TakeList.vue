<script setup lang="ts">
/** What of a source is taken: storeys or sub-assemblies, layers, classes. What is unticked becomes a rule that leaves it out. */
import { computed, reactive } from 'vue';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import SearchField from '../SearchField.vue';
import { leaveOut, leftOut } from '../sourceChoices.ts';
import type { LeftOut } from '../sourceChoices.ts';

const props = defineProps<{ source: string }>();
const store = useJob();
const selection = useSelection();

/** Longest list that is shown at once; a longer one can be searched. */
const MOST = 300;
const sought = reactive<Partial<Record<keyof LeftOut, string>>>({});
function found(kind: keyof LeftOut, entries: Entry[]): Entry[] {
  const text = sought[kind]?.trim().toLowerCase();
  return text ? entries.filter(({ name }) => name.toLowerCase().includes(text)) : entries;
}

interface Entry {
  id: string;
  name: string;
  parts: number;
}
interface List {
  title: string;
  kind: keyof LeftOut;
  entries: Entry[];
}

const nodes = computed(() => store.base.nodes.filter((node) => node.source === props.source));
const left = computed(() => leftOut(store.steps, props.source).left);

const lists = computed<List[]>(() => {
  const classes = new Map<string, number>();
  const layers = new Map<string, number>();
  for (const node of nodes.value) {
    if (node.kind !== 'part') continue;
    if (node.class) classes.set(node.class, (classes.get(node.class) ?? 0) + 1);
    if (node.layer) layers.set(node.layer, (layers.get(node.layer) ?? 0) + 1);
  }
  const named = (map: Map<string, number>) =>
    [...map].sort(([a], [b]) => a.localeCompare(b)).map(([name, parts]) => ({ id: name, name, parts }));
  const storeys = nodes.value.filter((node) => node.class === 'IfcBuildingStorey');
  const branches = storeys.length > 0 ? storeys : topBranches();
  const areAssemblies = branches.every(({ kind }) => kind === 'assembly');
  const title = storeys.length > 0 ? 'Storeys' : areAssemblies ? 'Sub-assemblies' : 'Top rows';
  const all: List[] = [
    { title, kind: 'keys', entries: branches.map(entryOf) },
    { title: 'Layers', kind: 'layers', entries: named(layers) },
    { title: 'Classes', kind: 'classes', entries: named(classes) },
  ];
  return all.filter(({ entries }) => entries.length > 1);
});

/** Rows of the first level that has more than one. */
function topBranches(): SceneNode[] {
  let level = nodes.value.filter((node) => node.parent === null);
  while (level.length === 1) {
    const [only] = level;
    const inner = nodes.value.filter((node) => node.parent === only.id);
    if (inner.length === 0) break;
    level = inner;
  }
  return level;
}

const partsBelow = computed(() => {
  const out = new Map<number, number>();
  for (let i = nodes.value.length - 1; i >= 0; i--) {
    const { id, parent, kind } = nodes.value[i];
    const own = (out.get(id) ?? 0) + (kind === 'part' ? 1 : 0);
    out.set(id, own);
    if (parent !== null) out.set(parent, (out.get(parent) ?? 0) + own);
  }
  return out;
});

function entryOf(node: SceneNode): Entry {
  const elevation = node.properties?.Elevation;
  return {
    id: node.key,
    name: elevation ? `${node.name}, ${elevation}` : node.name,
    parts: partsBelow.value.get(node.id) ?? 0,
  };
}

const out = computed(() => left.value.layers.length + left.value.classes.length + left.value.keys.length);

function toggle(kind: keyof LeftOut, id: string): void {
  const list = left.value[kind];
  const next = list.includes(id) ? list.filter((other) => other !== id) : [...list, id];
  leaveOut(props.source, { ...left.value, [kind]: next });
}

function setAll(kind: keyof LeftOut, entries: Entry[], taken: boolean): void {
  leaveOut(props.source, { ...left.value, [kind]: taken ? [] : entries.map(({ id }) => id) });
}

function pick(kind: keyof LeftOut, id: string): void {
  const found = store.scene.nodes.filter(
    (node) =>
      node.source === props.source &&
      (kind === 'keys' ? node.key === id : kind === 'layers' ? node.layer === id : node.class === id),
  );
  selection.pick(found.map((node) => node.key));
}
</script>

<template>
  <details v-for="{ title, kind, entries } in lists" :key="kind">
    <summary>
      {{ formatCount(entries.length) }} {{ title.toLowerCase()
      }}<span v-if="left[kind].length" class="warn">, {{ formatCount(left[kind].length) }} left out</span>
    </summary>
    <SearchField v-model="sought[kind]" :count="entries.length" :of="title.toLowerCase()" />
    <ul class="take">
      <li class="quiet all">
        <button class="plain" :disabled="!left[kind].length" @click="setAll(kind, entries, true)">take all</button>
        <button class="plain" :disabled="left[kind].length === entries.length" @click="setAll(kind, entries, false)">
          none
        </button>
        <span>parts</span>
      </li>
      <li v-for="entry in found(kind, entries).slice(0, MOST)" :key="entry.id">
        <input
          type="checkbox"
          :checked="!left[kind].includes(entry.id)"
          :aria-label="`Take ${entry.name}`"
          @change="toggle(kind, entry.id)"
        />
        <button class="plain name" :title="`Select ${entry.name}`" @click="pick(kind, entry.id)">
          {{ entry.name }}</button><span>{{ formatCount(entry.parts) }}</span>
      </li>
      <li v-if="found(kind, entries).length === 0" class="quiet all">Nothing is called “{{ sought[kind] }}”.</li>
      <li v-if="found(kind, entries).length > MOST" class="quiet all">
        and {{ formatCount(found(kind, entries).length - MOST) }} more: find them by name
      </li>
    </ul>
  </details>
  <p v-if="out" class="quiet note">Left out until ticked again; nothing is computed of it.</p>
</template>

<style scoped>
details {
  margin-top: 4px;
}
summary {
  cursor: pointer;
  color: var(--ink-2);
}
.take {
  max-height: 260px;
  overflow-y: auto;
  padding-left: 10px;
}
li {
  display: grid;
  grid-template-columns: 20px 1fr auto;
  align-items: center;
  min-height: 24px;
}
li.all {
  display: flex;
  gap: 10px;
}
li.all span {
  margin-left: auto;
}
.name {
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.note {
  margin-top: 4px;
}
</style>
