/** Whether the finish schedule stands across the width of the bench, under the view, or in the panel at its side. */
import { ref } from 'vue';

export const wideSchedule = ref(false);
