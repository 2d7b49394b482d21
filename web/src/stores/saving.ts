/**
 * Saves of the open job, one after the other: changes that are made while one is being saved wait for it, so that nobody is in conflict
 * with themselves. What somebody else saved first is never overwritten. Where the server cannot be reached, what was done is kept in its
 * order, also over a reload of the page, and saved when it is back.
 */
import { computed, ref, shallowRef, watch } from 'vue';
import type { ComputedRef, Ref, ShallowRef } from 'vue';
import { PrismError } from '@noble-prism/core/errors';
import type { Step } from '@noble-prism/core/steps/kinds';
import { counted } from '@noble-prism/core/units';
import type { Job } from '@noble-prism/wire/job';
import { api, Conflict, Unreachable } from '../api/client.ts';
import { changedSources, changedSteps } from './stepsChange.ts';
import { keepUnsaved, unsavedOf } from './unsaved.ts';
import type { Unsaved } from './unsaved.ts';

export type ChangeSteps = (steps: Step[]) => Step[];
type ChangeSources = (ids: string[]) => string[];

/** A change that was refused because somebody else saved first. */
export interface OpenConflict {
  note: string;
  change: ChangeSteps;
  sources?: ChangeSources;
  current: number;
}

export interface Saving {
  /** Saves and moves under way or waiting. */
  saving: ComputedRef<number>;
  /** Changes that the server has not, since it cannot be reached. */
  unsaved: ComputedRef<number>;
  conflict: ShallowRef<OpenConflict | undefined>;
  canUndo: ComputedRef<boolean>;
  canRedo: ComputedRef<boolean>;
  save(note: string, make: ChangeSteps, sourcesAfter?: ChangeSources): void;
  move(way: 'undo' | 'redo'): Promise<void>;
  /** Steps of a version, with what is not saved on top. */
  withUnsaved(steps: Step[]): Step[];
  /** Takes up what an earlier page could not save. */
  takeUp(): Promise<void>;
  /** The server may be there again. */
  tryAgain(): void;
  /** When all is saved that was changed until now, or cannot be. */
  saved(): Promise<unknown>;
  /** Another job, or none, is open. */
  forget(): void;
}

interface Save {
  note: string;
  make: ChangeSteps;
  sourcesAfter: ChangeSources | undefined;
  kept: Unsaved;
  /** Version that it has to be saved on top of; the current one where absent. */
  base?: number;
}
type Act = Save | { way: 'undo' | 'redo'; done(): void };
const isSave = (act: Act | undefined): act is Save => act !== undefined && 'make' in act;

/** How soon it is tried again where nothing tells that the server is back, milliseconds. */
const AGAIN = 3000;

export function useSaving({
  job,
  take,
  shown,
  refresh,
  fail,
}: {
  job: ShallowRef<Job | undefined>;
  /** The server answered with the job as it is now. */
  take(next: Job): Promise<void>;
  /** What is not saved became other steps. */
  shown(): void;
  refresh(): Promise<void>;
  fail(thrown: unknown): void;
}): Saving {
  const acts: ShallowRef<readonly Act[]> = shallowRef([]);
  /** What was undone of what is not saved, newest last. */
  const undone: ShallowRef<readonly Save[]> = shallowRef([]);
  const blocked: Ref<boolean> = ref(false);
  const conflict = shallowRef<OpenConflict>();
  const saves = computed(() => acts.value.filter(isSave));
  const saving = computed(() => acts.value.length);
  const unsaved = computed(() => (blocked.value ? saves.value.length : 0));
  const canUndo = computed(() => unsaved.value > 0 || job.value?.version.parent != null);
  const canRedo = computed(
    () => undone.value.length > 0 || (job.value !== undefined && job.value.newest !== job.value.version.number),
  );
  let line: Promise<unknown> | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const withUnsaved = (steps: Step[]) => saves.value.reduce((list, { make }) => make(list), steps);

  function keep(): void {
    const id = job.value?.id;
    if (id) void keepUnsaved(id, saves.value.map(({ kept }) => kept)); // prettier-ignore
  }
  // What is answered is no longer kept for the next page.
  watch(conflict, (open, before) => before && !open && keep());

  function save(note: string, make: ChangeSteps, sourcesAfter?: ChangeSources): void {
    const { version } = job.value ?? {};
    if (!version) return;
    undone.value = [];
    const before = withUnsaved(version.steps);
    const ids = saves.value.reduce((list, one) => one.sourcesAfter?.(list) ?? list, version.sources);
    const kept: Unsaved = {
      note,
      base: version.number,
      steps: { before, after: make(before) },
      ...(sourcesAfter ? { sources: { before: ids, after: sourcesAfter(ids) } } : {}),
    };
    add({ note, make, sourcesAfter, kept });
  }

  function add(act: Act): void {
    acts.value = [...acts.value, act];
    if (isSave(act)) keep();
    if (!blocked.value) go();
  }

  function go(): void {
    line ??= run().finally(() => (line = undefined));
  }

  /** One act after the other, until all are done or the server cannot be reached. */
  async function run(): Promise<void> {
    for (let act = acts.value[0]; act; act = acts.value[0]) {
      const id = job.value?.id;
      try {
        const next = isSave(act) ? await saveOne(act) : await moveOne(act.way);
        if (job.value?.id !== id) return;
        drop(act);
        // Saved is said when all is: who leaves at the first of two would take the second for saved.
        if (acts.value.length === 0) blocked.value = false;
        if (next) await take(next);
        else await refresh();
      } catch (thrown) {
        if (job.value?.id !== id) return;
        if (isSave(act) && thrown instanceof Unreachable) return wait();
        await refused(act, thrown);
      }
    }
  }

  function drop(act: Act): void {
    acts.value = acts.value.filter((other) => other !== act);
    if (isSave(act)) keep();
    else act.done();
  }

  async function saveOne({ note, make, sourcesAfter, base }: Save): Promise<Job | undefined> {
    const { id, version } = job.value as Job;
    const steps = make(version.steps);
    const sources = sourcesAfter ? sourcesAfter(version.sources) : version.sources;
    try {
      return await api.save(id, { base: base ?? version.number, note, steps, sources });
    } catch (thrown) {
      // It was saved before, and the answer did not come through.
      const { current } = thrown instanceof Conflict ? thrown : {};
      const isOurs = JSON.stringify([current?.steps, current?.sources]) === JSON.stringify([steps, sources]);
      if (current && isOurs) return api.job(id);
      throw thrown;
    }
  }

  async function moveOne(way: 'undo' | 'redo'): Promise<Job | undefined> {
    const current = job.value;
    const { parent, number } = current?.version ?? {};
    if (!current || number === undefined || (way === 'undo' ? parent == null : current.newest === number))
      return undefined;
    return api[way](current.id, number);
  }

  function wait(): void {
    blocked.value = true;
    clearTimeout(timer);
    timer = setTimeout(tryAgain, AGAIN);
  }

  function tryAgain(): void {
    clearTimeout(timer);
    if (acts.value.length > 0) go();
  }

  /** What the server does not take: others saved first, the job is gone, or the change makes no sense to it. */
  async function refused(act: Act, thrown: unknown): Promise<void> {
    if (!isSave(act)) {
      fail(thrown);
      drop(act);
      return refresh();
    }
    if (thrown instanceof PrismError && thrown.code === 'not-found') {
      const count = counted(saves.value.length, 'change was', 'changes were');
      end();
      return fail(new PrismError('not-found', `This job was deleted meanwhile; ${count} not saved.`));
    }
    if (thrown instanceof Conflict && thrown.current) {
      // All that waits was made on top of it.
      const all = saves.value;
      const note = all.length === 1 ? act.note : `${act.note} and ${all.length - 1} more`;
      const change: ChangeSteps = (steps) => all.reduce((list, { make }) => make(list), steps);
      const withSources = all.some(({ sourcesAfter }) => sourcesAfter);
      const sources: ChangeSources = (ids) => all.reduce((list, one) => one.sourcesAfter?.(list) ?? list, ids);
      conflict.value = { note, change, current: thrown.current.number, ...(withSources ? { sources } : {}) };
      for (const one of acts.value) if (!isSave(one)) one.done();
      acts.value = [];
      blocked.value = false;
    } else {
      fail(thrown);
      drop(act);
    }
    await refresh();
  }

  /** Undo and redo wait in the same line as changes: two quick strokes are two versions back. */
  function move(way: 'undo' | 'redo'): Promise<void> {
    if (blocked.value && moveUnsaved(way)) return Promise.resolve();
    return new Promise((done) => add({ way, done }));
  }

  /** What is not saved is undone here. Returns false where it is about what is saved. */
  function moveUnsaved(way: 'undo' | 'redo'): boolean {
    const last = way === 'undo' ? acts.value.at(-1) : undone.value.at(-1);
    if (!isSave(last) || line) return false;
    acts.value = way === 'undo' ? acts.value.slice(0, -1) : [...acts.value, last];
    undone.value = way === 'undo' ? [...undone.value, last] : undone.value.slice(0, -1);
    keep();
    shown();
    return true;
  }

  async function takeUp(): Promise<void> {
    const id = job.value?.id;
    if (!id) return;
    const kept = await unsavedOf(id);
    if (kept.length === 0 || job.value?.id !== id) return;
    // What others saved since is not to be taken for what it was made on.
    const before = kept.map((one, i): Save => {
      const { note, steps, sources, base } = one;
      const again = { note, make: changedSteps(steps), sourcesAfter: sources && changedSources(sources), kept: one };
      return i === 0 ? { ...again, base } : again;
    });
    acts.value = [...before, ...acts.value];
    keep();
    shown();
    go();
  }

  function end(): void {
    for (const act of acts.value) if (!isSave(act)) act.done();
    acts.value = undone.value = [];
    blocked.value = false;
    keep();
  }

  /** What is not saved of the job that was open stays kept for when it is opened again. */
  function forget(): void {
    clearTimeout(timer);
    for (const act of acts.value) if (!isSave(act)) act.done();
    acts.value = undone.value = [];
    blocked.value = false;
    conflict.value = undefined;
  }

  const saved = () => line ?? Promise.resolve();
  return { saving, unsaved, conflict, canUndo, canRedo, save, move, withUnsaved, takeUp, tryAgain, saved, forget };
}
