/** Three pages: the list of jobs, a batch of them, and the bench of one job. */
import { createRouter, createWebHistory } from 'vue-router';
import JobsPage from './pages/JobsPage.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'jobs', component: JobsPage },
    { path: '/jobs/:job/:station?', name: 'bench', component: () => import('./pages/BenchPage.vue'), props: true },
    { path: '/batches/:id', name: 'batch', component: () => import('./pages/BatchPage.vue'), props: true },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
