/** Geometry whose blob is gone: the server makes it again when it evaluates, and then it is fetched once more. */
import { watch } from 'vue';
import type { Ref, ShallowRef } from 'vue';
import { useJob } from '../stores/job.ts';
import type { View } from '../view/view.ts';

/** @returns what is called for each that is missing; @param problem cleared when all are there again */
export function useMissingBlobs(view: Readonly<ShallowRef<View | undefined>>, problem: Ref<string>): () => void {
  const store = useJob();
  /** Many pieces may be missing at once: one evaluation makes them all. */
  let asking = false;
  watch(
    () => store.job?.tasks.findLast(({ kind, state }) => kind === 'evaluate' && state === 'done')?.id,
    () => {
      if (!asking) return;
      asking = false;
      problem.value = '';
      view.value?.geometry.retry();
    },
  );
  return () => {
    if (asking) return;
    asking = true;
    void store.goOn();
  };
}
