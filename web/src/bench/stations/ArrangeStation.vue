<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import type { PivotParameters } from '@noble-prism/core/steps/pivot';
import type { RenameParameters } from '@noble-prism/core/steps/rename';
import { useJob } from '../../stores/job.ts';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { changeSteps } from '../stepEdits.ts';
import { useStepForm } from '../stepForm.ts';

const store = useJob();
const pivot = useStepForm<PivotParameters>('pivot');
const rename = useStepForm<RenameParameters>('rename');

const places = [
  { value: 'base-centre', label: 'centre of the base' },
  { value: 'box-centre', label: 'centre of the box' },
];
const kinds = [
  { value: 'parts', label: 'each part' },
  { value: 'assemblies', label: 'assemblies' },
];
const renamed = [
  { value: 'picked', label: 'the rows themselves' },
  { value: 'parts', label: 'each part at or below' },
  { value: 'assemblies', label: 'each assembly at or below' },
];
const ups = computed(() =>
  store.scene.sources.map((source) => ({ name: source.name, up: source.up, was: source.upAxis.axis })),
);
const mixed = computed(() => new Set(ups.value.map((entry) => entry.up)).size > 1);
</script>

<template>
  <div class="section">
    <p class="caps">Up axis</p>
    <p v-if="!ups.length" class="quiet">No source yet.</p>
    <dl v-else>
      <template v-for="entry in ups" :key="entry.name">
        <dt>{{ entry.name }}</dt>
        <dd>
          {{ entry.was }} up as received, now <b>{{ entry.up }} up</b>
        </dd>
      </template>
    </dl>
    <div class="actions">
      <button
        class="act"
        :disabled="!ups.some((entry) => entry.up === 'z') || mixed"
        @click="changeSteps.add('turn', { by: 'all' }, { direction: 'z-to-y' })"
      >
        Turn z → y
      </button>
      <button
        class="act"
        :disabled="!ups.some((entry) => entry.up === 'y') || mixed"
        @click="changeSteps.add('turn', { by: 'all' }, { direction: 'y-to-z' })"
      >
        Turn y → z
      </button>
    </div>
  </div>

  <div class="section">
    <p class="caps">Pivot{{ pivot.editing.value ? ' · open step' : '' }}</p>
    <div class="row">
      <label id="pivot-place-label" for="pivot-place">Place at</label>
      <Select
        v-model="pivot.parameters.place"
        label-id="pivot-place"
        aria-labelledby="pivot-place-label"
        :options="places"
        option-value="value"
        option-label="label"
      />
    </div>
    <div class="row">
      <label id="pivot-of-label" for="pivot-of">Of</label>
      <Select
        v-model="pivot.parameters.of"
        label-id="pivot-of"
        aria-labelledby="pivot-of-label"
        :options="kinds"
        option-value="value"
        option-label="label"
      />
    </div>
    <div class="row">
      <label id="pivot-scope-label" for="pivot-scope">Concerns</label>
      <ScopeField
        id="pivot-scope"
        :model-value="pivot.selector.value"
        :of="pivot.parameters.of"
        @update:model-value="pivot.choose"
      />
    </div>
    <StepActions
      :editing="pivot.editing.value"
      :report="pivot.report.value"
      :changed="pivot.changed.value"
      :error="pivot.error.value"
      add="Set pivot"
      @save="pivot.save"
      @close="pivot.close"
    />
  </div>

  <div class="section">
    <p class="caps">Rename{{ rename.editing.value ? ' · open step' : '' }}</p>
    <div class="row">
      <label for="rename-name">New name</label>
      <span class="line-field"
        ><input
          id="rename-name"
          v-model="rename.parameters.name"
          maxlength="1000"
          autocomplete="off"
          title="{name} stands for the old name, {n} for a number"
          @keydown.enter="rename.save"
      /></span>
    </div>
    <div class="row">
      <label id="rename-scope-label" for="rename-scope">Concerns</label>
      <ScopeField
        id="rename-scope"
        :model-value="rename.selector.value"
        :of="rename.parameters.of === 'picked' ? 'rows' : rename.parameters.of"
        @update:model-value="rename.choose"
      />
    </div>
    <div class="row">
      <label id="rename-of-label" for="rename-of">Renames</label>
      <Select
        v-model="rename.parameters.of"
        label-id="rename-of"
        aria-labelledby="rename-of-label"
        :options="renamed"
        option-value="value"
        option-label="label"
      />
    </div>
    <p class="quiet hint"><code>{name}</code> is the old name, <code>{n}</code> counts. One row: F2 in the ledger.</p>
    <StepActions
      :editing="rename.editing.value"
      :report="rename.report.value"
      :changed="rename.changed.value"
      :error="rename.error.value"
      add="Rename"
      @save="rename.save"
      @close="rename.close"
    />
  </div>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 1fr;
  gap: 0 8px;
}
dt {
  color: var(--ink-2);
}
dd {
  margin-bottom: 4px;
}
.actions {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
.hint {
  font-size: 12px;
  margin-top: 6px;
}
code {
  font: 12px var(--mono);
}
</style>
