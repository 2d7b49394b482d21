<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import type { ReduceParameters } from '@noble-prism/core/steps/reduce';
import { takeOff } from '@noble-prism/core/scene/takeoff';
import { formatCount, formatNumber } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import LengthRow from '../LengthRow.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { useStepForm } from '../stepForm.ts';

const store = useJob();
const selection = useSelection();
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

interface Measured {
  name: string;
  count: number;
  keys: string[];
  triangles: number;
  max: number;
  mean: number;
}
const measured = computed<Measured[]>(() => {
  const out = new Map<string, Measured>();
  for (const node of store.scene.nodes) {
    const mesh = node.mesh ? store.scene.meshes[node.mesh] : undefined;
    if (!mesh?.deviation) continue;
    const key = `${node.name} ${node.mesh}`;
    const entry = out.get(key) ?? {
      name: node.name,
      count: 0,
      keys: [],
      triangles: mesh.triangles,
      max: mesh.deviation.max,
      mean: mesh.deviation.mean,
    };
    entry.count++;
    entry.keys.push(node.key);
    out.set(key, entry);
  }
  return [...out.values()].sort((a, b) => b.max - a.max);
});
const millimetres = (value: number) => (value * 1000).toFixed(value < 0.00001 ? 4 : value < 0.01 ? 3 : 1);
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
    <table v-else>
      <thead>
        <tr>
          <th scope="col">Part</th>
          <th scope="col" class="figure">Triangles</th>
          <th scope="col" class="figure">max, mm</th>
          <th scope="col" class="figure">mean, mm</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="entry in measured.slice(0, 60)" :key="entry.keys[0]">
          <td class="name">
            <button class="plain" :title="entry.name" @click="selection.pick(entry.keys)">
              {{ entry.name }}<span v-if="entry.count > 1" class="quiet"> ×{{ entry.count }}</span>
            </button>
          </td>
          <td class="figure">{{ formatCount(entry.triangles) }}</td>
          <td class="figure">{{ millimetres(entry.max) }}</td>
          <td class="figure">{{ millimetres(entry.mean) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="measured.length > 60" class="quiet">and {{ measured.length - 60 }} more, all in the ledger</p>
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
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 12px;
}
th {
  font-weight: 400;
  text-align: left;
  color: var(--ink-2);
  padding: 2px 0;
}
th.figure {
  text-align: right;
}
th:nth-child(2) {
  width: 56px;
}
th:nth-child(3) {
  width: 56px;
}
th:nth-child(4) {
  width: 64px;
}
tr {
  border-bottom: 1px solid var(--rule-soft);
}
.name button {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding: 2px 0;
}
</style>
