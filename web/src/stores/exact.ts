/** What is exact in the solids that somebody pointed at: asked of the server once, and kept. */
import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { unpackExact } from '@noble-prism/core/steps/exact';
import type { ReadSolid } from '@noble-prism/core/steps/exact';
import { api, fetchBlob, SOLIDS_AT_ONCE } from '../api/client.ts';
import { useJob } from './job.ts';

/** Those that are pointed at within this time are asked for together, milliseconds. */
const TOGETHER = 40;

export const useExact = defineStore('exact', () => {
  const job = useJob();
  /** Counts up with each shape that has become known. */
  const arrivals = ref(0);
  const shapes = new Map<string, ExactShape>();
  const asked = new Set<string>();
  let waiting: string[] = [];
  const read = new Set<string>();

  /** The shape of a solid; none while it is not known. Those of whom it is asked come a moment later. */
  function shapeOf(solid: string | undefined): ExactShape | undefined {
    if (solid === undefined) return undefined;
    const known = shapes.get(solid);
    if (known || asked.has(solid)) return known;
    asked.add(solid);
    if (waiting.push(solid) === 1) setTimeout(ask, TOGETHER);
    return undefined;
  }

  function ask(): void {
    const solids = waiting.slice(-SOLIDS_AT_ONCE);
    waiting = [];
    // Without it there is what the mesh says: nothing that somebody has to be told of.
    if (job.job) void api.exact(job.job.id, solids).catch(() => solids.forEach((solid) => asked.delete(solid)));
  }

  watch(
    () => job.job?.tasks,
    (tasks) => {
      for (const { id, kind, state, result } of tasks ?? []) {
        if (kind !== 'exact' || state !== 'done' || read.has(id)) continue;
        read.add(id);
        const found = (result?.shapes ?? {}) as Record<string, Partial<ReadSolid>>;
        for (const [solid, { shape }] of Object.entries(found))
          if (shape && !shapes.has(solid)) void take(solid, shape);
      }
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
