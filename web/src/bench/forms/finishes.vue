<script setup lang="ts">
import Select from 'primevue/select';
import { computed, reactive, ref } from 'vue';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { LIBRARY } from '@noble-prism/core/finish/library';
import type { FinishesParameters, FinishRule } from '@noble-prism/core/steps/finishes';
import { nameMatcher, oncePerNumber } from '@noble-prism/core/select/patterns';
import { PART } from '@noble-prism/core/scene/nodes';
import { partsByMaterial, partsByWord } from '@noble-prism/core/scene/parts';
import { counted, formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import SearchField from '../../parts/SearchField.vue';
import { changeSteps, openStep } from '../stepEdits.ts';

const store = useJob();
const selection = useSelection();
const pattern = ref('');
const nameBy = ref<'name' | 'received'>('received');

/** The schedule that is shown: the step opened by hand, or the first one. */
const step = computed(() => {
  const all = store.steps.filter((candidate) => candidate.kind === 'finishes');
  return all.find((candidate) => candidate.id === openStep.value) ?? all[0];
});
const rules = computed<FinishRule[]>(() => (step.value?.parameters as FinishesParameters | undefined)?.rules ?? []);

interface Line {
  by: FinishRule['by'];
  match: string;
  title: string;
  colour?: string;
  /** Rows of the sources. */
  rows: readonly number[];
  material?: string;
}
const lines = computed<Record<FinishRule['by'], Line[]>>(() => {
  const { base, scene } = store;
  const layers = partsByWord(base.nodes, 'layer');
  // Sources and the prepared scene have the same rows: what has triangles by now is known from the latter.
  const colours = partsByMaterial(base, scene.nodes.columns.mesh, scene);
  const material = (by: string, match: string) =>
    rules.value.findLast((rule) => rule.by === by && rule.match === match)?.material;
  const make = (by: FinishRule['by'], entries: Iterable<[string, readonly number[]]>): Line[] =>
    [...entries].map(([match, rows]) => ({
      by,
      match,
      rows,
      title: by === 'colour' ? (store.base.materials[match]?.name.replace('Colour ', '') ?? match) : match,
      ...(by === 'colour' ? { colour: hexFromLinear(store.base.materials[match]?.baseColor ?? [0.4, 0.4, 0.4]) } : {}),
      material: material(by, match),
    }));
  // Names at this step are those that the prepared scene has, unless a later step renames.
  const named = (by: 'name' | 'received') =>
    rules.value
      .filter((rule) => rule.by === by)
      .map((rule): [string, number[]] => {
        const { nodes } = by === 'name' ? scene : base;
        const matches = oncePerNumber(nodes.tables.texts, nameMatcher(rule.match));
        const { kind, name } = nodes.columns;
        const rows: number[] = [];
        for (let row = 0; row < nodes.rows; row++) if (kind[row] === PART && matches(name[row])) rows.push(row);
        return [rule.match, rows];
      });
  return {
    layer: make('layer', layers),
    colour: withTitles(make('colour', colours)),
    name: make('name', named('name')),
    received: make('received', named('received')),
  };
});

/** Programs give many colours one name: those are told apart by what they look like. */
function withTitles(all: Line[]): Line[] {
  return all.map((line) =>
    all.filter(({ title }) => title === line.title).length > 1
      ? { ...line, title: `${line.title} ${line.colour}` }
      : line,
  );
}

const options = [
  { id: '', name: 'as received', hex: '' },
  ...LIBRARY.map((material) => ({ id: material.id, name: material.name, hex: hexFromLinear(material.baseColor) })),
];
const optionOf = (id: string | undefined) => options.find((option) => option.id === (id ?? '')) ?? options[0];

/** Sets, replaces or removes a rule; the first one makes the step. */
function assign(by: FinishRule['by'], match: string, material: string): void {
  const isSame = (rule: FinishRule) => rule.by === by && rule.match === match;
  const change = (list: FinishRule[]): FinishRule[] => {
    if (!material) return list.filter((rule) => !isSame(rule));
    if (list.some(isSame)) return list.map((rule) => (isSame(rule) ? { by, match, material } : rule));
    // Layers first, then colours, then names: what is closer to the single part comes later and prevails.
    const rank = { layer: 0, colour: 1, received: 2, name: 3 };
    return [...list, { by, match, material }].sort((a, b) => rank[a.by] - rank[b.by]);
  };
  if (step.value) changeSteps.edit(step.value.id, { parameters: { rules: change(rules.value) } });
  else if (material) changeSteps.add('finishes', { by: 'all' }, { rules: change([]) });
}

const sought = reactive<Record<string, string>>({});
function found(by: FinishRule['by']): Line[] {
  const text = sought[by]?.trim().toLowerCase();
  return text ? lines.value[by].filter(({ title }) => title.toLowerCase().includes(text)) : lines.value[by];
}

function addName(): void {
  const match = pattern.value.trim();
  if (!match) return;
  assign(nameBy.value, match, LIBRARY[0].id);
  pattern.value = '';
}

const groups: { by: FinishRule['by']; title: string }[] = [
  { by: 'layer', title: 'By layer' },
  { by: 'colour', title: 'By colour as received' },
  { by: 'received', title: 'By name as received' },
  { by: 'name', title: 'By name at this step' },
];
</script>

<template>
  <p v-if="step && !step.on" class="warn">The schedule is switched off in the list of steps.</p>
  <div v-for="{ by, title } in groups" v-show="by !== 'received' || lines.received.length" :key="by" class="section">
    <p class="caps">{{ title }}</p>
    <p v-if="by === 'layer' && !lines.layer.length" class="quiet">The sources name no layers.</p>
    <SearchField v-model="sought[by]" :count="lines[by].length" :of="title.toLowerCase()" />
    <table v-if="lines[by].length">
      <tbody>
        <tr v-for="line in found(by)" :key="line.match">
          <th scope="row">
            <button
              class="plain"
              :title="`Select ${line.title}`"
              @click="selection.pick(line.rows.map((row) => store.base.nodes.key(row)))"
            >
              <i v-if="line.colour" :style="{ background: line.colour }" /><span class="match">{{ line.title }}</span>
            </button>
          </th>
          <td
            class="figure"
            :class="line.material && line.rows.length === 0 ? 'warn' : 'quiet'"
            :title="counted(line.rows.length, 'part')"
          >
            {{ line.material && line.rows.length === 0 ? '! 0' : formatCount(line.rows.length) }}
          </td>
          <td class="choice">
            <Select
              :aria-label="`Material for ${line.title}`"
              :model-value="line.material ?? ''"
              :options="options"
              option-value="id"
              option-label="name"
              scroll-height="340px"
              @update:model-value="assign(by, line.match, $event)"
            >
              <template #value>
                <span class="material" :class="{ quiet: !line.material }"
                  ><i :style="{ background: optionOf(line.material).hex || 'transparent' }" /><span
                    :title="optionOf(line.material).name"
                    >{{ optionOf(line.material).name }}</span
                  ></span
                >
              </template>
              <template #option="{ option }">
                <span class="material"
                  ><i :style="{ background: option.hex || 'transparent' }" />{{ option.name }}</span
                >
              </template>
            </Select>
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="by === 'name'" class="add" @submit.prevent="addName">
      <span class="line-field"
        ><input
          v-model="pattern"
          aria-label="Name pattern"
          placeholder="Name, * for anything"
          maxlength="300"
          autocomplete="off"
      /></span>
      <Select
        v-model="nameBy"
        aria-label="Which name the pattern is about"
        :options="[
          { value: 'received', label: 'as received' },
          { value: 'name', label: 'at this step' },
        ]"
        option-value="value"
        option-label="label"
      />
      <button class="act" :disabled="!pattern.trim()">Add</button>
    </form>
  </div>
  <p class="quiet foot">
    Names prevail over colours, colours over layers. Without a rule a part keeps the colour it came with.
  </p>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 0;
}
tr {
  border-bottom: 1px solid var(--rule-soft);
}
td.figure {
  width: 34px;
  padding-right: 6px;
  font-size: 12px;
}
td.choice {
  width: 146px;
}
/* Where both do not fit, the material stands under the name. */
@container (max-width: 250px) {
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
  }
  td.choice {
    grid-column: 1 / -1;
    width: auto;
    padding-left: 17px;
  }
}
td.choice :deep(.p-select) {
  border-bottom: 0;
}
th button {
  display: flex;
  align-items: center;
  max-width: 100%;
  padding: 3px 2px;
}
.match {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
i {
  display: inline-block;
  flex: none;
  width: 11px;
  height: 11px;
  margin-right: 6px;
  border: 1px solid var(--rule);
  border-radius: 50%;
}
.material {
  display: inline-flex;
  align-items: center;
  max-width: 100%;
}
.material > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.add {
  display: flex;
  gap: 8px;
  align-items: end;
  margin-top: 4px;
}
.add .line-field {
  flex: 1;
}
.section {
  container-type: inline-size;
}
.foot {
  font-size: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
</style>
