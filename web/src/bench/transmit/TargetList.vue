<script setup lang="ts">
/** What the job is sent to: a line for each target, with what it would lose; one of them open to be changed. */
import { computed, ref } from 'vue';
import { carryOver } from '@noble-prism/core/transmit/carryOver';
import { READY_MADE } from '@noble-prism/core/transmit/targets/readyMade';
import { summaryOfTarget } from '@noble-prism/core/transmit/targets/target';
import { writerFor } from '@noble-prism/core/write/formats';
import type { JobSummary } from '@noble-prism/wire/job';
import { api } from '../../api/client.ts';
import ChoiceField from '../../parts/ChoiceField.vue';
import EmptyState from '../../parts/EmptyState.vue';
import PanelSection from '../../parts/PanelSection.vue';
import { useJob } from '../../stores/job.ts';
import { inShort } from './carried.ts';
import TargetForm from './TargetForm.vue';
import type { Targets } from './targets.ts';

const props = defineProps<{ targets: Targets }>();
const emit = defineEmits<{ sheet: [] }>();
const store = useJob();
const lines = computed(() =>
  props.targets.targets.value.map((target) => ({
    target,
    summary: summaryOfTarget(target.settings),
    carried: inShort(carryOver(store.scene, target.settings)),
  })),
);
const ready = READY_MADE.map(({ name, settings, purpose }) => ({
  value: name,
  label: name,
  note: writerFor(settings.format)?.title,
  also: purpose,
}));

/** Other jobs, once somebody wants to take their targets over. */
const jobs = ref<JobSummary[]>();
const wrong = ref('');
async function look(): Promise<void> {
  wrong.value = '';
  jobs.value = (await api.jobs().catch(() => [])).filter(({ id }) => id !== store.job?.id);
  if (jobs.value.length === 0) wrong.value = 'There is no other job.';
}
async function takeFrom(id: string | undefined): Promise<void> {
  if (!id) return;
  const other = await api.job(id).catch(() => undefined);
  if (other) props.targets.take(other.targets);
  jobs.value = undefined;
}
</script>

<template>
  <PanelSection title="Targets">
    <EmptyState v-if="!lines.length">None yet. Add one by what the receiver does with the files.</EmptyState>
    <ul>
      <li v-for="{ target, summary, carried } in lines" :key="target.id">
        <div class="line">
          <input
            type="checkbox"
            :checked="target.on"
            :aria-label="`Send to ${target.name}`"
            @change="targets.change(target.id, { on: !target.on })"
          />
          <button
            class="plain name"
            :aria-expanded="targets.open.value === target.id"
            @click="targets.toggle(target.id)"
          >
            <span class="clip" :class="{ quiet: !target.on }">{{ target.name }}</span>
          </button>
          <button
            class="plain carried"
            :class="carried.tone"
            :aria-label="`Carry-over of ${target.name}: ${carried.text}`"
            @click="emit('sheet')"
          >
            {{ carried.text }}
          </button>
          <small class="quiet clip" :title="summary">{{ summary }}</small>
        </div>
        <TargetForm
          v-if="targets.open.value === target.id"
          :target="target"
          @set="(name, value) => targets.set(target.id, name, value)"
          @rename="targets.change(target.id, { name: $event })"
          @copy="targets.copy(target.id)"
          @remove="targets.remove(target.id)"
        />
      </li>
    </ul>
    <div class="add">
      <!-- It is a list of what can be added, not a choice that stays. -->
      <ChoiceField
        id="add-target"
        :key="lines.length"
        label="Add a target"
        :model-value="undefined"
        :choices="ready"
        placeholder="Add a target for …"
        @update:model-value="$event && targets.add($event)"
      />
      <button v-if="lines.length" class="plain link" @click="emit('sheet')">Carry-over sheet</button>
      <button v-if="!jobs?.length" class="plain link" @click="look">From another job…</button>
      <ChoiceField
        v-else
        id="targets-of-job"
        label="Job whose targets are taken over"
        :model-value="undefined"
        :choices="jobs.map(({ id, name }) => ({ value: id, label: name }))"
        placeholder="from which job?"
        @update:model-value="takeFrom"
      />
    </div>
    <p v-if="wrong" class="quiet note">{{ wrong }}</p>
  </PanelSection>
</template>

<style scoped>
li {
  border-bottom: 1px solid var(--rule-soft);
}
.line {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 0 10px;
  align-items: center;
  padding: 5px 0;
}
input {
  margin: 0;
}
.name {
  padding: 0;
  text-align: left;
  min-width: 0;
}
small {
  grid-column: 2 / 4;
  font-size: 12px;
}
.carried {
  padding: 0;
  font-size: 12px;
  text-align: right;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-top: 8px;
}
.link {
  color: var(--iris);
  text-decoration: underline;
  padding: 0;
  font-size: 12px;
}
.note {
  font-size: 12px;
}
</style>
