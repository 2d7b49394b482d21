<script setup lang="ts">
/** One part at two settings of the tessellation, side by side with its triangles drawn, before all parts are made so. */
import Dialog from 'primevue/dialog';
import { computed, nextTick, onBeforeUnmount, reactive, ref, watch } from 'vue';
import type { ComparedSetting } from '@noble-prism/core/preparation/compare';
import { factsOf } from '@noble-prism/core/scene/facts';
import { roundedStretch } from '@noble-prism/core/scene/stretch';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { TESSELLATION_PRESETS, tessellateStep } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { formatCount, formatDeviation } from '@noble-prism/core/units';
import { fetchBlob } from '../../api/client.ts';
import ChoiceField from '../../parts/ChoiceField.vue';
import FactList from '../../parts/FactList.vue';
import FormRow from '../../parts/FormRow.vue';
import { useJob } from '../../stores/job.ts';
import type { PairView, Side } from '../../view/pairView.ts';

const props = defineProps<{
  part: SceneNode;
  /** What the form says, and what the part was made with. */
  form: TessellateParameters;
  now: TessellateParameters | undefined;
}>();
const emit = defineEmits<{ close: []; take: [TessellateParameters] }>();
const store = useJob();

const choices = computed(() => [
  ...(props.now ? [{ id: 'now', title: 'As it is now', parameters: props.now }] : []),
  { id: 'form', title: 'As set in the form', parameters: props.form },
  ...TESSELLATION_PRESETS.map(({ title, purpose: _, ...parameters }) => ({ id: parameters.preset, title, parameters })),
]);
const isSame = (a: TessellateParameters, b: TessellateParameters | undefined) =>
  b !== undefined && a.chord === b.chord && a.angle === b.angle && a.share === b.share;
const sides = reactive<[string, string]>([
  props.now ? 'now' : 'near',
  isSame(props.form, props.now) ? (props.form.preset === 'picture' ? 'far' : 'picture') : 'form',
]);
const settingOf = (side: Side) =>
  choices.value.find(({ id }) => id === sides[side])?.parameters ?? TESSELLATION_PRESETS[0];
/** How much larger the part stands in the job than its mesh is. */
const stretch = computed(() => roundedStretch(factsOf(store.scene).stretches[props.part.id]));
const made = ref<ComparedSetting[]>([]);
const state = ref<'computing' | 'shown' | 'failed'>('computing');
const failure = ref('');
const canvases = ref<HTMLCanvasElement[]>([]);
let view: PairView | undefined;
/** The task that answers; it may be done before the server has said which it is. */
const task = ref<string>();

async function ask(): Promise<void> {
  state.value = 'computing';
  task.value = undefined;
  const settings = ([0, 1] as const).map((side) => JSON.parse(JSON.stringify(settingOf(side))) as TessellateParameters);
  task.value = await store.askComparison(props.part.key, settings);
  if (!task.value) emit('close');
}
watch(sides, ask, { immediate: true });

watch(
  () => store.job?.tasks.find(({ id }) => id === task.value),
  async (found) => {
    if (found?.state === 'failed' || found?.state === 'cancelled') {
      state.value = 'failed';
      failure.value = found.error?.message ?? 'The comparison was cancelled.';
    } else if (found?.state === 'done') await show(found.result as unknown as { made: ComparedSetting[] });
  },
);

function figuresOf(side: Side): { name: string; value: string }[] {
  const figures = made.value[side]?.figures;
  if (!figures) return [];
  return [
    { name: 'Triangles', value: formatCount(figures.triangles) },
    { name: 'Measured deviation', value: `${formatDeviation((figures.exact?.max ?? 0) * stretch.value)} mm` },
  ];
}

async function show(result: { made: ComparedSetting[] }): Promise<void> {
  made.value = result.made;
  state.value = 'shown';
  await nextTick();
  const [left, right] = canvases.value;
  if (!left || !right) return;
  try {
    // Loaded with the dialog: three-dimensional drawing is there already, but not in this shape.
    const { PairView } = await import('../../view/pairView.ts');
    const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
    view ??= new PairView([left, right], { surface: colour('--ground'), lines: colour('--edge') });
    for (const side of [0, 1] as const) {
      const { mesh } = result.made[side];
      if (mesh) view.show(side, await fetchBlob(mesh));
    }
  } catch (thrown) {
    state.value = 'failed';
    failure.value = (thrown as Error).message;
  }
}

function key(event: KeyboardEvent): void {
  const STEP = Math.PI / 24;
  const turns: Record<string, [number, number]> = {
    ArrowLeft: [-STEP, 0],
    ArrowRight: [STEP, 0],
    ArrowUp: [0, -STEP],
    ArrowDown: [0, STEP],
  };
  if (turns[event.key]) view?.turn(...turns[event.key]);
  else if (event.key === '+' || event.key === '=') view?.approach(0.15);
  else if (event.key === '-') view?.approach(-0.15);
  else if (event.key.toLowerCase() === 'f') view?.frame();
  else return;
  event.preventDefault();
  event.stopPropagation();
}

function leave(): void {
  if (state.value === 'computing' && task.value) void store.cancel(task.value);
  emit('close');
}
onBeforeUnmount(() => view?.dispose());
</script>

<template>
  <Dialog
    visible
    modal
    dismissable-mask
    :header="`${part.name}: two settings`"
    :style="{ width: '1080px', maxWidth: '96vw' }"
    @update:visible="leave"
  >
    <div class="pair">
      <section v-for="side in [0, 1] as const" :key="side" :aria-label="side === 0 ? 'Left' : 'Right'">
        <FormRow :id="`side-${side}`" :label="side === 0 ? 'Left' : 'Right'">
          <ChoiceField
            :id="`side-${side}`"
            :model-value="sides[side]"
            :choices="choices.map(({ id, title }) => ({ value: id, label: title }))"
            @update:model-value="sides[side] = $event ?? sides[side]"
          />
        </FormRow>
        <p class="quiet">{{ tessellateStep.summary(settingOf(side)) }}</p>
        <div class="picture">
          <canvas
            ref="canvases"
            tabindex="0"
            :aria-label="`The part with its triangles, ${side === 0 ? 'left' : 'right'} setting. Arrows turn, + and − come nearer, F shows all.`"
            @keydown="key"
          />
          <p v-if="state === 'computing'" class="note quiet">Tessellating …</p>
          <p v-else-if="state === 'failed'" class="note bad" role="alert">{{ failure }}</p>
          <p v-else-if="made[side]?.problem" class="note bad" role="alert">{{ made[side].problem }}</p>
        </div>
        <FactList v-if="made[side]?.figures" :class="{ old: state === 'computing' }" :facts="figuresOf(side)" />
        <button class="act" :disabled="sides[side] === 'form'" @click="emit('take', settingOf(side))">
          Put this into the form
        </button>
      </section>
    </div>
    <p class="quiet hint">Both turn together: drag, scroll, or use the arrows, + − and F.</p>
  </Dialog>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 24px;
}
section {
  min-width: 0;
}
.picture {
  position: relative;
  height: min(46vh, 420px);
  margin: 8px 0;
  border-block: 1px solid var(--rule);
  background: linear-gradient(var(--view-top), var(--view-low));
  overflow: hidden;
}
canvas {
  width: 100%;
  height: 100%;
  display: block;
}
canvas:focus-visible {
  outline-offset: -2px;
}
.note {
  position: absolute;
  inset: auto 0 8px 12px;
}
.figures {
  margin-bottom: 10px;
}
.old {
  opacity: 0.4;
}
.hint {
  margin-top: 12px;
}
</style>
