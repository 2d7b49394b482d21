<script setup lang="ts">
import { computed } from 'vue';
import { measuredParts } from '@noble-prism/core/scene/measured';
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import { takeOff } from '@noble-prism/core/scene/facts';
import { counted, formatCount, formatDeviation, formatNumber } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import EmptyState from '../../parts/EmptyState.vue';
import FactList from '../../parts/FactList.vue';
import MeasuredTable from '../../parts/MeasuredTable.vue';
import type { Figure } from '../../parts/MeasuredTable.vue';
import PanelSection from '../../parts/PanelSection.vue';
import StationActions from '../StationActions.vue';

const store = useJob();

const figures = computed(() => takeOff(store.scene));
/** Triangles as tessellated: after the last step that tessellates, before any that reduces. */
const before = computed(() => {
  const reports = store.evaluation?.reports ?? [];
  const first = reports.findIndex((report) => report.kind === 'reduce' && report.on);
  return first > 0 ? reports[first - 1].triangles : figures.value.triangles;
});

const measured = computed(() => measuredParts(store.scene, ({ deviation }) => deviation?.max));
const meanOf = ({ figures, stretch }: MeasuredParts) => (figures.deviation?.mean ?? 0) * stretch;
const FIGURES: readonly Figure[] = [
  {
    id: 'triangles',
    title: 'Triangles',
    value: ({ figures }) => figures.triangles,
    text: ({ figures }) => formatCount(figures.triangles),
  },
  {
    id: 'max',
    title: 'max, mm',
    value: ({ max }) => max,
    text: ({ max }) => formatDeviation(max),
  },
  {
    id: 'mean',
    title: 'mean, mm',
    value: (part) => meanOf(part),
    text: (part) => formatDeviation(meanOf(part)),
  },
];
const facts = computed(() => {
  const { triangles, uniqueTriangles, meshes, drawCalls } = figures.value;
  const less = before.value > triangles ? `−${formatNumber(100 - (100 * triangles) / before.value, 2)} %` : undefined;
  return [
    { name: 'Triangles drawn', value: formatCount(triangles) },
    {
      name: 'As tessellated',
      value: formatCount(before.value),
      ...(less ? { note: less, tone: 'good' as const } : {}),
    },
    { name: 'Distinct', value: `${formatCount(uniqueTriangles)} in ${counted(meshes, 'mesh', 'meshes')}` },
    { name: 'Draw calls', value: formatCount(drawCalls) },
  ];
});
</script>

<template>
  <PanelSection title="Take-off">
    <FactList :facts="facts" />
  </PanelSection>
  <StationActions station="lighten" />
  <PanelSection title="After, measured against the tessellation">
    <EmptyState v-if="!measured.length">
      Nothing has been reduced. What a reduction costs is measured in both directions and listed here, worst first.
    </EmptyState>
    <MeasuredTable v-else label="Measured against the tessellation" :parts="measured" :figures="FIGURES" />
  </PanelSection>
</template>
