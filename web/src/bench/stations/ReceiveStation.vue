<script setup lang="ts">
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { someNames } from '@noble-prism/core/read/belonging';
import { formatBytes } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import SourceSheet from './SourceSheet.vue';
import EmptyState from '../../parts/EmptyState.vue';
import FileButton from '../../parts/FileButton.vue';
import PanelSection from '../../parts/PanelSection.vue';
import ProgressLine from '../../parts/ProgressLine.vue';
import StationActions from '../StationActions.vue';

const store = useJob();
</script>

<template>
  <PanelSection title="Sources">
    <EmptyState v-if="!store.sources.length">
      None yet. Drop models anywhere: one file, many, a folder or a zip. A mesh, its material file and its pictures
      belong together; each model is a source of its own.
    </EmptyState>
    <SourceSheet v-for="source in store.sources" :key="source.id" :source="source" />
    <ProgressLine
      v-for="entry in store.uploads"
      :key="entry.number"
      :what="entry.name"
      :state="`${formatBytes(entry.sent)} of ${formatBytes(entry.total)}`"
      @cancel="entry.cancel()"
    />
    <p v-if="store.ignored.length" class="quiet ignored" role="status">
      Left out of the folder, since {{ store.ignored.length === 1 ? 'it is no model' : 'they are no models' }}:
      {{ someNames(store.ignored) }}. <button class="plain" @click="store.ignored = []">Understood</button>
    </p>
    <FileButton
      label="Choose files"
      multiple
      :accept="READABLE_ENDINGS"
      :look="store.sources.length ? 'act' : 'act first'"
      @choose="store.receive"
      >Choose files…</FileButton
    >
  </PanelSection>
  <StationActions station="receive" first="tessellate" />
</template>

<style scoped>
.ignored {
  margin-bottom: 8px;
}
</style>
