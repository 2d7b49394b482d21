<script setup lang="ts">
/** Hinges and slides: those that there are, shafts in holes that are offered, and the form. */
import { computed, ref } from 'vue';
import { linksOf, movesOn } from '@noble-prism/core/linkage/links';
import type { LinkOffer } from '@noble-prism/core/linkage/offers';
import type { JointKind } from '@noble-prism/core/linkage/joint';
import { spotOn } from '@noble-prism/core/scene/spot';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { formatLength } from '@noble-prism/core/units';
import { useExact } from '../../stores/exact.ts';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import { linkOffersOf } from '../linkOffersOf.ts';
import StepForm from '../StepForm.vue';
import { openStep } from '../stepEdits.ts';

const store = useJob();
const selection = useSelection();
const exact = useExact();
const form = ref<InstanceType<typeof StepForm>>();
/** Looked for when it is asked for: reading what is exact takes a moment for each solid. */
const isLooking = ref(false);

const unit = computed(() => unitOf(store.scene));
/** The step that named a link; it has another id where it was given from another job. */
const stepOf = (link: string) =>
  store.steps.find(({ kind, parameters }) => kind === 'link' && (parameters as { mark?: string }).mark === link)?.id;
const nameOf = (row: number) => (row < 0 ? 'what stands still' : store.scene.nodes.text('name', row));
const links = computed(() => linksOf(store.scene));
const found = computed(() => {
  // With each shape that arrives it is looked through anew.
  void exact.arrivals;
  return isLooking.value ? linkOffersOf(store.scene, [...selection.ids], exact.shapeOf) : undefined;
});
const fit = ({ radius, holeRadius }: LinkOffer) =>
  `⌀ ${formatLength(2 * radius, unit.value, 5)} in ⌀ ${formatLength(2 * holeRadius, unit.value, 5)}`;

function freeName(as: JointKind): string {
  const names = new Set(links.value.map(({ name }) => name));
  const title = as === 'hinge' ? 'Hinge' : 'Slide';
  for (let number = 1; ; number++) if (!names.has(`${title} ${number}`)) return `${title} ${number}`;
}

/** Which of both moves follows from the links that there are; who names it may turn it round. */
function take({ shaft, hole, point, axis, onShaft }: LinkOffer, as: JointKind): void {
  const { nodes } = store.scene;
  const [part, base] = movesOn(links.value, shaft, hole);
  form.value?.setAll({
    name: freeName(as),
    as,
    part: nodes.key(part),
    base: nodes.key(base),
    axis: {
      ...spotOn(store.scene, shaft, point, axis, [{ at: onShaft, of: 'face' }]),
      what: 'axis of a shaft in a hole',
    },
  });
}
function turnRound(): void {
  const { part, base } = (form.value?.parameters ?? {}) as { part?: string; base?: string };
  if (part && base) form.value?.setAll({ part: base, base: part });
}
const isBoth = computed(() => Boolean(form.value?.parameters.part && form.value?.parameters.base));
</script>

<template>
  <ul v-if="links.length" class="links" aria-label="Links">
    <li v-for="link in links" :key="link.id">
      <button
        class="plain link"
        :aria-pressed="openStep !== undefined && openStep === stepOf(link.id)"
        @click="openStep = stepOf(link.id)"
      >
        {{ link.name }}
      </button>
      <span class="quiet"
        >{{ nameOf(link.part) }} {{ link.kind === 'hinge' ? 'turns' : 'slides' }} on {{ nameOf(link.base) }}</span
      >
    </li>
  </ul>
  <div class="offers">
    <button class="act" :aria-pressed="isLooking" @click="isLooking = !isLooking">
      {{ isLooking ? 'Stop looking' : 'Look for shafts in holes' }}
    </button>
    <template v-if="found">
      <p v-if="found.not" class="note quiet" role="status">{{ found.not }}</p>
      <p v-else-if="found.waits" class="note quiet" role="status">{{ found.waits }} solids are being read …</p>
      <p v-else-if="!found.offers.length" class="note quiet" role="status">
        No shaft is in a hole of another of these rows.
      </p>
      <ul v-else aria-label="Shafts in holes">
        <li v-for="(offer, i) in found.offers.slice(0, 20)" :key="i">
          <span class="pair" :title="`${nameOf(offer.shaft)} in ${nameOf(offer.hole)}`"
            >{{ nameOf(offer.shaft) }} in {{ nameOf(offer.hole) }}</span
          >
          <span class="quiet">{{ fit(offer) }}</span>
          <button
            class="plain link"
            :aria-label="`Hinge of ${nameOf(offer.shaft)} in ${nameOf(offer.hole)}`"
            @click="take(offer, 'hinge')"
          >
            hinge
          </button>
          <button
            class="plain link"
            :aria-label="`Slide of ${nameOf(offer.shaft)} in ${nameOf(offer.hole)}`"
            @click="take(offer, 'slide')"
          >
            slide
          </button>
        </li>
        <li v-if="found.offers.length > 20" class="quiet">
          and {{ found.offers.length - 20 }} more: select fewer rows
        </li>
      </ul>
    </template>
  </div>
  <StepForm ref="form" kind="link">
    <button v-if="isBoth" class="plain link round" @click="turnRound">the other one moves</button>
  </StepForm>
</template>

<style scoped>
.links {
  margin: 2px 0 8px;
  font-size: 12px;
}
.links li {
  display: grid;
  align-items: baseline;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 10px;
  padding: 2px 0;
}
.links .quiet {
  overflow: hidden;
  text-align: right;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.offers {
  margin-bottom: 8px;
  padding-bottom: 10px;
  border-bottom: 1px solid var(--rule-soft);
}
.offers ul {
  margin-top: 6px;
  font-size: 12px;
}
.offers li {
  display: grid;
  align-items: baseline;
  grid-template-columns: minmax(0, 1fr) max-content max-content;
  gap: 0 8px;
  padding: 2px 0;
}
.offers .pair {
  grid-column: 1 / -1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.links .link,
.offers .link {
  padding: 0;
  font-size: 12px;
}
.round {
  margin-top: 4px;
  font-size: 12px;
}
.note {
  margin-top: 6px;
  font-size: 12px;
}
</style>
