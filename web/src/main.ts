/** Starts the interface. */
import '@fontsource-variable/instrument-sans/index.css';
import '@fontsource-variable/source-serif-4/index.css';
import '@fontsource/ibm-plex-mono/latin-400.css';
import './theme/sheet.css';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router.ts';
import { Sheet } from './theme/preset.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

// Sheets are there at once: one that fades in takes the focus when it is done, from who has begun to type.
const pt = { dialog: { transition: { css: false } } };

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, { theme: { preset: Sheet, options: { darkModeSelector: '.dark' } }, csp: { nonce }, pt })
  .mount('#app');
