<script setup lang="ts">
/** What one source says of itself, what looks doubtful about it, and what is taken of it. */
import { computed } from 'vue';
import { surveyCounts } from '@noble-prism/core/scene/counts';
import { plausibility } from '@noble-prism/core/scene/plausible';
import { checkStated } from '@noble-prism/core/scene/stated';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import { worldBox } from '@noble-prism/core/scene/tree';
import type { Box, Texture } from '@noble-prism/core/scene/types';
import type { UnitParameters } from '@noble-prism/core/steps/unit';
import { counted, formatBytes, formatCount, formatLength, formatNumber } from '@noble-prism/core/units';
import type { Source } from '../../api/client.ts';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import FactLine from '../../parts/FactLine.vue';
import FactSheet from '../../parts/FactSheet.vue';
import { describeSize } from '../describe.ts';
import {
  chooseUp,
  chooseVariant,
  otherUpAxes,
  readLarger,
  takeWires,
  unitStepOf,
  upChosen,
  variantChosen,
  wiresTaken,
} from './sourceChoices.ts';
import RevisionLine from './RevisionLine.vue';
import SeenSoFar from './SeenSoFar.vue';
import SourceChoice from './SourceChoice.vue';
import TakeList from './TakeList.vue';
import TextureSets from './TextureSets.vue';
import UnitChoice from './UnitChoice.vue';

const props = defineProps<{ source: Source }>();
const store = useJob();
const selection = useSelection();

const info = computed(() => store.base.sources.find((entry) => entry.id === props.source.id));
const counts = computed(() => surveyCounts(store.base, props.source.id));

/** As it was received, in the unit and with the axis that were said, or as the file states it before anything is there. Metres. */
const box = computed<Box | undefined>(() => store.evaluation?.boxes[props.source.id] ?? info.value?.holds?.bounds);
/** Where it stands now, whatever was done to it. */
const standing = computed<Box | undefined>(() => {
  const rows = select(store.scene, { by: 'source', sources: [props.source.id] });
  return worldBox(store.scene, rows) ?? info.value?.holds?.bounds;
});
const factor = computed(() => {
  const step = unitStepOf(store.steps, props.source.id);
  return step?.on ? (step.parameters as UnitParameters).factor : 1;
});
const size = computed(() => {
  const { min, max } = box.value ?? {};
  if (!min || !max || !info.value) return undefined;
  const [x, y, z] = max.map((high, axis) => high - min[axis]);
  const up = store.scene.sources.find(({ id }) => id === props.source.id)?.up ?? info.value.up;
  const sides = up === 'z' ? ([x, y, z] as const) : ([x, z, y] as const);
  const { min: low, max: top } = standing.value ?? { min, max };
  const away = Math.hypot(...top.map((high, axis) => (high + low[axis]) / 2));
  const { metres, declared } = info.value.unit;
  return {
    sides,
    away,
    ...plausibility(sides, { metres: metres * factor.value, declared: declared || factor.value !== 1 }),
  };
});
/** Farther than this, single precision shows (common practice: stay within a few kilometres). Metres. */
const FAR = 5000;

/** As the steps leave them: a picture may have been bound since. */
const textures = computed(() =>
  Object.values(store.base.textures)
    .filter(({ source }) => source === props.source.id)
    .map((texture) => store.scene.textures[texture.id] ?? texture),
);
const pictures = computed(() => {
  const states: [Texture['state'], string][] = [
    ['found', 'found'],
    ['missing', 'missing'],
    ['unbound', 'bound to nothing'],
  ];
  return states.flatMap(([state, words]) => {
    const count = textures.value.filter((texture) => texture.state === state).length;
    return count > 0 ? [{ state, text: `${formatCount(count)} ${words}` }] : [];
  });
});
/** Volume, area and centre that the file states, against what was meshed. */
const stated = computed(() => checkStated(store.scene, props.source.id));

const also = computed(() => {
  const holds = info.value?.holds;
  if (!holds) return '';
  const named: [number, string, string][] = [
    [holds.cameras, 'camera', 'cameras'],
    [holds.lights, 'light', 'lights'],
    [holds.points ?? 0, 'point of clouds', 'points of clouds'],
  ];
  return named
    .filter(([count]) => count > 0)
    .map(([count, one, many]) => counted(count, one, many))
    .join(', ');
});
const movements = computed(() =>
  Object.values(store.base.animations).filter(({ source }) => source === props.source.id),
);
const tree = computed(() => {
  const { parts, assemblies, pieces } = counts.value;
  const holds = info.value?.holds;
  const distinct =
    pieces > 0
      ? `, ${counted(pieces, 'distinct solid')}`
      : holds?.geometries
        ? `, ${formatCount(holds.geometries)} distinct`
        : '';
  const groups = assemblies > 0 ? ` in ${counted(assemblies, 'assembly', 'assemblies')}` : '';
  return `${counted(parts, 'part')}${groups}${distinct}`;
});

function schemaName(schema: string): string {
  const known: [RegExp, string][] = [
    [/AP242|MANAGED_MODEL_BASED/i, 'AP242'],
    [/AUTOMOTIVE_DESIGN/i, 'AP214'],
    [/CONFIG_CONTROL_DESIGN|CONFIGURATION_CONTROL/i, 'AP203'],
  ];
  return known.find(([pattern]) => pattern.test(schema))?.[1] ?? schema.split(',')[0].split('{')[0].trim();
}

function pickMaterial(id: string): void {
  const rule: Selector = {
    by: 'and',
    of: [
      { by: 'source', sources: [props.source.id] },
      { by: 'material', materials: [id] },
    ],
  };
  selection.pick([...select(store.base, rule)].map((row) => store.base.nodes.key(row)));
}
function swatch(id: string): string {
  const [r, g, b] = store.base.materials[id]?.baseColor ?? [0.5, 0.5, 0.5];
  return `color(srgb-linear ${r} ${g} ${b})`;
}
</script>

<template>
  <article>
    <header>
      <strong :title="source.name">{{ source.name }}</strong>
      <button
        class="plain"
        :aria-label="`Take ${source.name} out of the job`"
        title="Take out of the job (can be undone)"
        @click="store.removeSource(source.id)"
      >
        ×
      </button>
    </header>
    <p v-if="source.state === 'failed'" class="bad" role="alert">
      {{ source.error?.message }}<template v-if="source.error?.where"> ({{ source.error.where }})</template>
    </p>
    <SeenSoFar v-else-if="!info" :source="source" />
    <template v-else>
      <RevisionLine :source="source" />
      <FactSheet>
        <FactLine name="Format" :whole="info.schema">
          {{ [info.format, schemaName(info.schema)].filter(Boolean).join(' ') }}, {{ formatBytes(info.bytes) }}
        </FactLine>
        <template v-if="counts.parts + counts.assemblies > 0">
          <FactLine name="From" :whole="info.producer">{{ info.producer || 'not stated' }}</FactLine>
          <FactLine name="Unit"><UnitChoice :info="info" /></FactLine>
          <FactLine name="Up">
            <SourceChoice
              :label="`Up axis of ${info.name}`"
              :chosen="upChosen(store.steps, info.id)"
              :received="`${info.upAxis.axis}, ${info.upAxis.by === 'file' ? 'as declared' : 'by convention, not in the file'}`"
              :others="otherUpAxes(info.upAxis.axis)"
              @choose="chooseUp(source.id, $event)"
            />
          </FactLine>
          <FactLine v-if="info.variants?.length" name="Variant">
            <SourceChoice
              :label="`Variant of ${info.name}`"
              :chosen="variantChosen(store.steps, info.id)"
              received="as the file opens"
              :others="info.variants.map((name) => ({ value: name, label: name }))"
              @choose="chooseVariant(source.id, $event)"
            />
          </FactLine>
          <FactLine name="Tree">{{ tree }}</FactLine>
          <FactLine v-if="counts.wires" name="Wires">
            {{ counted(counts.wires, 'body of lines repeats', 'bodies of lines repeat') }} solids,
            {{ wiresTaken(store.steps, source.id) ? 'taken too' : 'left out' }}
            <button class="plain link" @click="takeWires(source.id, !wiresTaken(store.steps, source.id))">
              {{ wiresTaken(store.steps, source.id) ? 'Leave out' : 'Take too' }}
            </button>
          </FactLine>
        </template>
        <FactLine v-if="info.holds?.triangles" name="Mesh"
          >{{ formatCount(info.holds.triangles) }} triangles as placed</FactLine
        >
        <template v-if="size">
          <FactLine name="Size">
            {{ describeSize(size.sides, 'm') }}
            <strong v-if="size.impossible" class="bad" role="alert">{{ size.likeness }}</strong>
            <span v-else :class="size.doubtful ? 'warn' : 'quiet'">{{ size.likeness }}</span>
            <span v-if="size.away > FAR" class="warn">, {{ formatLength(size.away, 'km') }} from the origin</span>
          </FactLine>
          <template v-if="size.alternatives.length">
            <FactLine
              ><div class="quiet others">
                <button
                  v-for="other in size.alternatives.slice(0, 3)"
                  :key="other.unit"
                  class="plain link"
                  :title="`Read ${source.name} in ${other.unit}: ${formatLength(other.largest, 'm')} long`"
                  @click="readLarger(source.id, factor * other.factor, `read in ${other.unit}`)"
                >
                  {{ formatLength(other.largest, 'm') }} if {{ other.unit }}
                </button>
              </div></FactLine
            >
          </template>
        </template>
        <template v-if="stated.stated">
          <FactLine name="Stated">
            volume, area or centre of {{ formatCount(stated.stated) }} parts<template v-if="stated.meshed"
              >:
              <span :class="stated.differences.length ? 'warn' : 'good'">{{
                stated.differences.length ? `${formatCount(stated.differences.length)} differ` : 'all agree'
              }}</span></template
            >
          </FactLine>
          <template v-for="difference in stated.differences.slice(0, 5)" :key="difference.keys[0]">
            <FactLine
              ><div class="warn">
                <button class="plain others" @click="selection.pick(difference.keys)">{{ difference.name }}</button>
                {{ difference.what }}
              </div></FactLine
            >
          </template>
        </template>
        <FactLine v-if="movements.length" name="Moves">
          <span v-for="{ id, name, duration, nodes } in movements.slice(0, 4)" :key="id" class="movement clip">
            {{ name }}, {{ formatNumber(duration, 3) }} s, {{ counted(nodes, 'node') }}
          </span>
          <span v-if="movements.length > 4" class="quiet">and {{ formatCount(movements.length - 4) }} more</span>
        </FactLine>
        <FactLine v-if="textures.length" name="Pictures">
          <template v-for="({ state, text }, i) in pictures" :key="state"
            ><template v-if="i">, </template><span :class="{ warn: state !== 'found' }">{{ text }}</span></template
          >
        </FactLine>
        <FactLine v-if="also" name="Also">{{ also }}</FactLine>
      </FactSheet>
      <TakeList :source="source.id" />
      <details v-if="counts.materials.length">
        <summary>
          {{ counted(counts.materials.length, 'material') }}
        </summary>
        <ul class="tally">
          <li v-for="material in counts.materials" :key="material.id">
            <button class="plain" title="Select the parts of this material" @click="pickMaterial(material.id)">
              <i :style="{ background: swatch(material.id) }" />{{ material.name }}</button
            ><span>{{ formatCount(material.parts) }}</span>
          </li>
        </ul>
      </details>
      <details v-if="textures.length">
        <summary>{{ counted(textures.length, 'picture') }}</summary>
        <ul class="tally">
          <li v-for="texture in textures" :key="texture.id">
            <span class="clip" :title="texture.name">{{ texture.name.split('/').at(-1) }}</span>
            <span v-if="texture.state === 'missing'" class="warn">missing</span>
            <span v-else
              ><template v-if="texture.width">{{ texture.width }} × {{ texture.height }} px, </template
              >{{ formatBytes(texture.bytes)
              }}<span v-if="texture.state === 'unbound'" class="warn">, unbound</span></span
            >
          </li>
        </ul>
      </details>
      <TextureSets :source="source.id" />
      <details v-if="info.notRead?.length">
        <summary>{{ counted(info.notRead.length, 'thing') }} not carried</summary>
        <ul class="warnings">
          <li v-for="note in info.notRead" :key="note">{{ note }}</li>
        </ul>
      </details>
      <details v-if="info.warnings.length" open>
        <summary class="warn">
          {{ counted(info.warnings.length, 'warning') }}
        </summary>
        <ul class="warnings">
          <li v-for="(warning, i) in info.warnings.slice(0, 20)" :key="i">
            {{ warning.message }} <span v-if="warning.where" class="quiet mono">{{ warning.where }}</span>
          </li>
          <li v-if="info.warnings.length > 20" class="quiet">and {{ info.warnings.length - 20 }} more</li>
        </ul>
      </details>
    </template>
  </article>
</template>

<style scoped>
article {
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--rule-soft);
  margin-bottom: 8px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 8px;
}
strong {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.movement {
  display: block;
}
.others {
  margin-left: -4px;
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
}
.link {
  color: var(--iris);
}
details {
  margin-top: 4px;
}
summary {
  cursor: pointer;
  color: var(--ink-2);
}
summary.warn {
  color: var(--ochre);
}
.tally li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding-left: 10px;
}
.tally i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
  border: 1px solid var(--rule);
}
.warnings {
  font-size: 12px;
  padding-left: 10px;
  display: grid;
  gap: 4px;
  margin-top: 4px;
  overflow-wrap: anywhere;
}
.mono {
  font-family: var(--mono);
  font-size: 11px;
}
</style>
