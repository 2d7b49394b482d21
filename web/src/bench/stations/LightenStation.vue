<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import type { ReduceParameters } from '@noble-prism/core/steps/reduce';
import { measuredParts } from '@noble-prism/core/scene/measured';
import type { MeasuredParts } from '@noble-prism/core/scene/measured';
import { takeOff } from '@noble-prism/core/scene/takeoff';
import { formatCount, formatDeviation, formatNumber } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import LengthRow from '../LengthRow.vue';
import MeasuredTable from '../MeasuredTable.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { useStepForm } from '../stepForm.ts';

const store = useJob();
const form = useStepForm<ReduceParameters>('reduce');
const targets = [
  { value: 'share', label: 'a share is left' },
  { value: 'deviation', label: 'deviation reaches' },
];

const figures = computed(() => takeOff(store.scene));
/** Triangles as tessellated: after the last step that tessellates, before any that reduces. */
const before = computed(() => {
  const reports = store.evaluation?.reports ?? [];
  const first = reports.findIndex((report) => report.kind === 'reduce' && report.on);
  return first > 0 ? reports[first - 1].triangles : figures.value.triangles;
});

const measured = computed(() => measuredParts(store.scene, ({ deviation }) => deviation?.max));
const HEADS = ['Triangles', 'max, mm', 'mean, mm'];
const figuresFor = ({ figures: { triangles, deviation } }: MeasuredParts) => [
  formatCount(triangles),
  formatDeviation(deviation?.max ?? 0),
  formatDeviation(deviation?.mean ?? 0),
];
</script>

<template>
  <div class="section">
    <p class="caps">Take-off</p>
    <dl>
      <dt>Triangles drawn</dt>
      <dd>{{ formatCount(figures.triangles) }}</dd>
      <dt>As tessellated</dt>
      <dd>
        {{ formatCount(before)
        }}<span v-if="before > figures.triangles" class="good">
          −{{ formatNumber(100 - (100 * figures.triangles) / before, 2) }} %</span
        >
      </dd>
      <dt>Distinct</dt>
      <dd>{{ formatCount(figures.uniqueTriangles) }} in {{ formatCount(figures.meshes) }} meshes</dd>
      <dt>Draw calls</dt>
      <dd>{{ formatCount(figures.drawCalls) }}</dd>
    </dl>
  </div>
  <div class="section">
    <p class="caps">Reduce{{ form.editing.value ? ' · open step' : '' }}</p>
    <div class="row">
      <label id="until-label" for="until">Until</label>
      <Select
        v-model="form.parameters.until"
        label-id="until"
        aria-labelledby="until-label"
        :options="targets"
        option-value="value"
        option-label="label"
      />
    </div>
    <LengthRow
      v-if="form.parameters.until === 'share'"
      id="share"
      v-model="form.parameters.share"
      label="Keep"
      unit="%"
      :min="0.001"
      :max="1"
    />
    <LengthRow
      v-else
      id="deviation"
      v-model="form.parameters.deviation"
      label="At most"
      unit="mm"
      :min="1e-7"
      :max="10"
    />
    <div class="row">
      <label id="reduce-scope-label" for="reduce-scope">Concerns</label>
      <ScopeField id="reduce-scope" :model-value="form.selector.value" @update:model-value="form.choose" />
    </div>
    <StepActions
      :editing="form.editing.value"
      :report="form.report.value"
      :changed="form.changed.value"
      :error="form.error.value"
      @save="form.save"
      @close="form.close"
    />
  </div>
  <div class="section">
    <p class="caps">After, measured against the tessellation</p>
    <p v-if="!measured.length" class="quiet">
      Nothing has been reduced. What a reduction costs is measured in both directions and listed here, worst first.
    </p>
    <MeasuredTable v-else :parts="measured" :heads="HEADS" :figures="figuresFor" />
  </div>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 108px 1fr;
  gap: 2px 8px;
}
dt {
  color: var(--ink-2);
}
dd {
  text-align: right;
}
</style>
