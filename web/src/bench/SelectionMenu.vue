<script setup lang="ts">
/** The menu of the right click: what can be done with what is selected, by station; words that are typed find it. */
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import { useSelection } from '../stores/selection.ts';
import { useActions } from './actions.ts';
import { findActions } from './benchAction.ts';
import type { BenchAction } from './benchAction.ts';
import { STATIONS } from './stations.ts';

/** Room that it takes at most, pixels: it scrolls within. */
const [WIDTH, HEIGHT, EDGE] = [320, 480, 8];

const actions = useActions();
const selection = useSelection();
const open = ref(false);
const place = ref({ left: 0, top: 0 });
const sought = ref('');
const at = ref(0);
const field = useTemplateRef('field');
const list = useTemplateRef('list');
/** What can be done is asked for with each opening. */
const offered = ref<BenchAction[]>([]);
/** What had the keyboard before. */
let before: HTMLElement | null = null;

const head = computed(() => {
  const { nodes } = selection;
  return nodes.length === 1 ? nodes[0].name : nodes.length > 0 ? counted(nodes.length, 'row') : 'everything';
});

interface Group {
  title: string;
  actions: BenchAction[];
}
const stationOf = ({ id }: BenchAction) => STEP_KINDS.get(id.replace(/^kind-/, ''))?.station;
/** By station, as long as nothing is sought; then the best first. */
const groups = computed<Group[]>(() => {
  const found = findActions(offered.value, sought.value);
  if (sought.value.trim()) return [{ title: '', actions: found }];
  const own = { title: 'Selection', actions: found.filter(({ group }) => group === 'Selection') };
  const stations = STATIONS.map(({ id, title }) => ({ title, actions: found.filter((action) => stationOf(action) === id) })); // prettier-ignore
  return [own, ...stations].filter((group) => group.actions.length > 0);
});
const flat = computed(() => groups.value.flatMap((group) => group.actions));

async function show(event: MouseEvent): Promise<void> {
  offered.value = actions().filter(({ onSelection, enabled }) => onSelection && enabled !== false);
  before = document.activeElement instanceof HTMLElement ? document.activeElement : null;
  sought.value = '';
  at.value = 0;
  place.value = {
    left: Math.max(EDGE, Math.min(event.clientX, window.innerWidth - WIDTH - EDGE)),
    top: Math.max(EDGE, Math.min(event.clientY, window.innerHeight - HEIGHT - EDGE)),
  };
  open.value = true;
  await nextTick();
  field.value?.focus();
}

/** What had the keyboard gets it again. */
function close(): void {
  open.value = false;
  before?.focus();
}

function run(action: BenchAction | undefined): void {
  if (!action) return;
  close();
  action.run();
}

async function key(event: KeyboardEvent): Promise<void> {
  if (event.key === 'ArrowDown') at.value = Math.min(flat.value.length - 1, at.value + 1);
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1);
  else if (event.key === 'Home' && !sought.value) at.value = 0;
  else if (event.key === 'End' && !sought.value) at.value = flat.value.length - 1;
  else if (event.key === 'Enter') run(flat.value[at.value]);
  else if (event.key === 'Escape' || event.key === 'Tab') close();
  else return;
  event.preventDefault();
  event.stopPropagation();
  await nextTick();
  list.value?.querySelector('[aria-selected=true]')?.scrollIntoView?.({ block: 'nearest' });
}

defineExpose({ show });
</script>

<template>
  <Teleport to="body">
    <div v-if="open" class="shield" @pointerdown.self="close()" @contextmenu.prevent.self="close()">
      <div
        class="menu"
        role="dialog"
        aria-label="What can be done"
        :style="{
          left: `${place.left}px`,
          top: `${place.top}px`,
          width: `${WIDTH}px`,
          maxHeight: `min(${HEIGHT}px, calc(100vh - ${2 * EDGE}px))`,
        }"
      >
        <p class="head clip" :title="head">{{ head }}</p>
        <span class="line-field">
          <input
            ref="field"
            v-model="sought"
            type="search"
            role="combobox"
            aria-label="Find what to do with it"
            aria-controls="menu-found"
            aria-expanded="true"
            :aria-activedescendant="flat[at] ? `menu-${flat[at].id}` : undefined"
            placeholder="Find"
            @input="at = 0"
            @keydown="key"
          />
        </span>
        <div id="menu-found" ref="list" role="listbox" aria-label="What can be done">
          <template v-for="{ title, actions: some } in groups" :key="title">
            <p v-if="title" class="caps section" role="presentation">{{ title }}</p>
            <div
              v-for="action in some"
              :id="`menu-${action.id}`"
              :key="action.id"
              class="entry"
              role="option"
              :aria-selected="flat[at] === action"
              :title="action.purpose"
              @pointermove="at = flat.indexOf(action)"
              @pointerdown.prevent
              @click="run(action)"
            >
              <span class="clip">{{ action.title }}</span><kbd v-if="action.keys">{{ action.keys }}</kbd>
            </div>
          </template>
          <p v-if="!flat.length" class="quiet none">Nothing is called so.</p>
        </div>
      </div>
    </div>
  </Teleport>
</template>

<style scoped>
.shield {
  position: fixed;
  inset: 0;
  z-index: 1100;
}
.menu {
  position: fixed;
  display: flex;
  flex-direction: column;
  padding: 8px 0 4px;
  background: var(--raised);
  border: 1px solid var(--ink);
}
.head {
  flex: none;
  padding: 0 12px 4px;
  font-weight: 600;
}
.line-field {
  flex: none;
  margin: 0 12px 4px;
}
[role='listbox'] {
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
}
.section {
  padding: 8px 12px 2px;
}
.entry {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 16px;
  min-height: 26px;
  padding: 3px 12px;
  cursor: pointer;
}
.entry[aria-selected='true'] {
  background: var(--iris-wash);
}
.none {
  padding: 4px 12px 8px;
}
</style>
