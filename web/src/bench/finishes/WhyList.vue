<script setup lang="ts">
/** Why the selected part has its material: the rules that name it, and which of them won. */
import { computed } from 'vue';
import type { Reason } from '@noble-prism/core/finish/why';
import { counted } from '@noble-prism/core/units';
import PanelSection from '../../parts/PanelSection.vue';
import { useSelection } from '../../stores/selection.ts';
import { useKnown } from '../known.ts';
import { useMaterialChoices } from './materialChoices.ts';
import type { ShownSchedule } from './schedule.ts';

const props = defineProps<{ schedule: ShownSchedule }>();
const emit = defineEmits<{ open: [index: number] }>();
const selection = useSelection();
const known = useKnown();
const materials = useMaterialChoices();

const part = computed(() => (selection.nodes.length === 1 ? selection.nodes[0] : undefined));
const reasons = computed<readonly Reason[]>(() => {
  const { counts } = props.schedule;
  // Of the part that was selected before, the answer says nothing.
  return counts.value?.watch.row === part.value?.id ? (counts.value?.reasons ?? []) : [];
});
const ruleAt = (index: number) => props.schedule.rules.value[index];
const hadOf = ({ had }: Reason) => had.map((id) => (id === 'none' ? 'no material' : known.material(id))).join(', ');
</script>

<template>
  <PanelSection title="Why this material?" class="why">
    <p v-if="!part || part.kind !== 'part'" class="quiet">Select one part, and the rules that name it stand here.</p>
    <template v-else>
      <p class="part">{{ part.name }}</p>
      <div v-for="reason in reasons" :key="reason.slots.join()" class="reason">
        <p v-if="reasons.length > 1" class="quiet">
          Where it had {{ hadOf(reason) }}: {{ counted(reason.triangles, 'triangle') }}
        </p>
        <ol>
          <li :class="{ won: reason.rules.length === 0 }">
            <span class="verdict">{{ reason.rules.length === 0 ? 'shown' : 'before' }}</span>
            <span>{{ hadOf(reason) }}<span class="quiet"> as it comes to the schedule</span></span>
          </li>
          <li v-for="(rule, i) in reason.rules" :key="rule" :class="{ won: i === reason.rules.length - 1 }">
            <span class="verdict">{{ i === reason.rules.length - 1 ? 'won' : 'lost' }}</span>
            <button v-if="ruleAt(rule)" class="plain" :title="`Open rule ${rule + 1}`" @click="emit('open', rule)">
              {{ rule + 1 }}&ensp;{{ known.rule(ruleAt(rule).which) }} → {{ materials.nameOf(ruleAt(rule).material) }}
            </button>
          </li>
        </ol>
      </div>
    </template>
  </PanelSection>
</template>

<style scoped>
.why {
  font-size: 12px;
}
.part {
  font-weight: 600;
}
ol {
  list-style: none;
  margin: 2px 0 6px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr);
  align-items: baseline;
  padding: 2px 0;
  color: var(--ink-2);
}
li.won {
  color: var(--ink);
}
li.won .verdict {
  font-weight: 600;
}
li button {
  text-align: left;
  padding: 0;
  overflow-wrap: anywhere;
}
</style>
