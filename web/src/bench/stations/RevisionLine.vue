<script setup lang="ts">
/** Which revision of a source is shown, one that is on its way, and what steps could no longer find in the latest. */
import { computed } from 'vue';
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { titleOf } from '@noble-prism/core/steps/kinds';
import { formatCount } from '@noble-prism/core/units';
import type { Source } from '../../api/client.ts';
import FileButton from '../../parts/FileButton.vue';
import { useJob } from '../../stores/job.ts';
import { openStep } from '../stepEdits.ts';

const props = defineProps<{ source: Source }>();
const store = useJob();

const coming = computed(() => store.coming.get(props.source.id));
/** Steps that name parts of this source which it no longer has. */
const lost = computed(() =>
  (store.evaluation?.reports ?? []).flatMap((report) => {
    const step = store.steps.find(({ id }) => id === report.id);
    const keys = report.lost.filter((key) => key.startsWith(`${props.source.id}:`));
    return step && keys.length > 0 ? [{ id: step.id, title: titleOf(step), names: keys.map(lastOf) }] : [];
  }),
);
const lastOf = (key: string) => key.split('/').at(-1) ?? key;
/** Names that are written out. */
const MOST = 4;
</script>

<template>
  <p class="line">
    <span class="quiet">revision {{ source.revision }}</span>
    <FileButton
      :label="`Choose a new revision of ${source.name}`"
      multiple
      :accept="READABLE_ENDINGS"
      look="plain link"
      title="Take a newer file of the same model: unit, names, finishes and picked parts stay"
      :disabled="coming?.state === 'reading'"
      @choose="store.revise(source.id, $event)"
      >New revision…</FileButton
    >
  </p>
  <p v-if="coming?.state === 'reading'" class="quiet" role="status">
    Reading revision {{ coming.revision }}; revision {{ source.revision }} is shown until it is there.
  </p>
  <p v-else-if="coming" class="bad" role="alert">
    Revision {{ coming.revision }} could not be read; revision {{ source.revision }} stays. {{ coming.error?.message }}
  </p>
  <p v-for="{ id, title, names } in lost" :key="id" class="warn">
    <button class="plain link" :title="`Open ${title}`" @click="openStep = id">{{ title }}</button> no longer finds
    {{ names.slice(0, MOST).join(', ')
    }}<template v-if="names.length > MOST"> and {{ formatCount(names.length - MOST) }} more</template>.
  </p>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
</style>
