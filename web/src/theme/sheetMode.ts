/** Light or dark sheet: as the system asks, until somebody chooses. */
import { ref, watchEffect } from 'vue';

const KEY = 'noble-prism.sheet';
const stored = localStorage.getItem(KEY);
const system = window.matchMedia('(prefers-color-scheme: dark)');

export const dark = ref(stored ? stored === 'dark' : system.matches);

system.addEventListener('change', (event) => {
  if (!localStorage.getItem(KEY)) dark.value = event.matches;
});

watchEffect(() => document.documentElement.classList.toggle('dark', dark.value));

export function turnSheet(): void {
  dark.value = !dark.value;
  localStorage.setItem(KEY, dark.value ? 'dark' : 'light');
}
