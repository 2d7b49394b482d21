<script setup lang="ts">
/** Finishes: the schedule, and what else can be done to materials and to how pictures lie on surfaces. */
import StationActions from '../StationActions.vue';
import FinishSchedule from '../finishes/FinishSchedule.vue';
</script>

<template>
  <FinishSchedule><StationActions station="finishes" except="finishes" first="" /></FinishSchedule>
</template>
