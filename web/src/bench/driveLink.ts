/** Drives a linkage in the view while somebody drags a value: solved in the page, nothing is saved. */
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue';
import { placesOf } from '@noble-prism/core/linkage/links';
import type { Driven } from '@noble-prism/core/linkage/linkage';
import { driverOf, gapWords, stopWords } from '@noble-prism/core/steps/linkFields';
import { useJob } from '../stores/job.ts';
import { usePosing } from '../stores/posing.ts';

/** @param called id or name of the link that drives */
export function useDriveLink(called: () => string | undefined) {
  const store = useJob();
  const posing = usePosing();
  /** Made anew with each scene: a linkage begins where everything stands. */
  const driver = computed(() => {
    const link = called();
    return link ? driverOf(store.scene, link) : undefined;
  });
  /** Where it was driven to; from there it goes on. */
  const driven = shallowRef<Driven>();
  watch(driver, () => {
    if (driven.value) posing.show();
    driven.value = undefined;
  });

  const known = computed(() => (typeof driver.value === 'object' ? driver.value : undefined));
  /** Value of the driver now, radians or metres. */
  const value = computed(() => driven.value?.reached ?? known.value?.mechanism.linkage.start ?? 0);
  /** What all links come to. */
  const values = computed(() => {
    if (!known.value) return [];
    const { links, linkage } = known.value.mechanism;
    const now = driven.value?.values ?? linkage.drive(linkage.start).values;
    return links.map((link, i) => ({ link, value: now[i] }));
  });
  /** Names of what stands still in it. */
  const still = computed(() => known.value?.mechanism.still.map((row) => store.scene.nodes.text('name', row)) ?? []);
  const said = computed(() => {
    if (typeof driver.value === 'string') return [driver.value];
    const { stop, reached, gap } = driven.value ?? {};
    if (!known.value || reached === undefined) return [];
    return [...(stop === undefined ? [] : [stopWords(known.value, store.scene, reached, stop)]), ...gapWords(gap)];
  });

  /** Shows the linkage at a value; as far as it comes. */
  function to(target: number): void {
    if (!known.value) return;
    const { mechanism, places } = known.value;
    driven.value = mechanism.linkage.driveFrom(
      driven.value && ({ ...driven.value, stop: undefined } as Driven),
      target,
    );
    posing.show(placesOf(store.scene, places, driven.value.moves));
  }

  /** Everything stands where it stands again. */
  function rest(): void {
    driven.value = undefined;
    posing.show();
  }
  onBeforeUnmount(rest);

  return { driver: known, value, values, still, said, to, rest };
}
