<script setup lang="ts">
/** The settings of one target, drawn from what the fields say of themselves; what a format leaves no choice about is not asked. */
import { computed, ref } from 'vue';
import type { Field } from '@noble-prism/core/fields/field';
import { TARGET_FIELDS } from '@noble-prism/core/transmit/targets/target';
import type { Target, TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { writerFor } from '@noble-prism/core/write/formats';
import { ALL } from '@noble-prism/core/select/selector';
import type { Selector } from '@noble-prism/core/select/selector';
import FieldRow from '../../parts/FieldRow.vue';
import FormRow from '../../parts/FormRow.vue';
import { useJob } from '../../stores/job.ts';
import ScopeField from '../ScopeField.vue';

const props = defineProps<{ target: Target }>();
const emit = defineEmits<{
  set: [name: keyof TargetSettings, value: unknown];
  rename: [name: string];
  copy: [];
  remove: [];
}>();
const store = useJob();
const writer = computed(() => writerFor(props.target.settings.format));
/** Seldom changed: they stand behind one more step. */
const SELDOM = new Set([
  'cameras',
  'lights',
  'movements',
  'lines',
  'metadata',
  'names',
  'pivots',
  'kind',
  'speed',
  'from',
  'to',
  'mostTriangles',
  'mostOfPart',
  'instances',
  'compression',
]);
const all = ref(false);

const fields = computed(() =>
  (Object.entries(TARGET_FIELDS) as [keyof TargetSettings, Field<TargetSettings>][]).flatMap(([name, field]) => {
    if (field.type === 'own' || !(field.when?.(props.target.settings) ?? true)) return [];
    const changed = props.target.settings[name] !== 'kept' && props.target.settings[name] !== undefined;
    if (SELDOM.has(name) && !all.value && !changed) return [];
    return [[name, limited(name, field)] as const];
  }),
);

/** Only what the format and the job leave open. */
function limited(name: keyof TargetSettings, field: Field<TargetSettings>): Field {
  const known = field as Field;
  if (known.type !== 'choice' || !writer.value) return known;
  const { units, ups, modules, pictureKinds = [] } = writer.value;
  const { offset, map } = store.scene.origin ?? {};
  const isOpen = (value: string | undefined) => {
    if (name === 'unit') return value === undefined || units.some((unit) => unit === value);
    if (name === 'split') return value !== 'modular' || modules === true;
    if (name === 'kind') return (value !== 'webp' && value !== 'ktx2') || pictureKinds.includes(value);
    if (name === 'up') return value === undefined || ups.some((up) => up === value);
    if (name === 'coordinates') return value === 'local' || (value === 'restored' ? offset : map) !== undefined || value === props.target.settings.coordinates; // prettier-ignore
    return true;
  };
  const usual = name === 'unit' ? units[0] : name === 'up' ? ups[0] : undefined;
  const choices = known.choices.filter(({ value }) => isOpen(value));
  return {
    ...known,
    choices: choices.map((choice) => (choice.value === undefined && usual ? { ...choice, label: `${usual}, as usual` } : choice)), // prettier-ignore
  };
}

const only = computed(() => props.target.settings.only ?? ALL);
const without = computed(() => props.target.settings.without);
const isAll = (rule: Selector) => rule.by === 'all';
</script>

<template>
  <div class="form">
    <FormRow :id="`target-${target.id}-name`" label="Name">
      <span class="line-field"
        ><input
          :id="`target-${target.id}-name`"
          :value="target.name"
          maxlength="200"
          autocomplete="off"
          @change="emit('rename', ($event.target as HTMLInputElement).value.trim() || target.name)"
      /></span>
    </FormRow>
    <template v-for="[name, field] in fields" :key="name">
      <FieldRow
        v-if="field.type !== 'choice' || field.choices.length > 1"
        :id="`target-${target.id}-${name}`"
        :field="field"
        :model-value="target.settings[name]"
        @update:model-value="emit('set', name, $event)"
      />
    </template>
    <p class="caps scope">what is sent</p>
    <ScopeField
      :id="`target-${target.id}-only`"
      :model-value="only"
      @update:model-value="emit('set', 'only', isAll($event) ? undefined : $event)"
    />
    <template v-if="without">
      <p class="caps scope">but not</p>
      <ScopeField
        :id="`target-${target.id}-without`"
        :model-value="without"
        @update:model-value="emit('set', 'without', $event)"
      />
    </template>
    <p class="more">
      <button class="plain link" :aria-expanded="all" @click="all = !all">{{ all ? 'Less' : 'More settings' }}</button>
      <button class="plain link" @click="emit('set', 'without', without ? undefined : { by: 'layer', layers: [] })">
        {{ without ? 'Leave nothing out' : 'Leave something out' }}
      </button>
      <button class="plain link" @click="emit('copy')">Duplicate</button>
      <button class="plain link" @click="emit('remove')">Remove</button>
    </p>
  </div>
</template>

<style scoped>
.form {
  padding: 4px 0 8px 26px;
}
.scope {
  margin-top: 10px;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  margin-top: 8px;
  font-size: 12px;
}
.link {
  color: var(--iris);
  text-decoration: underline;
  padding: 0;
}
</style>
