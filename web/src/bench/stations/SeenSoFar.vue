<script setup lang="ts">
/** What has been seen of a large source while it is still being read. */
import { computed } from 'vue';
import { formatBytes, formatCount } from '@noble-prism/core/units';
import type { Source } from '../../api/client.ts';
import { useJob } from '../../stores/job.ts';

const props = defineProps<{ source: Source }>();
const store = useJob();

const progress = computed(
  () => store.openTasks.find(({ progress: said }) => said?.seen?.source === props.source.upload)?.progress ?? undefined,
);
const seen = computed(() => progress.value?.seen);
const latest = computed(() => seen.value?.names.toReversed().slice(0, 4) ?? []);
</script>

<template>
  <p v-if="!seen" class="quiet" role="status">Reading {{ formatBytes(source.bytes) }} …</p>
  <template v-else>
    <p class="quiet">{{ progress?.done }} % of {{ formatBytes(source.bytes) }} read</p>
    <dl class="facts">
      <dt>Format</dt>
      <dd class="clip" :title="seen.head">{{ [seen.format, seen.head].filter(Boolean).join(', ') }}</dd>
      <dt>So far</dt>
      <dd>
        {{ formatCount(seen.count) }} {{ seen.what
        }}<template v-if="seen.triangles">, {{ formatCount(seen.triangles) }} triangles</template>
      </dd>
      <template v-for="(name, i) in latest" :key="i">
        <dt>{{ i === 0 ? 'Latest' : '' }}</dt>
        <dd class="clip quiet" :title="name">{{ name }}</dd>
      </template>
    </dl>
  </template>
</template>
