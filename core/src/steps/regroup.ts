/** Step: give parts another structure: a group for each layer, material, class, storey or source; none at all; or that as received. */
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { IDENTITY, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { GONE, MADE, PART } from '../scene/nodes.ts';
import { Rehanging, removeEmptied } from '../scene/rehang.ts';
import type { RowSet } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';
import { storeysOf } from '../select/storeyOf.ts';
import { defineStep, WHEREVER } from './kind.ts';
import type { Outcome } from './kind.ts';
import { keyFor } from './made.ts';

export interface RegroupParameters {
  by: 'layer' | 'material' | 'class' | 'storey' | 'source' | 'nothing' | 'received';
}

const TITLES: Record<RegroupParameters['by'], string> = {
  layer: 'layer',
  material: 'material',
  class: 'class',
  storey: 'storey',
  source: 'source',
  nothing: 'flat, no groups',
  received: 'as received',
};

export const regroupStep = defineStep<RegroupParameters>({
  kind: 'regroup',
  title: 'Regroup',
  purpose: 'Gives parts another structure: by layer, material, class, storey or source, flat, or as received; nothing moves.',
  also: ['flatten', 'sort', 'hierarchy', 'collections', 'restore the structure', 'tree'],
  act: 'Regroup',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    by: {
      type: 'choice',
      label: 'By',
      called: 'structure',
      choices: (Object.keys(TITLES) as RegroupParameters['by'][]).map((value) => ({ value, label: TITLES[value] })),
      help: 'Each source keeps groups of its own. Assemblies that hold nothing any more go.',
    },
  },
  defaults: { by: 'layer' },

  summary: ({ by }) => (by === 'nothing' || by === 'received' ? TITLES[by] : `by ${TITLES[by]}`),

  apply: (edit, rows, { by }) => (by === 'received' ? asReceived(edit, rows) : regrouped(edit, rows, by)),
}); // prettier-ignore

/** Parts that are below no other part: what is below a part goes with it. */
function partsOf(scene: Scene, rows: RowSet): number[] {
  const { kind, parent } = scene.nodes.columns;
  const inside = new Uint8Array(scene.nodes.rows);
  const out: number[] = [];
  for (const row of factsOf(scene).order) {
    const above = parent[row];
    if (above >= 0 && (inside[above] === 1 || kind[above] === PART)) inside[row] = 1;
    else if (kind[row] === PART && rows.has(row)) out.push(row);
  }
  return out;
}

function regrouped(edit: SceneEditor, rows: RowSet, by: Exclude<RegroupParameters['by'], 'received'>): Outcome {
  const { scene } = edit;
  const { nodes } = scene;
  const parts = partsOf(scene, rows);
  const parentAfter = nodes.columns.parent.slice();
  const hanging = new Rehanging(edit);
  const groups = by === 'nothing' ? undefined : groupsFor(edit, hanging, parts, by);
  for (const [i, row] of parts.entries()) {
    const to = groups ? groups[i] : -1;
    hanging.hang(row, to);
    // New groups stand behind all rows that there are: they are not emptied.
    parentAfter[row] = -1;
  }
  for (const row of hanging.stuck) parentAfter[row] = nodes.columns.parent[row];
  removeEmptied(edit, parentAfter);
  return { pending: 0, problems: hanging.problems };
}

/** The new group of each part. */
function groupsFor(
  edit: SceneEditor,
  hanging: Rehanging,
  parts: readonly number[],
  by: Exclude<RegroupParameters['by'], 'nothing' | 'received'>,
): Int32Array {
  const { scene } = edit;
  const facts = factsOf(scene);
  const { source } = scene.nodes.columns;
  const valueOf = valuesBy(scene, by);
  /** By source and value. */
  const members = new Map<string, { value: string; source: number; parts: number[] }>();
  parts.forEach((row, i) => {
    const value = valueOf(row);
    const key = `${source[row]} ${value}`;
    const known = members.get(key);
    if (known) known.parts.push(i);
    else members.set(key, { value, source: source[row], parts: [i] });
  });
  const out = new Int32Array(parts.length);
  const taken = new Set<string>();
  const add = (name: string, word: number, parent: number, called: string): number => {
    const slot = scene.nodes.tables.words.get(word);
    const key = keyFor(facts, slot, called, taken);
    taken.add(key);
    const group = edit.add({ name, kind: 'assembly', key, source: slot, parent: parent < 0 ? null : parent });
    hanging.made(group, IDENTITY);
    return group;
  };
  // The same layer of two sources would be two rows of one name: each source has a row of its own above them.
  const areSeveral = by !== 'source' && new Set(parts.map((row) => source[row])).size > 1;
  const names = new Map(scene.sources.map(({ id, name }) => [id, name]));
  const tops = new Map<number, number>();
  const topOf = (word: number): number => {
    if (!areSeveral) return -1;
    let top = tops.get(word);
    if (top === undefined) {
      const slot = scene.nodes.tables.words.get(word);
      tops.set(word, (top = add(names.get(slot) ?? slot, word, -1, 'source')));
    }
    return top;
  };
  // As people would list them; what has no such value stands last.
  const sorted = [...members.values()].sort((a, b) => a.source - b.source || compare(a.value, b.value));
  for (const { value, source: word, parts: own } of sorted) {
    const name = value === '' ? `without ${TITLES[by]}` : value;
    const group = add(name, word, topOf(word), `${by} ${name}`);
    for (const i of own) out[i] = group;
  }
  return out;
}

const collator = new Intl.Collator('en', { numeric: true });
const compare = (a: string, b: string) => (a === '') === (b === '') ? collator.compare(a, b) : a === '' ? 1 : -1; // prettier-ignore

function valuesBy(scene: Scene, by: Exclude<RegroupParameters['by'], 'nothing' | 'received'>): (row: number) => string {
  const { nodes } = scene;
  switch (by) {
    case 'layer':
    case 'class':
      return (row) => nodes.word(by, row);
    case 'source': {
      const names = new Map(scene.sources.map(({ id, name }) => [id, name]));
      return (row) => names.get(nodes.word('source', row)) ?? '';
    }
    case 'storey': {
      const storeys = storeysOf(nodes);
      return (row) => (storeys[row] < 0 ? '' : nodes.text('name', storeys[row]));
    }
    case 'material': {
      const { lists, words } = nodes.tables;
      // A part with several is where its first one is: that of its largest faces is not known before it is tessellated.
      return (row) => {
        const [first] = lists.get(nodes.columns.materials[row]);
        return first === undefined ? '' : (scene.materials[words.get(first)]?.name ?? '');
      };
    }
  }
}

/** Hangs rows where the source has them; assemblies that were taken out come back for it, and groups that are then empty go. */
function asReceived(edit: SceneEditor, rows: RowSet): Outcome {
  const { scene } = edit;
  const { nodes } = scene;
  const facts = factsOf(scene);
  const { kind, origin, flags, parent } = nodes.columns;
  const parentAfter = parent.slice();
  const hanging = new Rehanging(edit);
  const back = new Set<number>();
  /** Brings back an assembly that was taken out, under what it hung under, where it stood in that. */
  const bringBack = (row: number): Matrix => {
    if (row < 0) return IDENTITY;
    if (kind[row] !== GONE || back.has(row)) return hanging.worldOf(row);
    // A list rather than calls in calls: a source may be very deep.
    const chain: number[] = [];
    for (let at = row; at >= 0 && kind[at] === GONE && !back.has(at); at = origin[at]) chain.push(at);
    for (let next = chain.pop(); next !== undefined; next = chain.pop()) {
      back.add(next);
      const world = multiply(hanging.worldOf(origin[next]), nodes.place(next));
      hanging.made(next, world);
      edit.setKind(next, 'assembly');
      edit.setParent(next, origin[next] < 0 ? null : origin[next]);
      parentAfter[next] = origin[next];
    }
    return hanging.worldOf(row);
  };
  for (const row of facts.order) {
    if (!rows.has(row) || (flags[row] & MADE) !== 0) continue;
    bringBack(origin[row]);
    hanging.hang(row, origin[row]);
    parentAfter[row] = origin[row];
  }
  for (const row of hanging.stuck) parentAfter[row] = parent[row];
  // What was received stays, empty or not; groups that steps made go when they hold nothing any more.
  removeEmptied(edit, parentAfter, (row) => (flags[row] & MADE) !== 0);
  return { pending: 0, problems: hanging.problems };
}
