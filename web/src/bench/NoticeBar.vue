<script setup lang="ts">
/** Errors in a line of their own between the bar and the panes: nothing lies under them. The others are one click away. */
import { computed, ref } from 'vue';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
const all = ref(false);
const shown = computed(() => (all.value ? notices.list.slice(0, 8) : notices.list.slice(0, 1)));
</script>

<template>
  <div v-if="notices.list.length" class="notices" role="alert">
    <p v-for="({ id, summary, detail, times }, i) in shown" :key="id">
      <b class="bad">{{ summary }}</b>
      <span class="detail"> {{ detail }} <span v-if="times > 1" class="quiet">({{ times }} times)</span> </span>
      <button v-if="i === 0 && notices.list.length > 1" class="plain link" :aria-expanded="all" @click="all = !all">
        {{ all ? 'Only the latest' : `and ${notices.list.length - 1} more` }}
      </button>
      <button v-if="i === 0 && all" class="plain" @click="notices.clear">All read</button>
      <button class="plain" :aria-label="`Read: ${summary}`" title="Read" @click="notices.read(id)">×</button>
    </p>
  </div>
</template>

<style scoped>
.notices {
  border-bottom: 1px solid var(--rule);
  background: var(--raised);
  padding: 2px 14px;
  max-height: 220px;
  overflow-y: auto;
}
p {
  display: flex;
  align-items: baseline;
  gap: 10px;
  min-height: 26px;
}
b {
  white-space: nowrap;
  max-width: 30%;
  overflow: hidden;
  text-overflow: ellipsis;
}
.detail {
  flex: 1;
  min-width: 0;
  overflow-wrap: anywhere;
}
button {
  white-space: nowrap;
}
</style>
