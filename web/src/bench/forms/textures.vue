<script setup lang="ts">
/** Texture sets: which there are, which picture of one holds what, and what it belongs to. */
import { computed, ref, watch } from 'vue';
import { holdsWords } from '@noble-prism/core/finish/sets/holds';
import type { Holds } from '@noble-prism/core/finish/sets/holds';
import { planOf } from '@noble-prism/core/finish/sets/plan';
import { missingIn } from '@noble-prism/core/finish/sets/textureSets';
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { partsByMaterial } from '@noble-prism/core/scene/parts';
import type { Texture } from '@noble-prism/core/scene/types';
import type { TexturesParameters } from '@noble-prism/core/steps/textures';
import { counted } from '@noble-prism/core/units';
import ChoiceField from '../../parts/ChoiceField.vue';
import FileButton from '../../parts/FileButton.vue';
import FormRow from '../../parts/FormRow.vue';
import { useJob } from '../../stores/job.ts';
import MissingPictures from '../finishes/MissingPictures.vue';
import PictureHolds from '../finishes/PictureHolds.vue';
import { addressOf, useTextureSets } from '../finishes/textureSets.ts';
import type { ShownSet } from '../finishes/textureSets.ts';
import { openStep } from '../stepEdits.ts';
import StepForm from '../StepForm.vue';

const store = useJob();
const form = ref<InstanceType<typeof StepForm>>();
const given = computed(() => form.value?.parameters as TexturesParameters | undefined);
const editing = computed(() => form.value?.editing);
const sets = useTextureSets();

const reading = computed(() => store.sources.filter(({ state }) => state === 'reading'));

/** Key of the set that a new step is gathered for. */
const chosen = ref<string>();
const set = computed<ShownSet | undefined>(() =>
  editing.value
    ? sets.value.find(({ steps }) => steps.some(({ id }) => id === editing.value?.id))
    : sets.value.find(({ key }) => key === chosen.value),
);
/** A set is taken as its names say; who opens the form sees at once what there is to be bound. */
function take(next: ShownSet): void {
  chosen.value = next.key;
  const pictures = next.members.flatMap(({ texture, holds }) => (holds ? [{ texture: texture.id, holds }] : []));
  const called = (name: string) => name.toLowerCase().replace(/[^\p{L}\d]/gu, '');
  const alike = materials.value.find(({ name }) => called(name) === called(next.name));
  form.value?.setAll({ set: next.name, pictures, material: alike?.id ?? '' });
}
const isFirst = ref(true);
watch(
  () => [sets.value, editing.value, form.value] as const,
  ([all, step]) => {
    if (step || !form.value || !isFirst.value) return;
    const next = all.find(({ steps }) => steps.length === 0);
    if (next) take(next);
    if (all.length > 0) isFirst.value = false;
  },
  { flush: 'post', immediate: true },
);

/** Why pictures cannot be used as it is said. */
const left = computed(() => {
  const { pictures = [] } = given.value ?? {};
  const plan = planOf(pictures, store.base.textures, { flipU: false, flipV: false });
  return new Map(plan.left.map(({ texture, why }) => [texture, why]));
});
/** Pictures of the set, and those of the step that the set does not have any more. */
const lines = computed(() => {
  const taken = new Map((given.value?.pictures ?? []).map(({ texture, holds }) => [texture, holds]));
  const members = set.value?.members ?? [];
  const rest = [...taken.keys()].filter((id) => !members.some(({ texture }) => texture.id === id));
  const gone = (id: string): Texture => ({ id, name: id, source: '', state: 'missing', mime: '', bytes: 0, problem: 'not in the job any more' }); // prettier-ignore
  return [
    ...members.map(({ texture, holds, note }) => {
      const now = taken.get(texture.id);
      // What somebody said otherwise needs no reason any more.
      const isAsFound = JSON.stringify(now) === JSON.stringify(holds);
      const why = left.value.get(texture.id);
      return { texture, holds: now, note: isAsFound || texture.problem ? (note ?? why) : why };
    }),
    ...rest.map((id) => {
      const texture = store.base.textures[id] ?? gone(id);
      return { texture, holds: taken.get(id), note: texture.problem };
    }),
  ];
});
const missing = computed(() => (lines.value.length > 0 ? missingIn(lines.value) : []));
function setHolds(id: string, holds: Holds | undefined): void {
  const before = given.value?.pictures ?? [];
  const at = before.findIndex(({ texture }) => texture === id);
  const line = holds === undefined ? [] : [{ texture: id, holds }];
  const pictures = at < 0 ? [...before, ...line] : before.toSpliced(at, 1, ...line);
  form.value?.setAll({ pictures });
}

/** Materials that parts have as the job stands. */
const materials = computed(() =>
  [...partsByMaterial(store.scene)]
    .map(([id, rows]) => ({ id, count: rows.length, name: store.scene.materials[id]?.name ?? id }))
    .sort((a, b) => a.name.localeCompare(b.name)),
);
const choices = computed(() => {
  const known = new Set(materials.value.map(({ id }) => id));
  const own = given.value?.material;
  return [
    { value: undefined, label: 'any material' },
    // The one that the pictures are bound to is another one once they are.
    ...(own && !known.has(own) ? [{ value: own, label: store.base.materials[own]?.name ?? own }] : []),
    ...materials.value.map(({ id, name, count }) => ({ value: id, label: name, note: counted(count, 'part') })),
  ];
});

const first = ({ members }: ShownSet) => {
  const member = members.find(({ holds }) => holds === 'colour') ?? members[0];
  return addressOf(member.texture);
};
const kindsOf = ({ members }: ShownSet) =>
  members.flatMap(({ holds }) => (holds ? [typeof holds === 'object' ? 'packed values' : holdsWords(holds)] : [])).join(', '); // prettier-ignore
function open(one: ShownSet): void {
  openStep.value = undefined;
  take(one);
}
</script>

<template>
  <StepForm ref="form" kind="textures" :hides="['pictures', 'material']" :idle="!lines.length">
    <template #first>
      <MissingPictures />
      <p v-for="source in reading" :key="source.id" class="quiet hint" role="status">
        {{ source.name }} is being read …
      </p>
      <p v-if="!sets.length && !reading.length" class="quiet hint">
        No loose pictures yet. Drop a folder of them anywhere: they become sets by their names.
      </p>
      <ul v-else-if="sets.length && !editing" class="sets" aria-label="Texture sets">
        <li v-for="one in sets" :key="one.key">
          <button class="plain" :aria-pressed="one.key === set?.key" @click="open(one)">
            <img v-if="first(one)" :src="first(one)" alt="" width="26" height="26" />
            <span v-else class="blank" />
            <span class="what">
              <b>{{ one.name }}</b>
              <span class="quiet">{{ kindsOf(one) || 'nothing that can be bound' }}</span>
            </span>
            <span :class="one.steps.length ? 'quiet' : 'warn'">{{ one.steps.length ? 'bound' : 'loose' }}</span>
          </button>
          <button v-for="(step, i) in one.steps" :key="step.id" class="plain link" @click="openStep = step.id">
            Open the step{{ one.steps.length > 1 ? ` ${i + 1}` : '' }}
          </button>
        </li>
      </ul>
      <p class="files">
        <FileButton label="Choose pictures" look="act" multiple :accept="READABLE_ENDINGS" @choose="store.receive"
          >Pictures…</FileButton
        >
        <FileButton label="Choose a folder of pictures" look="act" folder @choose="store.receive">Folder…</FileButton>
      </p>
      <ul v-if="lines.length" class="pictures" :aria-label="`Pictures of ${given?.set}`">
        <PictureHolds
          v-for="{ texture, holds, note } in lines"
          :key="texture.id"
          :texture="texture"
          :holds="holds"
          :note="note"
          @change="setHolds(texture.id, $event)"
        />
      </ul>
      <p v-if="missing.length" class="quiet hint">Not in the set: {{ missing.join(', ') }}. The material’s own stay.</p>
    </template>
    <FormRow id="textures-only" label="Only on">
      <ChoiceField
        id="textures-only"
        :model-value="given?.material || undefined"
        :choices="choices"
        @update:model-value="form?.setAll({ material: $event ?? '' })"
      />
    </FormRow>
  </StepForm>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.hint {
  font-size: 12px;
  margin: 6px 0;
}
.sets {
  max-height: 220px;
  overflow-y: auto;
  font-size: 12px;
}
.sets li {
  display: grid;
}
.sets button:not(.link) {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) max-content;
  gap: 8px;
  align-items: center;
  padding: 4px 2px;
  text-align: left;
}
.sets button[aria-pressed='true'] b {
  color: var(--iris);
}
.sets .link {
  justify-self: start;
  margin-left: 36px;
  color: var(--iris);
}
.what {
  display: grid;
}
.what > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sets img,
.blank {
  width: 26px;
  height: 26px;
  object-fit: cover;
  border: 1px solid var(--rule);
}
.files {
  display: flex;
  gap: 8px;
  margin: 6px 0;
}
.pictures {
  margin: 6px 0;
}
</style>
