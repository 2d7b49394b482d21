<script setup lang="ts">
/** Transmit: to whom the job is sent and as what, what that carries, sending, and what was sent. */
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import type { ComponentPublicInstance } from 'vue';
import { useRouter } from 'vue-router';
import { transformPoint } from '@noble-prism/core/scene/matrix';
import { intoCoordinates } from '@noble-prism/core/scene/origin';
import { takeOff } from '@noble-prism/core/scene/facts';
import { counted, formatCount, formatLength } from '@noble-prism/core/units';
import EmptyState from '../../parts/EmptyState.vue';
import FormRow from '../../parts/FormRow.vue';
import PanelSection from '../../parts/PanelSection.vue';
import ProgressLine from '../../parts/ProgressLine.vue';
import { useJob } from '../../stores/job.ts';
import { useBeforeSending } from '../transmit/beforeSending.ts';
import CarryOverSheet from '../transmit/CarryOverSheet.vue';
import SentEntry from '../transmit/SentEntry.vue';
import TargetList from '../transmit/TargetList.vue';
import { useTargets } from '../transmit/targets.ts';

const store = useJob();
const router = useRouter();
const targets = useTargets();
const notices = useBeforeSending((station) => void router.push(`/jobs/${store.job?.id}/${station}`), targets);
const sheet = ref(false);
const name = ref('');
const folder = ref(false);
const sending = ref(false);
const newest = useTemplateRef<ComponentPublicInstance[]>('newest');
/** The transmittal that stands open. */
const opened = ref<string>();

watch(
  () => store.job?.id,
  () => (name.value = store.job?.name ?? ''),
  { immediate: true },
);
const figures = computed(() => takeOff(store.scene));
const holds = computed(() => {
  const { parts, triangles, materials } = figures.value;
  return `${counted(parts, 'part')}, ${counted(triangles, 'triangle')}, ${counted(materials, 'material')}`;
});
/** Where the origin of the job comes to lie in the files of targets in other coordinates than its own. */
const lies = computed(() => {
  const frames = new Set(targets.on.value.map(({ settings }) => settings.coordinates).filter((frame) => frame !== 'local'));
  return [...frames].map((frame) => {
    const at = transformPoint(intoCoordinates(store.scene.origin ?? {}, frame), [0, 0, 0]);
    const words = frame === 'map' ? 'on the map' : 'as received';
    return { frame, words, text: at.map((value, i) => `${'xyz'[i]} ${formatLength(value, 'm', 11)}`).join(', ') };
  });
}); // prettier-ignore
const task = computed(() => store.openTasks.find((candidate) => candidate.kind === 'transmit'));
const failed = computed(() => {
  const last = store.job?.tasks.filter((candidate) => candidate.kind === 'transmit').at(-1);
  return last?.state === 'failed' ? last.error : undefined;
});
const isReady = computed(() => name.value.trim() !== '' && !task.value && figures.value.parts + emptyScene.value > 0 && targets.on.value.length > 0); // prettier-ignore
/** Lines, points and the like are no parts with triangles, and can be sent. */
const emptyScene = computed(() => store.scene.nodes.length);
const said = computed(() => {
  const count = targets.on.value.length;
  return count > 1 ? `Send to ${formatCount(count)} targets` : 'Send';
});

function send(): void {
  if (!isReady.value) return;
  sending.value = true;
  const list = targets.on.value.map((target) => ({ name: target.name, settings: target.settings }));
  void store.send({ targets: list, name: name.value.trim(), ...(folder.value ? { folder: true } : {}) });
}
// The newest result stands open: that is what one waits for.
watch(
  () => store.job?.transmittals[0]?.id,
  (id, before) => {
    if (before !== undefined || store.job?.transmittals.length === 1) opened.value = id;
    // What became of it is in sight, also below a target that stands open.
    if (before !== undefined || sending.value)
      void nextTick(() => newest.value?.[0]?.$el?.scrollIntoView?.({ block: 'nearest' }));
    sending.value = false;
  },
  { immediate: true },
);
</script>

<template>
  <TargetList :targets="targets" @sheet="sheet = true" />
  <CarryOverSheet v-model:visible="sheet" :targets="targets.on.value" />
  <PanelSection title="Send">
    <FormRow id="send-name" class="short" label="Name">
      <span class="line-field"
        ><input id="send-name" v-model="name" maxlength="200" autocomplete="off" @keydown.enter="send" /><span
          class="quiet"
          >_v{{ store.job?.version.number }}</span
        ></span
      >
    </FormRow>
    <FormRow class="short" label="Holds">
      <span>{{ holds }}</span>
    </FormRow>
    <FormRow v-for="{ frame, words, text } in lies" :key="frame" class="short" label="Origin at">
      <span :title="`Of targets in coordinates ${words}`">{{ text }}</span>
    </FormRow>
    <label class="folder"
      ><input v-model="folder" type="checkbox" /> also into the folder of deliveries on the server</label
    >
    <ul v-if="notices.length" class="notices">
      <li
        v-for="notice in notices"
        :key="notice.id"
        :class="notice.tone"
        :role="notice.tone === 'bad' ? 'alert' : undefined"
      >
        {{ notice.text }}
        <button v-if="notice.way" class="plain link" @click="notice.way.go">{{ notice.way.text }}</button>
      </li>
    </ul>
    <div class="actions">
      <button class="act first" :disabled="!isReady" @click="send">{{ said }}</button>
    </div>
    <ProgressLine v-if="task" :what="task.progress?.what ?? 'Waiting for the worker'" @cancel="store.cancel(task.id)" />
    <p v-if="failed && !task" class="bad note" role="alert">{{ failed.message }}</p>
  </PanelSection>
  <PanelSection title="Sent">
    <EmptyState v-if="!store.job?.transmittals.length">
      Nothing yet. Each file is read back after it is written and compared with what was sent.
    </EmptyState>
    <SentEntry
      v-for="(sent, i) in store.job?.transmittals"
      ref="newest"
      :key="sent.id"
      :sent="sent"
      :before="store.job?.transmittals[i + 1]"
      :open="opened === sent.id"
      @toggle="opened = opened === sent.id ? undefined : sent.id"
      @remove="store.deleteTransmittal(sent.id)"
      @again="store.sendAgain(sent)"
    />
  </PanelSection>
</template>

<style scoped>
/* Room for the name of the job. */
.short {
  grid-template-columns: 60px minmax(0, 1fr);
}
.actions {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 10px;
}
.folder {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
.folder input {
  margin: 0;
}
.notices li {
  margin-top: 6px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
.note {
  margin-top: 6px;
  font-size: 12px;
  overflow-wrap: anywhere;
}
.link {
  color: var(--iris);
  text-decoration: underline;
  padding: 0;
}
</style>
