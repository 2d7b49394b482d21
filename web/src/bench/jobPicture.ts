/** The list of jobs, and reports, show each as it was last seen complete: its picture is taken when all has come to rest or is sent, never while it is worked on. */
import { onBeforeUnmount, watch } from 'vue';
import type { Ref, ShallowRef } from 'vue';
import { useJob } from '../stores/job.ts';
import type { View } from '../view/view.ts';

/** Milliseconds. */
const REST = 4000;
/** Pixels. */
const WIDTH = 480;

/** @param arrivals counts up when geometry arrives */
export function useJobPicture(view: Readonly<ShallowRef<View | undefined>>, arrivals: Ref<number>): void {
  const store = useJob();
  /** Name of the result that was pictured last. */
  let pictured = '';
  let resting: ReturnType<typeof setTimeout> | undefined;

  async function take(): Promise<void> {
    const { evaluation } = store;
    const isWhole =
      evaluation !== undefined && evaluation.missing === 0 && !store.trial && store.scene.nodes.length > 0;
    // Not worth the wait where a picture takes seconds.
    if (!isWhole || evaluation.key === pictured || !view.value?.isQuick) return;
    pictured = evaluation.key;
    await view.value.picture(WIDTH).then(store.keepPicture, () => {});
  }
  store.pictureBy(take);
  watch([() => store.scene, arrivals], () => {
    clearTimeout(resting);
    resting = setTimeout(() => void take(), REST);
  });
  onBeforeUnmount(() => {
    clearTimeout(resting);
    store.pictureBy();
  });
}
