<script setup lang="ts">
/** A button that has files chosen. */
import { ref } from 'vue';

defineOptions({ inheritAttrs: false });
defineProps<{
  label: string;
  accept?: string;
  multiple?: boolean;
  /** A folder is chosen, with everything in it. */
  folder?: boolean;
  look?: string;
}>();
const emit = defineEmits<{ choose: [files: { path: string; file: File }[]] }>();
const chooser = ref<HTMLInputElement>();

function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  emit(
    'choose',
    [...(input.files ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file })),
  );
  // The same file can be chosen again.
  input.value = '';
}
</script>

<template>
  <input
    ref="chooser"
    type="file"
    :multiple="multiple"
    :webkitdirectory="folder"
    :accept="accept"
    class="visually-hidden"
    :aria-label="label"
    tabindex="-1"
    @change="choose"
  />
  <button v-bind="$attrs" :class="look ?? 'act'" @click="chooser?.click()"><slot /></button>
</template>
