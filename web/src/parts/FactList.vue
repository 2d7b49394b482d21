<script setup lang="ts">
/** What something says of itself: what it is called on the left, what it is on the right, on one edge. */
defineProps<{ facts: readonly { name: string; value: string; note?: string; tone?: 'good' | 'warn' | 'bad' }[] }>();
</script>

<template>
  <dl class="figures">
    <template v-for="{ name, value, note, tone } in facts" :key="name">
      <dt class="clip" :title="name">{{ name }}</dt>
      <dd>
        <span :class="tone && !note ? tone : undefined">{{ value }}</span
        ><span v-if="note" class="note" :class="tone ?? 'quiet'">{{ note }}</span>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
.figures {
  display: grid;
  grid-template-columns: minmax(96px, auto) minmax(0, 1fr);
  gap: 2px 8px;
  align-items: baseline;
}
.note {
  margin-left: 6px;
}
dt {
  color: var(--ink-2);
}
dd {
  text-align: right;
  overflow-wrap: anywhere;
}
</style>
