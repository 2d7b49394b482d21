<script setup lang="ts">
/** What of a source is taken: storeys or sub-assemblies, layers, classes. What is unticked becomes a rule that leaves it out. */
import { computed, reactive } from 'vue';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import { factsOf } from '@noble-prism/core/scene/facts';
import { PART } from '@noble-prism/core/scene/nodes';
import { partsByWord } from '@noble-prism/core/scene/parts';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import SearchField from '../../parts/SearchField.vue';
import { leaveOut, leftOut } from './sourceChoices.ts';
import type { LeftOut } from './sourceChoices.ts';

const props = defineProps<{ source: string }>();
const store = useJob();
const selection = useSelection();

/** Longest list that is shown at once; a longer one can be searched. */
const MOST = 300;
/** More rows than this at the top are none that anybody chooses one by one. */
const MOST_BRANCHES = 5000;
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

const facts = computed(() => factsOf(store.base));
/** Rows at the top of the source. */
const roots = computed(() => {
  const { nodes } = store.base;
  return [...facts.value.childrenOf(null)].filter((row) => nodes.word('source', row) === props.source);
});
const left = computed(() => leftOut(store.steps, props.source).left);

const lists = computed<List[]>(() => {
  const { nodes } = store.base;
  const named = (column: 'layer' | 'class') =>
    [...partsByWord(nodes, column, props.source)]
      .sort(([a], [b]) => a.localeCompare(b))
      .map(([name, rows]) => ({ id: name, name, parts: rows.length }));
  const ofSource = select(store.base, { by: 'source', sources: [props.source] });
  const storeys = [...select(store.base, { by: 'class', classes: ['IfcBuildingStorey'] })]
    .filter((row) => ofSource.has(row))
    .map((row) => nodes.row(row));
  const branches = storeys.length > 0 ? storeys : topBranches();
  const areAssemblies = branches.every(({ kind }) => kind === 'assembly');
  const title = storeys.length > 0 ? 'Storeys' : areAssemblies ? 'Sub-assemblies' : 'Top rows';
  const all: List[] = [
    { title, kind: 'keys', entries: branches.map(entryOf) },
    { title: 'Layers', kind: 'layers', entries: named('layer') },
    { title: 'Classes', kind: 'classes', entries: named('class') },
  ];
  return all.filter(({ entries }) => entries.length > 1);
});

/** Rows of the first level that has more than one. */
function topBranches(): SceneNode[] {
  let level: readonly number[] = roots.value;
  while (level.length === 1) {
    const inner = [...facts.value.childrenOf(level[0])];
    if (inner.length === 0) break;
    level = inner;
  }
  // A crowd without groups is no list to choose from.
  return level.length > MOST_BRANCHES ? [] : level.map((row) => store.base.nodes.row(row));
}

const partsBelow = computed(() => {
  const { kind, parent } = store.base.nodes.columns;
  const out = new Int32Array(kind.length);
  const { order } = facts.value;
  for (let i = order.length - 1; i >= 0; i--) {
    const row = order[i];
    if (kind[row] === PART) out[row]++;
    if (parent[row] >= 0) out[parent[row]] += out[row];
  }
  return out;
});

function entryOf(node: SceneNode): Entry {
  const elevation = node.properties?.Elevation;
  return {
    id: node.key,
    name: elevation ? `${node.name}, ${elevation}` : node.name,
    parts: partsBelow.value[node.id],
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
  if (kind === 'keys') return selection.pick([id]);
  const { scene } = store;
  const rule: Selector = kind === 'layers' ? { by: 'layer', layers: [id] } : { by: 'class', classes: [id] };
  const found = select(scene, { by: 'and', of: [{ by: 'source', sources: [props.source] }, rule] });
  selection.pick([...found].map((row) => scene.nodes.key(row)));
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
          {{ entry.name }}</button
        ><span>{{ formatCount(entry.parts) }}</span>
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
