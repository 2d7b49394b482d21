<script setup lang="ts">
/** The buttons under a step's form, and what the step reports. */
import type { Step } from '@noble-prism/core/steps/kinds';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { counted } from '@noble-prism/core/units';
import { openStep } from './stepEdits.ts';
import WipeButton from './WipeButton.vue';

defineProps<{
  editing?: Step;
  report?: StepReport;
  changed: boolean;
  error: string;
  add?: string;
  /** A new one is begun elsewhere. */
  begunThere?: boolean;
  /** Words for beginning another step of the kind. */
  another?: string;
  /** Id of the step that is shown before it is applied; and whether it can be. */
  tried?: string;
  previews?: boolean;
  /** It changes no rows. */
  beside?: boolean;
  /** What a step says that was just added and could not do what it was to do. */
  added?: StepReport;
}>();
const emit = defineEmits<{ save: []; close: []; preview: [] }>();
</script>

<template>
  <div class="actions">
    <button v-if="editing || !begunThere" class="act first" :disabled="editing && !changed" @click="emit('save')">
      {{ editing ? 'Apply change' : (add ?? 'Add step') }}
    </button>
    <button v-if="editing && !begunThere" class="act" @click="emit('close')">
      {{ another ?? 'New step instead' }}
    </button>
    <button
      v-if="previews && (!editing || changed || tried)"
      class="act"
      :aria-pressed="tried !== undefined"
      title="Shows in the view what it does, before it is applied"
      @click="emit('preview')"
    >
      Preview
    </button>
    <WipeButton v-if="editing" :step="editing" />
    <WipeButton v-else-if="tried" :step="{ id: tried, on: true }" />
  </div>
  <p v-if="error" class="bad" role="alert">{{ error }}</p>
  <ul v-if="added" class="problems" role="status">
    <li v-for="problem in added.problems.slice(0, 3)" :key="problem" class="warn">
      Added, but: {{ problem }}
      <button class="plain link" @click="openStep = added.id">Open the step</button>
    </li>
  </ul>
  <template v-if="report && (editing || tried)">
    <p v-if="tried && !beside" class="note" role="status">
      <template v-if="report.changed > 0">{{ counted(report.changed, 'row') }} would change.</template>
      <template v-else-if="!report.pending">Nothing would change.</template>
    </p>
    <p v-if="editing && !editing.on" class="quiet note">This step is switched off.</p>
    <p v-else-if="report.pending" class="quiet note">{{ counted(report.pending, 'part') }} still to be computed.</p>
    <p v-else-if="report.matched === 0" class="warn note">No part matches this rule.</p>
    <p v-for="note in report.notes" :key="note" class="quiet note" role="status">{{ note }}</p>
    <p v-if="report.lost.length" class="warn note">
      {{ counted(report.lost.length, 'picked row') }} no longer in the sources: {{ report.lost.slice(0, 2).join(', ') }}
    </p>
    <ul v-if="report.problems.length" class="problems">
      <li v-for="problem in report.problems.slice(0, 8)" :key="problem" class="warn">{{ problem }}</li>
      <li v-if="report.problems.length > 8" class="quiet">and {{ report.problems.length - 8 }} more</li>
    </ul>
  </template>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 8px;
  margin-top: 10px;
  flex-wrap: wrap;
}
.note,
.problems {
  margin-top: 8px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
