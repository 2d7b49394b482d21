<script setup lang="ts">
/** One rule of the schedule, edited: what is changed is shown in the view, and applied by a button. */
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue';
import { ruleKind } from '@noble-prism/core/select/rules';
import { patternProblem } from '@noble-prism/core/select/patterns';
import type { Selector } from '@noble-prism/core/select/select';
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import { backToLayer, overridesOf } from '@noble-prism/core/finish/byLayer';
import { counted } from '@noble-prism/core/units';
import FormRow from '../../parts/FormRow.vue';
import { useSelection } from '../../stores/selection.ts';
import ScopeField from '../ScopeField.vue';
import MaterialField from './MaterialField.vue';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{
  schedule: ShownSchedule;
  index: number;
  /** It is new: shown, and not applied yet. */
  fresh?: boolean;
}>();
const emit = defineEmits<{ close: []; duplicate: []; remove: [] }>();
const selection = useSelection();

const rule = computed(() => props.schedule.rules.value[props.index]);
/** As it was when it was opened, and as it is edited. */
const draft = ref<FinishRule>({ ...rule.value });
const edited = ref(false);
const changed = computed(() => edited.value || props.fresh);
watch(
  () => props.index,
  () => {
    if (edited.value && !props.fresh) props.schedule.tryOut();
    draft.value = { ...rule.value };
    edited.value = false;
  },
);
// Undone, or changed elsewhere.
watch(rule, (next) => {
  if (next && !props.schedule.tried.value) {
    draft.value = { ...next };
    edited.value = false;
  }
});

// At the side it opens below the table, where the edge may be.
const section = useTemplateRef('section');
watch(() => props.index, reveal);
onMounted(reveal);
function reveal(): void {
  void nextTick(() => section.value?.scrollIntoView({ block: 'nearest' }));
}

const problem = computed(() => problemIn(draft.value.which));
function problemIn(which: Selector): string | undefined {
  if (which.by === 'name') return which.pattern === '' ? 'The name is missing.' : patternProblem(which.pattern);
  if (which.by === 'property') return patternProblem(which.name) ?? patternProblem(which.value);
  const words = ruleKind(which.by).fields as Record<string, { type: string; label: string }>;
  for (const [name, { type, label }] of Object.entries(words))
    if (type === 'words' && (which as unknown as Record<string, string[]>)[name].length === 0)
      return `${label}: choose at least one.`;
  return 'of' in which ? which.of.map(problemIn).find(Boolean) : undefined;
}

const replaced = (rules: readonly FinishRule[]) =>
  rules.toSpliced(props.index, props.fresh ? 0 : 1, { ...draft.value });
function set(values: Partial<FinishRule>): void {
  draft.value = { ...draft.value, ...values };
  if (!draft.value.note) delete draft.value.note;
  edited.value = true;
  if (!problem.value) props.schedule.tryOut(replaced);
}
function apply(): void {
  props.schedule.change(`Rule ${props.index + 1} ${props.fresh ? 'added' : 'edited'}`, replaced);
  edited.value = false;
}
function cancel(): void {
  if (props.fresh) return emit('close');
  props.schedule.tryOut();
  draft.value = { ...rule.value };
  edited.value = false;
}

/** Layers of this rule on which others prevail: parts of each. */
const overridden = computed(() => {
  const { counts } = props.schedule;
  const { which } = rule.value ?? {};
  if (which?.by !== 'layer' || !counts.value) return [];
  return which.layers
    .map((layer) => ({
      layer,
      rows: overridesOf(props.schedule.before.value, props.schedule.rules.value, counts.value!.winners, layer),
    }))
    .filter(({ rows }) => rows.length > 0);
});
function putBack(layer: string): void {
  const before = props.schedule.before.value;
  props.schedule.change(`${layer} put back to by layer`, (rules) => backToLayer(before, rules, layer));
}
function pick(rows: readonly number[]): void {
  selection.pick(rows.map((row) => props.schedule.before.value.nodes.key(row)));
}
</script>

<template>
  <section v-if="rule" ref="section" class="rule-editor" :aria-label="`Rule ${index + 1}`">
    <header>
      <h3>Rule {{ index + 1 }}</h3>
      <template v-if="!fresh">
        <button class="plain link" @click="emit('duplicate')">Duplicate</button>
        <button class="plain link" @click="emit('remove')">Delete</button>
      </template>
      <button class="plain" aria-label="Close the rule" @click="emit('close')">×</button>
    </header>
    <FormRow id="rule-which" label="Which parts">
      <ScopeField
        id="rule-which"
        :model-value="draft.which"
        :scene="schedule.before.value"
        @update:model-value="set({ which: $event })"
      />
    </FormRow>
    <p v-if="problem" :class="fresh && !edited ? 'quiet' : 'bad'" role="alert">{{ problem }}</p>
    <FormRow id="rule-material" label="Material">
      <MaterialField
        id="rule-material"
        :model-value="draft.material"
        @update:model-value="set({ material: $event ?? draft.material })"
      />
    </FormRow>
    <FormRow id="rule-note" label="Note">
      <span class="line-field"
        ><input
          id="rule-note"
          :value="draft.note"
          maxlength="300"
          autocomplete="off"
          @change="set({ note: ($event.target as HTMLInputElement).value })"
      /></span>
    </FormRow>
    <div v-if="changed" class="buttons">
      <button class="act first" :disabled="problem !== undefined" @click="apply">
        {{ fresh ? 'Add the rule' : 'Apply change' }}
      </button>
      <button class="act" @click="cancel">{{ fresh ? 'Cancel' : 'Leave as it was' }}</button>
    </div>
    <div v-for="{ layer, rows } in overridden" :key="layer" class="overridden">
      <p class="warn">
        {{ counted(rows.length, 'part') }} of {{ layer }} {{ rows.length === 1 ? 'shows' : 'show' }} another rule’s
        material.
      </p>
      <div class="buttons">
        <button class="act" @click="putBack(layer)">Back to by layer</button>
        <button class="act" @click="pick(rows)">Select them</button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.rule-editor {
  padding: 8px 0 12px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 4px;
}
h3 {
  flex: 1;
  font: 600 13px var(--sans);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 8px;
}
.overridden {
  margin-top: 10px;
  font-size: 12px;
}
</style>
