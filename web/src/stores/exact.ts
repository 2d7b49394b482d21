/** What is exact in the solids that somebody pointed at: asked of the server once, and kept. */
import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { unpackExact } from '@noble-prism/core/steps/exact';
import type { ReadSolid } from '@noble-prism/core/steps/exact';
import { api, fetchBlob, SOLIDS_AT_ONCE } from '../api/client.ts';
import { useJob } from './job.ts';

/** Those that are pointed at within this time are asked for together, milliseconds. */
const TOGETHER = 40;
const ENDED = ['done', 'failed', 'cancelled'];

export const useExact = defineStore('exact', () => {
  const job = useJob();
  /** Counts up with each shape that has become known. */
  const arrivals = ref(0);
  const shapes = new Map<string, ExactShape>();
  const asked = new Set<string>();
  let waiting: string[] = [];
  /** What the server reads now. One question at a time: a second one would take the place of the first. */
  const open = shallowRef<{ task: string; solids: string[] }>();
  let isAsking = false;

  /** The shape of a solid; none while it is not known. Those of whom it is asked come a moment later. */
  function shapeOf(solid: string | undefined): ExactShape | undefined {
    if (solid === undefined) return undefined;
    const known = shapes.get(solid);
    if (known || asked.has(solid)) return known;
    asked.add(solid);
    waiting.push(solid);
    if (!isAsking) {
      isAsking = true;
      setTimeout(() => void ask(), TOGETHER);
    }
    return undefined;
  }

  async function ask(): Promise<void> {
    // What was pointed at last is meant first.
    const solids = waiting.splice(-SOLIDS_AT_ONCE);
    try {
      if (!job.job) throw new Error('No job is open.');
      open.value = { ...(await api.exact(job.job.id, solids)), solids };
    } catch {
      // Without it there is what the mesh says: nothing that somebody has to be told of. It is asked for again when it is pointed at.
      end(solids, {});
    }
  }

  /** Goes on with what was pointed at meanwhile. */
  function end(solids: readonly string[], found: Record<string, Partial<ReadSolid>>): void {
    open.value = undefined;
    for (const solid of solids) {
      const { shape } = found[solid] ?? {};
      if (shape) void take(solid, shape);
      // What could not be read is not asked for again; what nobody came to is.
      else if (!(solid in found)) asked.delete(solid);
    }
    isAsking = waiting.length > 0;
    if (isAsking) void ask();
  }

  watch([() => job.job?.tasks, open], ([tasks, question]) => {
    const task = question && tasks?.find(({ id }) => id === question.task);
    if (question && task && ENDED.includes(task.state))
      end(question.solids, (task.result?.shapes ?? {}) as Record<string, Partial<ReadSolid>>);
  });
  // Another job has other questions.
  watch(
    () => job.job?.id,
    () => {
      waiting = [];
      if (open.value) end(open.value.solids, {});
    },
  );

  async function take(solid: string, blob: string): Promise<void> {
    try {
      shapes.set(solid, unpackExact(await fetchBlob(blob)));
      arrivals.value++;
    } catch {
      asked.delete(solid);
    }
  }

  return { arrivals, shapeOf };
});
