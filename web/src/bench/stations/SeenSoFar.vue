<script setup lang="ts">
/** What has been seen of a large source while it is still being read. */
import { computed } from 'vue';
import { formatBytes, formatCount } from '@noble-prism/core/units';
import type { Source } from '../../api/client.ts';
import FactLine from '../../parts/FactLine.vue';
import FactSheet from '../../parts/FactSheet.vue';
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
    <FactSheet>
      <FactLine name="Format" :whole="seen.head">{{ [seen.format, seen.head].filter(Boolean).join(', ') }}</FactLine>
      <FactLine name="So far">
        {{ formatCount(seen.count) }} {{ seen.what
        }}<template v-if="seen.triangles">, {{ formatCount(seen.triangles) }} triangles</template>
      </FactLine>
      <FactLine v-for="(name, i) in latest" :key="i" :name="i === 0 ? 'Latest' : ''" :whole="name">
        <span class="quiet">{{ name }}</span>
      </FactLine>
    </FactSheet>
  </template>
</template>
