/** What is selected and what is hidden: one thing, shared by ledger, view and spectrum. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { withDescendants } from '@noble-prism/core/scene/tree';
import type { SceneNode } from '@noble-prism/core/scene/types';
import type { Selector } from '@noble-prism/core/preparation/selector';
import { useJob } from './job.ts';

export const useSelection = defineStore('selection', () => {
  const job = useJob();
  /** Keys of the nodes picked: keys survive renaming, re-evaluation and new revisions. */
  const keys = shallowRef<ReadonlySet<string>>(new Set());
  const hiddenKeys = shallowRef<ReadonlySet<string>>(new Set());
  /** Counts up when the view should frame the selection. */
  const frameWish = ref(0);

  const ids = computed(() => {
    const out = new Set<number>();
    if (keys.value.size > 0) for (const node of job.scene.nodes) if (keys.value.has(node.key)) out.add(node.id);
    return out;
  });
  const nodes = computed<SceneNode[]>(() => job.scene.nodes.filter((node) => ids.value.has(node.id)));
  /** The selection with everything below it. */
  const deep = computed(() => withDescendants(job.scene, ids.value));
  const parts = computed<SceneNode[]>(() =>
    job.scene.nodes.filter((node) => node.kind === 'part' && deep.value.has(node.id)),
  );
  const hidden = computed(() => {
    const out = new Set<number>();
    if (hiddenKeys.value.size > 0)
      for (const node of job.scene.nodes) if (hiddenKeys.value.has(node.key)) out.add(node.id);
    return withDescendants(job.scene, out);
  });
  /** The rule that a new step gets: the selection, or everything where nothing is selected. */
  const selector = computed<Selector>(() =>
    keys.value.size > 0 ? { by: 'picked', keys: [...keys.value] } : { by: 'all' },
  );

  function pick(picked: Iterable<string>, how: 'set' | 'toggle' | 'add' = 'set'): void {
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

  function hide(): void {
    hiddenKeys.value = new Set([...hiddenKeys.value, ...keys.value]);
    keys.value = new Set();
  }

  function isolate(): void {
    if (keys.value.size === 0) return;
    hiddenKeys.value = new Set(
      job.scene.nodes.filter((node) => node.kind !== 'assembly' && !deep.value.has(node.id)).map((node) => node.key),
    );
    frameWish.value++;
  }

  function showAll(): void {
    hiddenKeys.value = new Set();
  }

  return {
    keys, ids, nodes, deep, parts, hidden, hiddenKeys, selector, frameWish,
    pick, hide, isolate, showAll, clear: () => pick([]), frame: () => frameWish.value++,
  }; // prettier-ignore
});
