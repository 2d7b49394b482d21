/** What is selected and what is hidden: one thing, shared by ledger, view and spectrum. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { factsOf } from '@noble-prism/core/scene/facts';
import { ASSEMBLY, PART } from '@noble-prism/core/scene/nodes';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { withDescendants } from '@noble-prism/core/scene/tree';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import type { Selector } from '@noble-prism/core/select/select';
import { useJob } from './job.ts';

export const useSelection = defineStore('selection', () => {
  const job = useJob();
  /** Keys of the nodes picked: keys survive renaming, re-evaluation and new revisions. */
  const keys = shallowRef<ReadonlySet<string>>(new Set());
  const hiddenKeys = shallowRef<ReadonlySet<string>>(new Set());
  /** Rows that a rule finds while it is being chosen: the view outlines them instead of the selection. */
  const outlined = shallowRef<Rows>();
  /** Somebody waits for a row: the next one that is picked is for them, and the selection stays. */
  const wanted = shallowRef<{ id: string; words: string; take(key: string): void }>();
  /** Counts up when the view should frame the selection. */
  const frameWish = ref(0);

  const rowsOf = (picked: ReadonlySet<string>) => {
    const facts = factsOf(job.scene);
    const out = new Set<number>();
    for (const key of picked) {
      const row = facts.rowOf(key);
      if (row !== undefined) out.add(row);
    }
    return out;
  };
  /** Rows picked, in the order of the tree. */
  const ids = computed(() => [...rowsOf(keys.value)].sort((a, b) => a - b));
  const nodes = computed<SceneNode[]>(() => ids.value.map((row) => job.scene.nodes.row(row)));
  /** The selection with everything below it. */
  const deep = computed(() => withDescendants(job.scene, new Set(ids.value)));
  /** Rows of the selection that are parts. */
  const parts = computed(() => partsAmong(job.scene, deep.value));
  const hidden = computed(() => withDescendants(job.scene, rowsOf(hiddenKeys.value)));
  /** The rule that a new step gets: the selection, or everything where nothing is selected. */
  const selector = computed<Selector>(() =>
    keys.value.size > 0 ? { by: 'picked', keys: [...keys.value] } : { by: 'all' },
  );

  function pick(picked: Iterable<string>, how: 'set' | 'toggle' | 'add' = 'set'): void {
    if (wanted.value) {
      const [key] = picked;
      // A click beside everything chooses nothing.
      if (key === undefined) return;
      const { take } = wanted.value;
      wanted.value = undefined;
      return take(key);
    }
    if (how === 'set') keys.value = new Set(picked);
    else {
      const next = new Set(keys.value);
      const list = [...picked];
      const remove = how === 'toggle' && list.every((key) => next.has(key));
      for (const key of list)
        if (remove) next.delete(key);
        else next.add(key);
      keys.value = next;
    }
  }

  /** Asks for a row, or for none any more. */
  function want(next?: typeof wanted.value): void {
    wanted.value = next;
  }

  function hide(): void {
    hiddenKeys.value = new Set([...hiddenKeys.value, ...keys.value]);
    keys.value = new Set();
  }

  function isolate(): void {
    if (keys.value.size === 0) return;
    hiddenKeys.value = new Set(othersThan(job.scene, deep.value).map((row) => job.scene.nodes.key(row)));
    frameWish.value++;
  }

  function showAll(): void {
    hiddenKeys.value = new Set();
  }

  return {
    keys, ids, nodes, deep, parts, hidden, hiddenKeys, selector, frameWish, outlined, wanted,
    pick, hide, isolate, showAll, clear: () => pick([]), want, frame: () => frameWish.value++,
  }; // prettier-ignore
});

/** The parts among some rows. */
export function partsAmong({ nodes }: Scene, rows: Rows): Rows {
  if (rows.size === 0) return rows;
  const { kind } = nodes.columns;
  const mask = rows.mask.slice();
  for (let row = 0; row < mask.length; row++) if (kind[row] !== PART) mask[row] = 0;
  return new Rows(mask);
}

/** The rows to hide so that only some are left: as few as can be, whole branches where nothing of them is to be seen. */
function othersThan(scene: Scene, kept: Rows): number[] {
  const facts = factsOf(scene);
  const { kind } = scene.nodes.columns;
  const { order } = facts;
  const { parent } = scene.nodes.columns;
  const holds = kept.mask.slice();
  for (let i = order.length - 1; i >= 0; i--)
    if (holds[order[i]] === 1 && parent[order[i]] >= 0) holds[parent[order[i]]] = 1;
  const out: number[] = [];
  const open = [facts.childrenOf(null)];
  for (let rows = open.pop(); rows; rows = open.pop())
    for (const row of rows) {
      if (kept.has(row)) continue;
      if (holds[row] === 0) out.push(row);
      // A part that holds what is kept is hidden by itself only where it is no group.
      else if (kind[row] === ASSEMBLY) open.push(facts.childrenOf(row));
    }
  return out;
}
