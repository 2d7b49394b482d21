<script setup lang="ts">
import { computed, reactive, ref } from 'vue';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { LIBRARY } from '@noble-prism/core/finish/library';
import type { FinishesParameters, FinishRule } from '@noble-prism/core/steps/finishes';
import { nameTest } from '@noble-prism/core/select/patterns';
import { PART } from '@noble-prism/core/scene/nodes';
import { partsByMaterial, partsByWord } from '@noble-prism/core/scene/parts';
import { formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import ChoiceField from '../../parts/ChoiceField.vue';
import DataTable from '../../parts/DataTable.vue';
import type { TableColumn } from '../../parts/dataTable.ts';
import SearchField from '../../parts/SearchField.vue';
import { changeSteps, openStep } from '../stepEdits.ts';
import WipeButton from '../WipeButton.vue';

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
        const matches = nameTest(nodes.tables.texts, rule.match);
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

const MATERIALS = [
  { value: undefined, label: 'as received', colour: '' },
  ...LIBRARY.map(({ id, name, baseColor }) => ({ value: id, label: name, colour: hexFromLinear(baseColor) })),
];
const columns: TableColumn<Line>[] = [
  { id: 'title', title: 'Of', by: ({ title }) => title },
  { id: 'parts', title: 'Parts', by: ({ rows }) => rows.length, figure: true, width: '44px' },
  { id: 'material', title: 'Material', by: ({ material }) => material && nameOf(material), width: '132px' },
];
const nameOf = (id: string) => MATERIALS.find(({ value }) => value === id)?.label;
/** A rule that takes hold of nothing. */
const isIdle = ({ material, rows }: Line) => material !== undefined && rows.length === 0;

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
    <DataTable
      v-if="lines[by].length"
      :label="title"
      :columns="columns"
      :rows="found(by)"
      :key-of="({ match }) => match"
      :row-height="30"
      :tallest="560"
    >
      <template #cell-title="{ row }">
        <button
          class="plain match"
          :title="`Select ${row.title}`"
          @click="selection.pick(row.rows.map((one: number) => store.base.nodes.key(one)))"
        >
          <i v-if="row.colour" class="material-dot" :style="{ background: row.colour }" /><span>{{ row.title }}</span>
        </button>
      </template>
      <template #cell-parts="{ row }">
        <span :class="isIdle(row) ? 'warn' : 'quiet'">{{ isIdle(row) ? '! 0' : formatCount(row.rows.length) }}</span>
      </template>
      <template #cell-material="{ row }">
        <ChoiceField
          :label="`Material for ${row.title}`"
          :model-value="row.material"
          :choices="MATERIALS"
          @update:model-value="assign(by, row.match, $event ?? '')"
        />
      </template>
    </DataTable>
    <form v-if="by === 'name'" class="add" @submit.prevent="addName">
      <span class="line-field"
        ><input
          v-model="pattern"
          aria-label="Name pattern"
          placeholder="Name, * for anything"
          maxlength="300"
          autocomplete="off"
      /></span>
      <ChoiceField
        :model-value="nameBy"
        label="Which name the pattern is about"
        :choices="[
          { value: 'received', label: 'as received' },
          { value: 'name', label: 'at this step' },
        ]"
        @update:model-value="nameBy = $event ?? nameBy"
      />
      <button class="act" :disabled="!pattern.trim()">Add</button>
    </form>
  </div>
  <WipeButton v-if="step && step.id === openStep" :step="step" />
  <p class="quiet foot">
    Names prevail over colours, colours over layers. Without a rule a part keeps the colour it came with.
  </p>
</template>

<style scoped>
.match {
  display: flex;
  align-items: center;
  max-width: 100%;
  padding: 3px 2px;
}
.match > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.section :deep([role='cell'] .p-select) {
  border-bottom: 0;
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
.foot {
  font-size: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
</style>
