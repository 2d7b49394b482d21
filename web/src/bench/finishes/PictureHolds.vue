<script setup lang="ts">
/** A picture of a set, and what it holds: of one thing, or a value in each channel. */
import { computed } from 'vue';
import { CHANNELS, channelWord, holdsWords, isPacked, VALUES, WHOLES } from '@noble-prism/core/finish/sets/holds';
import type { Channel, Holds, Value, Whole } from '@noble-prism/core/finish/sets/holds';
import type { Texture } from '@noble-prism/core/scene/types';
import { formatCount } from '@noble-prism/core/units';
import ChoiceField from '../../parts/ChoiceField.vue';
import { addressOf } from './textureSets.ts';

const props = defineProps<{
  texture: Texture;
  holds: Holds | undefined;
  /** Why it is taken for that, or left. */
  note?: string;
}>();
const emit = defineEmits<{ change: [holds: Holds | undefined] }>();

const name = computed(() => props.texture.name.split('/').at(-1) ?? props.texture.name);
const address = computed(() => (props.texture.problem ? undefined : addressOf(props.texture)));

type Choice = Whole | 'packed';
const CHOICES: { value: Choice | undefined; label: string }[] = [
  { value: undefined, label: 'nothing that is bound' },
  ...WHOLES.map((value) => ({ value, label: holdsWords(value) })),
  { value: 'packed', label: 'a value in each channel' },
];
const chosen = computed<Choice | undefined>(() => {
  const { holds } = props;
  return holds === undefined ? undefined : isPacked(holds) ? 'packed' : holds;
});
const packed = computed(() => (props.holds !== undefined && isPacked(props.holds) ? props.holds : undefined));
const values: { value: Value | undefined; label: string }[] = [
  { value: undefined, label: 'nothing' },
  ...VALUES.map((value) => ({ value, label: value })),
];

/** As glTF packs them, which is the most usual. */
function choose(choice: Choice | undefined): void {
  emit('change', choice === 'packed' ? { r: 'occlusion', g: 'roughness', b: 'metalness' } : choice);
}
function setChannel(channel: Channel, value: Value | undefined): void {
  const next = { ...packed.value, [channel]: value };
  if (value === undefined) delete next[channel];
  // A channel at least holds something.
  if (Object.keys(next).length > 0) emit('change', next);
}

/** Its size, and what is done to it on the way. */
const facts = computed(() => {
  const { width, height, bits, profile } = props.texture;
  const isColour = props.holds === 'colour' || props.holds === 'glow' || props.holds === 'specular';
  return [
    ...(width && height ? [`${formatCount(width)} × ${formatCount(height)} px`] : []),
    ...(bits ? [`${bits} bits become 8`] : []),
    ...(profile ? [isColour ? `${profile} becomes sRGB` : `its profile ${profile} is left alone`] : []),
  ].join(', ');
});
</script>

<template>
  <li>
    <img v-if="address" :src="address" alt="" width="44" height="44" loading="lazy" />
    <span v-else class="none" aria-hidden="true">–</span>
    <div>
      <div class="name" :title="texture.name">{{ name }}</div>
      <div v-if="facts" class="quiet">{{ facts }}</div>
      <div v-if="note" :class="texture.problem ? 'bad' : 'note'" :role="texture.problem ? 'alert' : undefined">
        {{ note }}
      </div>
      <ChoiceField
        v-if="!texture.problem"
        :label="`What ${name} holds`"
        :model-value="chosen"
        :choices="CHOICES"
        @update:model-value="choose"
      />
      <div v-if="packed" class="channels">
        <label v-for="channel in CHANNELS" :key="channel">
          <span>{{ channelWord(channel) }}</span>
          <ChoiceField
            :label="`${channelWord(channel)} of ${name}`"
            :model-value="packed[channel]"
            :choices="values"
            @update:model-value="setChannel(channel, $event)"
          />
        </label>
      </div>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr);
  gap: 10px;
  padding: 7px 0;
  border-top: 1px solid var(--rule-soft);
  font-size: 12px;
}
img,
.none {
  width: 44px;
  height: 44px;
  object-fit: cover;
  border: 1px solid var(--rule);
}
.none {
  display: grid;
  place-items: center;
  color: var(--ink-2);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink);
}
.note {
  color: var(--ochre);
}
.channels {
  display: grid;
  gap: 2px;
  margin-top: 2px;
}
.channels label {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr);
  align-items: baseline;
  gap: 4px;
  color: var(--ink-2);
}
</style>
