<script setup lang="ts">
/** The faces that a step paints: on which part each is, and its material. */
import { computed } from 'vue';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { FacesParameters, PaintedFace } from '@noble-prism/core/steps/faces';
import DataTable from '../../parts/DataTable.vue';
import type { TableColumn } from '../../parts/dataTable.ts';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import MaterialField from '../finishes/MaterialField.vue';
import { withOwn } from '../finishes/paintFaces.ts';
import StepActions from '../StepActions.vue';
import { changeSteps } from '../stepEdits.ts';
import { useStepForm } from '../stepForm.ts';

const store = useJob();
const selection = useSelection();
const { editing, report, changed, error, save, close, spec } = useStepForm<FacesParameters>('faces');

interface Line {
  face: PaintedFace;
  index: number;
  part: string;
}
const lines = computed<Line[]>(() =>
  ((editing.value?.parameters as FacesParameters | undefined)?.faces ?? []).map((face, index) => {
    const row = factsOf(store.scene).rowOf(face.on);
    return { face, index, part: row === undefined ? `${face.on} is gone` : store.scene.nodes.text('name', row) };
  }),
);
const columns: TableColumn<Line>[] = [
  { id: 'part', title: 'Face of' },
  { id: 'material', title: 'Material', width: '118px' },
  { id: 'remove', title: '', width: '18px' },
];

function set(faces: PaintedFace[]): void {
  if (!editing.value) return;
  // Nothing is left to be painted.
  if (faces.length === 0) changeSteps.remove(editing.value.id);
  else
    changeSteps.edit(editing.value.id, {
      parameters: withOwn(faces, (editing.value.parameters as FacesParameters).own),
    });
}
const all = () => lines.value.map(({ face }) => face);
const give = ({ index, face }: Line, material: string | undefined) => material && set(all().with(index, { ...face, material })); // prettier-ignore
</script>

<template>
  <DataTable
    v-if="lines.length"
    label="Painted faces"
    :columns="columns"
    :rows="lines"
    :key-of="({ index }) => String(index)"
    :row-height="44"
    :tallest="400"
  >
    <template #cell-part="{ row }">
      <button class="plain part" :title="`Select ${row.part}`" @click="selection.pick([row.face.on])">
        {{ row.part }}
      </button>
      <span class="quiet what" :title="row.face.what">{{ row.face.what }}</span>
    </template>
    <template #cell-material="{ row }">
      <MaterialField
        :label="`Material of face ${row.index + 1}`"
        :model-value="row.face.material"
        @update:model-value="give(row, $event)"
      />
    </template>
    <template #cell-remove="{ row }">
      <button
        class="plain"
        :aria-label="`Leave face ${row.index + 1} as it was`"
        title="Leave as it was"
        @click="set(all().toSpliced(row.index, 1))"
      >
        ×
      </button>
    </template>
  </DataTable>
  <StepActions
    :editing="editing"
    :report="report"
    :changed="changed"
    :error="error"
    :begun-there="spec.begunThere"
    @save="save"
    @close="close"
  />
</template>

<style scoped>
.part,
.what {
  display: block;
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}
.part {
  padding: 0 2px;
}
.what {
  padding: 0 2px;
}
:deep([role='cell'] .p-select) {
  border-bottom: 0;
}
</style>
