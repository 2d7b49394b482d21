<script setup lang="ts">
/**
 * What a step concerns: a rule, made of rules where that is needed, or what is selected just now. How much it finds stands below; while
 * it is being chosen, it is outlined in the view.
 */
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue';
import type { Field } from '@noble-prism/core/fields/field';
import type { Counted } from '@noble-prism/core/steps/kind';
import type { RuleKind } from '@noble-prism/core/select/rule';
import { RULE_KINDS, ruleKind } from '@noble-prism/core/select/rules';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import type { Scene } from '@noble-prism/core/scene/types';
import { counted } from '@noble-prism/core/units';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import ChoiceField from '../parts/ChoiceField.vue';
import FieldRow from '../parts/FieldRow.vue';
import { useKnown } from './known.ts';
import { countAll, countRows } from './scopeCount.ts';

const props = defineProps<{
  id: string;
  modelValue: Selector;
  counts?: Counted;
  /** A rule within a rule. */
  within?: boolean;
  /** What the rule is about, where that is not the prepared scene. */
  scene?: Scene;
}>();
const emit = defineEmits<{ 'update:modelValue': [Selector] }>();
const store = useJob();
const selection = useSelection();
const known = useKnown();
const about = computed(() => props.scene ?? store.scene);

const kind = computed(() => ruleKind(props.modelValue.by));
const inner = computed(() => ('of' in props.modelValue ? props.modelValue.of : undefined));
const fields = computed(() => Object.entries(kind.value.fields as Record<string, Field>));
const offers = computed(() => kind.value.offers?.(about.value, known) ?? []);
/** The scene as it was when somebody turned to this control: which rules make sense in it is not looked for with every change. */
const looked = shallowRef<Scene>();

const choices = computed(() =>
  [...RULE_KINDS.values()].filter(isOffered).map((rule) => ({
    value: rule.by,
    label: rule.by === 'picked' ? pickedLabel() : rule.title,
    disabled: rule.by === 'picked' && props.modelValue.by !== 'picked' && selection.nodes.length === 0,
  })),
);
/** Rules about words that this scene does not have are not offered. */
function isOffered(rule: RuleKind): boolean {
  if (rule.by === props.modelValue.by || !rule.offers || !looked.value) return true;
  return rule.offers(looked.value, known).length > 0;
}
function pickedLabel(): string {
  return props.modelValue.by === 'picked'
    ? known.rule(props.modelValue)
    : `what is selected (${selection.nodes.length})`;
}

const rows = computed(() => select(about.value, props.modelValue, props.counts === 'rows'));
const count = computed(() => {
  const of = props.counts ?? 'parts';
  return props.modelValue.by === 'all' ? countAll(about.value, of) : countRows(about.value, rows.value, of);
});
const words = computed(() => {
  const [one, many] = WORDS[props.counts ?? 'parts'];
  return counted(count.value, one, many);
});
const WORDS = {
  parts: ['part', 'parts'],
  assemblies: ['assembly', 'assemblies'],
  rows: ['row', 'rows'],
  sources: ['source', 'sources'],
} as const;

const isOther = computed(
  () =>
    props.modelValue.by === 'picked' &&
    selection.nodes.length > 0 &&
    [...selection.keys].join() !== props.modelValue.keys.join(),
);

function choose(by: string | undefined): void {
  const rule = ruleKind(by ?? 'all');
  if (rule.by === 'picked') return emit('update:modelValue', { by: 'picked', keys: [...selection.keys] });
  const next = { by: rule.by, ...structuredClone(rule.defaults) } as Selector;
  // What was said so far is the first of several rules.
  if ('of' in next) next.of = inner.value ?? [props.modelValue, { by: 'name', pattern: '*' }];
  emit('update:modelValue', next);
}

function set(name: string, value: unknown): void {
  const next: Record<string, unknown> = { ...props.modelValue, [name]: value };
  if (value === undefined) delete next[name];
  emit('update:modelValue', next as unknown as Selector);
}

function setInner(at: number, rule: Selector | undefined): void {
  const of = inner.value ?? [];
  set('of', rule === undefined ? of.toSpliced(at, 1) : of.toSpliced(at, 1, rule));
}

/** Pointed at or typed in, it is outlined; everything is not, as that says nothing. */
function outline(on: boolean): void {
  if (on) looked.value = about.value;
  if (!props.within) selection.outlined = on && props.modelValue.by !== 'all' ? rows.value : undefined;
}
watch(
  () => (selection.outlined ? rows.value : undefined),
  (found) => found && outline(true),
);
onBeforeUnmount(() => outline(false));
</script>

<template>
  <div
    class="scope"
    @focusin="outline(true)"
    @focusout="outline(false)"
    @pointerenter="outline(true)"
    @pointerleave="outline(false)"
  >
    <ChoiceField
      :id="id"
      :label="within ? 'Rule' : undefined"
      :model-value="modelValue.by"
      :choices="choices"
      @update:model-value="choose"
    />
    <div v-if="inner" class="inner">
      <div v-for="(rule, i) in inner" :key="i" class="rule">
        <ScopeField
          :id="`${id}-${i}`"
          :model-value="rule"
          :counts="counts"
          :scene="scene"
          within
          @update:model-value="setInner(i, $event)"
        />
        <button
          class="plain"
          aria-label="Take this rule away"
          title="Take this rule away"
          @click="setInner(i, undefined)"
        >
          ×
        </button>
      </div>
      <button class="plain link" @click="set('of', [...inner, { by: 'name', pattern: '*' }])">Add a rule</button>
    </div>
    <template v-else>
      <FieldRow
        v-for="[name, field] in fields"
        :id="`${id}-${name}`"
        :key="name"
        class="narrow"
        short
        :field="field"
        :offers="offers"
        :model-value="modelValue[name as keyof Selector]"
        @update:model-value="set(name, $event)"
      />
    </template>
    <button v-if="isOther" class="plain again" @click="choose('picked')">
      Take the selection ({{ selection.nodes.length }})
    </button>
    <small :class="count === 0 ? 'warn' : 'quiet'" :role="within ? undefined : 'status'">{{ words }}</small>
  </div>
</template>

<style scoped>
.narrow.row {
  grid-template-columns: 74px minmax(0, 1fr);
  font-size: 12px;
}
.inner {
  margin-top: 4px;
  padding-left: 8px;
  border-left: 1px solid var(--rule);
}
.rule {
  display: flex;
  align-items: start;
  gap: 4px;
  margin-bottom: 4px;
}
.rule > :first-child {
  flex: 1;
  min-width: 0;
}
small {
  display: block;
  padding: 2px 2px 0;
}
.again {
  color: var(--iris);
  font-size: 12px;
}
</style>
