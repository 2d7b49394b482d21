/**
 * What was done and is not saved yet, kept in the browser: it is there again when the page is loaded anew. Each window keeps its own; what
 * a window left that is gone is taken over by the next that opens the job.
 */
import { createStore, del, entries, set } from 'idb-keyval';
import type { UseStore } from 'idb-keyval';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Changed } from './stepsChange.ts';

export interface Unsaved {
  note: string;
  /** Version that it was made on, with what was unsaved before it. */
  base: number;
  steps: Changed<Step>;
  sources?: Changed<string>;
}

let store: UseStore | undefined;
const place = () => (typeof indexedDB === 'undefined' ? undefined : (store ??= createStore('noble-prism', 'unsaved')));

/** This window, also after it was loaded anew; it holds a lock as long as it is there. */
let own: string | undefined;
function thisWindow(): string {
  if (own) return own;
  own = sessionStorage.getItem('window') ?? crypto.randomUUID();
  sessionStorage.setItem('window', own);
  // Where there are no locks, what other windows left stays with them.
  void navigator.locks?.request(`window ${own}`, () => new Promise(() => {}));
  return own;
}

/** Windows that are open. */
async function openWindows(): Promise<Set<string> | undefined> {
  const { held } = (await navigator.locks?.query()) ?? {};
  return held && new Set(held.map(({ name = '' }) => name.replace('window ', '')));
}

/** Keeps what is not saved of a job instead of what was kept before; nothing is lost where the browser refuses, but a reload. */
export async function keepUnsaved(job: string, list: readonly Unsaved[]): Promise<void> {
  const at = place();
  if (!at) return;
  const key = `${job} ${thisWindow()}`;
  await (list.length > 0 ? set(key, JSON.parse(JSON.stringify(list)), at) : del(key, at)).catch(() => {});
}

/** What is not saved of a job, of this window and of those that are gone, oldest first. */
export async function unsavedOf(job: string): Promise<Unsaved[]> {
  const at = place();
  if (!at) return [];
  const mine = thisWindow();
  const open = await openWindows();
  const kept = (await entries<string, Unsaved[]>(at).catch(() => [])).filter(([key]) => {
    const [of, by] = key.split(' ');
    return of === job && (by === mine || (open !== undefined && !open.has(by)));
  });
  for (const [key] of kept) if (!key.endsWith(` ${mine}`)) await del(key, at).catch(() => {});
  return kept.flatMap(([, list]) => list).sort((a, b) => a.base - b.base);
}
