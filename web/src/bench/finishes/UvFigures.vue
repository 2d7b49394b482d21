<script setup lang="ts">
/** How pictures lie on some parts, shape by shape: pixels a metre, stretch, overlaps. */
import { computed } from 'vue';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import { USUAL_PIXELS } from '@noble-prism/core/finish/texels';
import { counted, formatCount, formatNumber } from '@noble-prism/core/units';
import DataTable from '../../parts/DataTable.vue';
import type { TableColumn } from '../../parts/dataTable.ts';
import { useJob } from '../../stores/job.ts';
import { useLooks } from '../../stores/looks.ts';
import { useSelection } from '../../stores/selection.ts';
import { MOST_SHAPES, useUvMeasures } from './uvMeasures.ts';
import type { MeasuredShape } from './uvMeasures.ts';

const props = defineProps<{ of: Selector; set: 0 | 1 }>();
const store = useJob();
const selection = useSelection();
const looks = useLooks();
const measures = useUvMeasures(() => ({
  scene: store.scene,
  rows: select(store.scene, props.of),
  set: props.set,
}));
const shapes = computed(() => measures.value.shapes);
const figuresOf = ({ known }: MeasuredShape) => known?.figures;

/** Larger than these somebody sees: pictures a tenth longer one way than the other, a hundredth over each other (common practice). */
const STRETCHED = 1.1;
const OVER = 0.01;

const stretch = (shape: MeasuredShape) => figuresOf(shape)?.stretch;
const over = (shape: MeasuredShape) => figuresOf(shape)?.overlap;
const rounded = (value: number) => (value >= 100 ? formatCount(Math.round(value)) : formatNumber(value, 3));
const columns: TableColumn<MeasuredShape>[] = [
  { id: 'name', title: 'Shape', by: ({ name }) => name },
  { id: 'density', title: 'px/m', width: '58px', figure: true, by: ({ density }) => density?.mean },
  { id: 'stretch', title: 'Stretch', width: '58px', figure: true, by: stretch },
  { id: 'over', title: 'Over', width: '50px', figure: true, by: over },
];
const stretchText = (value: number) => (value > 0 ? formatNumber(value, 3) : '–');
const percent = (value: number) => `${formatNumber(value * 100, 2)}\u00a0%`;

const summary = computed(() => {
  const measured = shapes.value.filter((shape) => figuresOf(shape));
  if (measured.length === 0) return '';
  const densities = measured.map(({ density }) => density?.mean ?? 0);
  const [least, most] = [Math.min(...densities), Math.max(...densities)];
  const worst = Math.max(...measured.map((shape) => stretch(shape) ?? 1));
  const covered = Math.max(...measured.map((shape) => over(shape) ?? 0));
  const range = rounded(least) === rounded(most) ? rounded(least) : `${rounded(least)} to ${rounded(most)}`;
  return `${range} px/m, stretch up to ${stretchText(worst)}, overlaps up to ${percent(covered)}`;
});
const bare = computed(() => shapes.value.filter(({ known }) => known && !known.figures && !known.failed).length);
const open = computed(() => shapes.value.filter(({ known }) => !known).length);
const mirrored = computed(() => shapes.value.filter((shape) => (figuresOf(shape)?.mirrored ?? 0) > 0.01).length);
const notes = computed(() => [
  ...(open.value ? [{ tone: 'quiet', text: `${counted(open.value, 'shape is', 'shapes are')} being measured …` }] : []),
  ...(bare.value ? [{ tone: 'warn', text: `${counted(bare.value, 'shape has', 'shapes have')} no ${props.set === 0 ? '' : 'second set of '}coordinates.` }] : []),
  ...(collapsed.value ? [{ tone: 'warn', text: `On ${counted(collapsed.value, 'shape')} pictures are drawn out to lines.` }] : []),
  ...(mirrored.value ? [{ tone: 'warn', text: `Mirrored on ${counted(mirrored.value, 'shape')}.` }] : []),
]); // prettier-ignore
const collapsed = computed(() => shapes.value.filter((shape) => (figuresOf(shape)?.collapsed ?? 0) > 0.001).length);
const assumed = computed(() => shapes.value.some((shape) => shape.assumed && figuresOf(shape)));
const title = (shape: MeasuredShape) => {
  const figures = figuresOf(shape);
  if (!figures || !shape.density) return shape.name;
  const { least, most } = shape.density;
  return `${shape.name}, ${counted(shape.rows.length, 'part')}: ${rounded(least)} to ${rounded(most)} px/m; the worst triangle is ${stretchText(figures.worst)} times as long one way as the other; ${percent(figures.used)} of one picture used, ${percent(figures.outside)} of the surface outside of it, ${percent(figures.mirrored)} mirrored, ${percent(figures.collapsed)} drawn out to lines`;
};
function pick({ rows }: MeasuredShape): void {
  selection.pick(rows.map((row) => store.scene.nodes.key(row)));
}
function look(): void {
  looks.set = props.set;
  looks.look = looks.look === 'checker' ? 'finished' : 'checker';
}
</script>

<template>
  <section class="figures" aria-label="How pictures lie">
    <h4>
      How pictures lie
      <button class="plain link" :aria-pressed="looks.look === 'checker'" @click="look">
        {{ looks.look === 'checker' ? 'Finished look' : 'Checker look' }}
      </button>
    </h4>
    <p v-if="!shapes.length" class="quiet">No part with triangles among them.</p>
    <template v-else>
      <p role="status">
        <template v-if="summary">{{ summary }}. </template>
        <template v-for="note in notes" :key="note.text"
          ><span :class="note.tone">{{ note.text }}</span>{{ ' ' }}</template
        >
      </p>
      <DataTable
        label="How pictures lie on each shape"
        :columns="columns"
        :rows="shapes"
        :key-of="({ mesh }) => mesh"
        :tallest="220"
        @choose="pick"
      >
        <template #cell-name="{ row }">
          <button class="plain name" :title="title(row)" @click.stop="pick(row)">{{ row.name }}</button>
        </template>
        <template #cell-density="{ row }">
          <template v-if="row.density">{{ rounded(row.density.mean) }}</template>
          <span v-else class="quiet">{{ row.known ? 'none' : '…' }}</span>
        </template>
        <template #cell-stretch="{ row }">
          <span v-if="row.known?.figures" :class="{ warn: row.known.figures.stretch > STRETCHED }">{{
            stretchText(row.known.figures.stretch)
          }}</span>
        </template>
        <template #cell-over="{ row }">
          <span v-if="row.known?.figures" :class="{ warn: set === 1 && row.known.figures.overlap > OVER }">{{
            percent(row.known.figures.overlap)
          }}</span>
        </template>
      </DataTable>
      <p v-if="measures.more" class="quiet">
        The {{ formatCount(MOST_SHAPES) }} with most triangles; {{ formatCount(measures.more) }} more are not measured.
      </p>
      <p v-if="assumed" class="quiet">{{ formatCount(USUAL_PIXELS) }} px where there is no picture.</p>
    </template>
  </section>
</template>

<style scoped>
.figures {
  margin-top: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rule-soft);
  font-size: 12px;
}
h4 {
  display: flex;
  justify-content: space-between;
  margin: 0 0 4px;
  font-size: 12px;
}
p {
  margin: 3px 0;
}
.link {
  color: var(--iris);
  font-weight: 400;
}
.name {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
