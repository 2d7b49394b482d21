<script setup lang="ts">
/** The finish schedule: what lacks a rule, the rules, the one that is edited, why a part has its material, and giving another one. */
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import { withoutCoordinates } from '@noble-prism/core/finish/withoutCoordinates';
import { withRule } from '@noble-prism/core/finish/scopes';
import { NO_RULE } from '@noble-prism/core/finish/schedule';
import { LIBRARY } from '@noble-prism/core/finish/library/library';
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import { PART } from '@noble-prism/core/scene/nodes';
import { counted } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useFaces } from '../../stores/faces.ts';
import { useSelection } from '../../stores/selection.ts';
import { layCoordinates, wordsOfBare } from './bareOfCoordinates.ts';
import GiveMaterial from './GiveMaterial.vue';
import LibrarySheet from './LibrarySheet.vue';
import RuleEditor from './RuleEditor.vue';
import ScheduleFile from './ScheduleFile.vue';
import ScheduleTable from './ScheduleTable.vue';
import UnruledList from './UnruledList.vue';
import WhyList from './WhyList.vue';
import { useSchedule } from './schedule.ts';
import { wideSchedule as wide } from './wide.ts';
import { openStep } from '../stepEdits.ts';
import WipeButton from '../WipeButton.vue';

const store = useJob();
const router = useRouter();
const schedule = useSchedule();
const { step, all, rules, counts, before } = schedule;
const selection = useSelection();
const faces = useFaces();
const table = useTemplateRef('table');
const opened = ref<number>();
const showsLibrary = ref(false);
/** Place of a rule that is new, and not applied yet. */
const freshAt = ref<number>();
const showsUnruled = ref(rules.value.length === 0);

/** At the side, what can be done with the selection stands above the rules. */
const hasSelection = computed(() => selection.parts.size > 0 || faces.picked.length > 0);
const idle = computed(() =>
  rules.value.flatMap((rule, index) => (rule.on !== false && schedule.line(index)?.parts === 0 ? [index] : [])),
);

/** What is still being made is not lacking. */
const bare = computed(() =>
  store.evaluation?.missing || store.trial ? [] : withoutCoordinates(store.scene, store.applied),
);
const lay = () => layCoordinates(store.scene, bare.value, (station) => void router.push(`/jobs/${store.job?.id}/${station}`)); // prettier-ignore

function pickUnruled(): void {
  const { nodes } = before.value;
  const { kind } = nodes.columns;
  const winners = counts.value?.winners;
  const keys: string[] = [];
  for (let row = 0; winners && row < nodes.rows; row++)
    if (kind[row] === PART && winners[row] === NO_RULE) keys.push(nodes.key(row));
  selection.pick(keys);
}

/** A new rule, of what is selected, or of a name that is typed: shown until it is applied. */
function add(): void {
  const which = selection.keys.size > 0 ? selection.selector : ({ by: 'name', pattern: '' } as const);
  const rule: FinishRule = { which, material: LIBRARY[0].id };
  const next = withRule(rules.value, rule);
  const at = next.indexOf(rule);
  schedule.tryOut((list) => list.toSpliced(at, 0, rule));
  freshAt.value = opened.value = at;
}
// What was begun is given up where another rule is opened, and closed where it was added or discarded.
watch(opened, (index) => {
  if (freshAt.value === undefined || index === freshAt.value) return;
  freshAt.value = undefined;
  schedule.tryOut();
});
watch(schedule.tried, (tried) => {
  if (tried || freshAt.value === undefined) return;
  freshAt.value = opened.value = undefined;
});
</script>

<template>
  <LibrarySheet v-model:visible="showsLibrary" :schedule="schedule" />
  <div class="schedule" :class="{ wide }">
    <div class="main">
      <div class="state">
        <span role="status">
          <template v-if="counts">
            {{ counted(rules.length, 'rule') }},
            <button
              v-if="counts.unruled"
              class="plain link"
              :aria-expanded="showsUnruled"
              @click="showsUnruled = !showsUnruled"
            >
              {{ counted(counts.unruled, 'part') }} without a rule</button
            ><template v-else>every part has one</template
            ><template v-if="idle.length"
              >,
              <button class="plain link warn" title="Open the first of them" @click="opened = idle[0]">
                {{ counted(idle.length, 'rule') }} without parts
              </button></template
            >
          </template>
        </span>
        <button
          class="plain link"
          :aria-label="wide ? 'To the side: schedule back to the side' : 'Widen: schedule across the width'"
          @click="wide = !wide"
        >
          {{ wide ? 'To the side' : 'Widen' }}
        </button>
      </div>
      <p v-if="step && !step.on" class="warn">The schedule is switched off in the list of steps.</p>
      <p v-if="bare.length" class="warn">
        {{ wordsOfBare(store.scene, bare) }}.
        <button class="plain link" @click="lay">Texture coordinates</button>
      </p>
      <div v-if="all.length > 1" class="several">
        <button
          v-for="(one, i) in all"
          :key="one.id"
          class="plain link"
          :aria-pressed="one.id === step?.id"
          @click="openStep = one.id"
        >
          Schedule {{ i + 1 }}
        </button>
      </div>
      <div v-if="showsUnruled && counts" class="unruled">
        <UnruledList :schedule="schedule" :wide="wide" />
        <button v-if="counts.unruled" class="plain link" @click="pickUnruled">Select all of these parts</button>
      </div>
      <template v-if="!wide && hasSelection">
        <GiveMaterial :schedule="schedule" />
        <WhyList :schedule="schedule" @open="opened = $event" />
      </template>
      <p v-if="!rules.length" class="quiet">
        No rules yet. Give a layer or a colour its material above, or select parts and give them one below.
      </p>
      <ScheduleTable v-else ref="table" v-model:opened="opened" :schedule="schedule" :wide="wide" />
      <div class="foot">
        <button class="plain link" @click="add">Add a rule</button>
        <button class="plain link" @click="showsLibrary = true">Material library…</button>
        <ScheduleFile :schedule="schedule" />
      </div>
    </div>
    <div class="side">
      <RuleEditor
        v-if="opened !== undefined && rules[opened]"
        :schedule="schedule"
        :index="opened"
        :fresh="freshAt === opened"
        @close="opened = undefined"
        @duplicate="table?.duplicate(opened)"
        @remove="table?.remove(opened)"
      />
      <template v-if="wide || !hasSelection">
        <GiveMaterial :schedule="schedule" />
        <WhyList :schedule="schedule" @open="opened = $event" />
      </template>
      <WipeButton v-if="step && step.id === openStep" :step="step" />
      <slot />
      <p class="quiet last">The lower of two rules wins. Without a rule a part keeps the material it came with.</p>
    </div>
  </div>
</template>

<style scoped>
.state {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 6px;
  font-size: 12px;
}
.several {
  display: flex;
  gap: 10px;
  font-size: 12px;
}
.several [aria-pressed='true'] {
  font-weight: 600;
  color: var(--ink);
}
.unruled {
  margin-bottom: 10px;
  font-size: 12px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 6px 0;
  font-size: 12px;
}
.last {
  font-size: 12px;
  margin-top: 8px;
}
.schedule.wide {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 0 24px;
  height: 100%;
}
.wide .main {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.wide .main > :deep(.schedule-table) {
  flex: 1;
  min-height: 0;
}
.wide .unruled {
  max-height: 40%;
  overflow: auto;
}
.wide .side {
  overflow-y: auto;
  min-height: 0;
}
</style>
