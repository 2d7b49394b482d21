/** Mounts components as the application does, on a job that a server in memory has: its scene is read and its steps are applied for real. */
import { mount } from '@vue/test-utils';
import type { VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import PrimeVue from 'primevue/config';
import { vi } from 'vitest';
import type { Component } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import type { Router } from 'vue-router';
import { packScene } from '@noble-prism/core/scene/sceneFile';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Step } from '@noble-prism/core/steps/kinds';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { openStep } from '../bench/stepEdits.ts';
import { useJob } from '../stores/job.ts';
import { FakeEvents, FakeServer } from './fakeServer.ts';

/** Where nothing is laid out everything is of no size: lists that draw what is in sight would draw nothing. Pixels. */
const WINDOW = { width: 800, height: 600 };

const SIZES = {
  offsetWidth: WINDOW.width,
  offsetHeight: WINDOW.height,
  clientWidth: WINDOW.width,
  clientHeight: WINDOW.height,
};
for (const [name, value] of Object.entries(SIZES)) {
  let prototype = Object.getPrototypeOf(document.createElement('div')) as object;
  while (!Object.hasOwn(prototype, name)) prototype = Object.getPrototypeOf(prototype) as object;
  Object.defineProperty(prototype, name, { configurable: true, get: () => value });
}

export interface OpenJob {
  server: FakeServer;
  store: ReturnType<typeof useJob>;
  /** Waits until what was changed is saved, and seen. */
  settled(): Promise<void>;
}

export const step = (id: string, kind: string, selector: Step['selector'], parameters: object): Step => ({ id, kind, on: true, selector, parameters }); // prettier-ignore

/** Left when its test is over: what it could not save would be tried again at the server of the next test. */
let current: ReturnType<typeof useJob> | undefined;

/** Opens a job with one source of these parts. @param received what else is to be known of what was read */
export async function openJob(
  tree: PartSpec[],
  steps: Step[] = [],
  received: (scene: Scene) => Scene = (scene) => scene,
): Promise<OpenJob> {
  setActivePinia(createPinia());
  openStep.value = undefined;
  const server = new FakeServer();
  const { scene } = await sceneWith(tree);
  server.has(SOURCE, await packScene(received(scene)));
  server.append({ note: 'Received', steps, sources: [SOURCE] });
  vi.stubGlobal('fetch', server.fetch);
  vi.stubGlobal('EventSource', FakeEvents);
  const store = useJob();
  current = store;
  await store.open('j');
  const settled = async () => {
    await vi.waitFor(() => {
      if (store.saving > 0 || !store.evaluation) throw new Error('still saving');
      if (store.evaluation.reports.map(({ id }) => id).join() !== store.applied.map(({ id }) => id).join())
        throw new Error('still evaluating');
    });
    // What was sent to the thread of the evaluation is answered by now.
    await new Promise((resolve) => setTimeout(resolve));
  };
  await vi.waitFor(() => {
    if (store.scene.nodes.length === 0) throw new Error('still reading');
  });
  await settled();
  server.log.length = 0;
  return { server, store, settled };
}

/** Id of the only source. */
const SOURCE = 's';

export interface Mounted {
  page: VueWrapper;
  router: Router;
}

const open: VueWrapper[] = [];

/** Other pages are not looked at. */
const Elsewhere: Component = { render: () => null };

/** @param component what stands on the page, with all that it is made of */
export function mounted(component: Component, props: object = {}, slots: Record<string, string> = {}): Mounted {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'jobs', component: Elsewhere },
      { path: '/jobs/:job/:station?', name: 'bench', component: Elsewhere },
      { path: '/batches/:id', name: 'batch', component: Elsewhere },
    ],
  });
  const page = mount(component, {
    props,
    slots,
    attachTo: document.body,
    global: { plugins: [[PrimeVue, { unstyled: true }], router] },
  });
  open.push(page);
  return { page, router };
}

/** Takes everything away that was mounted, with what it put elsewhere on the page, and leaves the job. */
export function unmountAll(): void {
  for (const page of open.splice(0)) page.unmount();
  current?.leave();
  current = undefined;
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
}

/** Elements with a role, and with a name where one is said; sheets stand beside what was mounted, so all of the page is looked through. */
export function all(role: string, name?: string | RegExp): HTMLElement[] {
  const found = [...document.body.querySelectorAll<HTMLElement>(SELECTORS[role] ?? `[role=${role}]`)];
  return found.filter((element) => name === undefined || isCalled(element, name));
}

/** The only one of them. @throws Error where there is none, or several */
export function the(role: string, name?: string | RegExp): HTMLElement {
  const found = all(role, name);
  if (found.length !== 1)
    throw new Error(`${found.length} elements are a ${role}${name === undefined ? '' : ` called ${name}`}`);
  return found[0];
}

const SELECTORS: Record<string, string> = {
  button: 'button',
  checkbox: 'input[type=checkbox]',
  textbox: 'input:not([type=checkbox]):not([role])',
  combobox: '[role=combobox]',
  listitem: 'li',
};

function isCalled(element: HTMLElement, name: string | RegExp): boolean {
  const called = nameOf(element);
  return typeof name === 'string' ? called === name : name.test(called);
}

/** As a screen reader says it: what labels it, or else what stands in it. */
export function nameOf(element: HTMLElement): string {
  const labelledBy = element.getAttribute('aria-labelledby');
  if (labelledBy) return textOf(...labelledBy.split(' ').flatMap((id) => document.getElementById(id) ?? []));
  const label = element.getAttribute('aria-label');
  if (label) return label;
  const forIt = element.id ? document.querySelector<HTMLElement>(`label[for="${element.id}"]`) : null;
  if (forIt) return textOf(forIt);
  const around = element.closest('label');
  return textOf(around ?? element);
}

export const textOf = (...elements: readonly Element[]) =>
  elements
    .map(({ textContent }) => textContent ?? '')
    .join(' ')
    .replaceAll(/\s+/g, ' ')
    .trim();

export async function click(element: HTMLElement, how: MouseEventInit = {}): Promise<void> {
  element.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, ...how }));
  await drawn();
}

export async function press(element: HTMLElement, key: string, how: KeyboardEventInit = {}): Promise<void> {
  element.dispatchEvent(new KeyboardEvent('keydown', { key, code: key, bubbles: true, cancelable: true, ...how }));
  await drawn();
}

/** Types into a field, and leaves it. */
export async function fill(element: HTMLElement, text: string): Promise<void> {
  const field = element as HTMLInputElement;
  field.value = text;
  field.dispatchEvent(new Event('input', { bubbles: true }));
  field.dispatchEvent(new Event('change', { bubbles: true }));
  await drawn();
}

/** Ticks a box, or takes the tick away. */
export async function tick(box: HTMLElement, on: boolean): Promise<void> {
  (box as HTMLInputElement).checked = on;
  box.dispatchEvent(new Event('change', { bubbles: true }));
  await drawn();
}

/** Chooses from a list that opens. */
export async function choose(combobox: HTMLElement, option: string): Promise<void> {
  await opened(combobox);
  await take(the('option', option));
}

/** Some lists take an option as soon as it is pressed, others when it is let go. */
async function take(option: HTMLElement): Promise<void> {
  option.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, cancelable: true }));
  await click(option);
}

async function opened(combobox: HTMLElement): Promise<void> {
  if (combobox.getAttribute('aria-expanded') !== 'true') await press(combobox, 'ArrowDown');
  await vi.waitFor(() => all('option')[0].id);
}

/** Names of what a list that opens has to choose from. */
export async function choicesOf(combobox: HTMLElement): Promise<string[]> {
  await opened(combobox);
  return all('option').map((option) => textOf(option));
}

async function drawn(): Promise<void> {
  // Twice: what a change brings about may change something again.
  for (let i = 0; i < 2; i++) await new Promise((resolve) => setTimeout(resolve));
}
