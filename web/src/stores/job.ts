/** The open job: its sources and steps, the scene that they make, and what the server is doing about it. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, triggerRef } from 'vue';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import type { Forecast } from '@noble-prism/core/preparation/forecast';
import { keyOfSlots } from '@noble-prism/core/preparation/slots';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { api, Conflict } from '../api/client.ts';
import type { Job, SourceRow, Standpoint } from '@noble-prism/wire/job';
import type { Source } from '../api/client.ts';
import type { Task } from '@noble-prism/wire/task';
import { listen } from '../api/events.ts';
import { bundled } from '../api/bundle.ts';
import type { Dropped } from '../api/bundle.ts';
import { upload } from '../api/upload.ts';
import { EvaluationClient } from '../evaluation/client.ts';
import type { Evaluated } from '../evaluation/client.ts';
import { StandIns } from './standIns.ts';
import { withNewerStates } from './taskStates.ts';

export type ChangeSteps = (steps: Step[]) => Step[];

export interface UploadState {
  number: number;
  name: string;
  sent: number;
  total: number;
  cancel(): void;
}

/** A change that was refused because somebody else saved first. */
export interface OpenConflict {
  note: string;
  change: ChangeSteps;
  current: number;
}

const copies = new WeakMap<Step, Step>();

/** A step without what watches it: only plain data goes to another thread. */
function plain(step: Step): Step {
  let copy = copies.get(step);
  if (!copy) copies.set(step, (copy = JSON.parse(JSON.stringify(step)) as Step));
  return copy;
}

let uploadNumber = 0;

/** A source under the id of its slot. */
function inPlace(row: SourceRow | undefined): Source | undefined {
  if (!row) return undefined;
  const { slot, id, ...rest } = row;
  return { ...rest, id: slot, upload: id };
}

export const useJob = defineStore('job', () => {
  const job = shallowRef<Job>();
  const steps = shallowRef<Step[]>([]);
  const base = shallowRef<Scene>(EMPTY_SCENE);
  const evaluation = shallowRef<Evaluated>();
  const uploads = ref<UploadState[]>([]);
  /** What of the latest drop was in a folder and is no model. */
  const ignored = shallowRef<string[]>([]);
  /** Files that are called like sources of the job, until it is said what they are. */
  const sameNames = shallowRef<{ file: File; source: Source }[]>([]);
  const error = shallowRef<PrismError>();
  const conflict = shallowRef<OpenConflict>();
  const offline = ref(false);
  const saving = ref(0);

  const client = new EvaluationClient({
    based: (scene) => (base.value = scene),
    evaluated: (next) => (evaluation.value = next),
    failed: (thrown) => {
      fail(thrown);
      // The server finds the same when it evaluates, and has the source read again.
      if (thrown.code === 'bad-scene' || thrown.code === 'missing-blob') void goOn();
    },
  });
  let baseKey = '';
  let close: (() => void) | undefined;
  let saves: Promise<unknown> = Promise.resolve();

  const scene = computed(() => evaluation.value?.scene ?? EMPTY_SCENE);
  const standIns = new StandIns();
  /** The scene as the view shows it: old triangles stay until new ones are there. */
  const shown = computed(() => standIns.shown(scene.value));
  const sources = computed<Source[]>(() => {
    const ids = job.value?.version.sources ?? [];
    const rows = new Map(job.value?.sources.map((row) => [row.id, row]));
    return ids.flatMap((id) => inPlace(rows.get(id)) ?? []);
  });
  /** Revisions that are on their way into their slots, or could not be read, by slot: the latest of each. */
  const coming = computed(() => {
    const out = new Map<string, Source>();
    for (const row of job.value?.sources ?? []) {
      const shown = sources.value.find(({ id }) => id === row.slot);
      if (shown && row.revision > shown.revision && row.state !== 'ready') out.set(row.slot, inPlace(row) as Source);
    }
    return out;
  });
  const openTasks = computed(() =>
    (job.value?.tasks ?? []).filter((task) => task.state === 'queued' || task.state === 'running'),
  );
  const canUndo = computed(() => job.value?.version.parent != null);
  const canRedo = computed(() => job.value !== undefined && job.value.newest !== job.value.version.number);
  /** Work that is missing, and nobody does it: cancelled, or failed. */
  const stalled = computed(
    () =>
      (evaluation.value?.missing ?? 0) > 0 &&
      saving.value === 0 &&
      !openTasks.value.some((task) => task.kind === 'evaluate' || task.kind === 'read'),
  );

  function fail(thrown: unknown): void {
    error.value = asPrismError(thrown);
  }

  async function open(id: string): Promise<void> {
    leave();
    error.value = undefined;
    client.open(id);
    try {
      await take(await api.job(id));
    } catch (thrown) {
      return fail(thrown);
    }
    close = listen(id, {
      hear(event) {
        if (event.type === 'result') client.send({ type: 'result', key: event.key, value: event.value });
        else if (event.type === 'task') hearTask(event);
        else refreshSoon();
      },
      resync: refreshSoon,
      lost: (lost) => (offline.value = lost),
    });
  }

  function leave(): void {
    close?.();
    close = undefined;
    clearTimeout(refreshTimer);
    job.value = undefined;
    steps.value = [];
    base.value = EMPTY_SCENE;
    evaluation.value = undefined;
    conflict.value = undefined;
    ignored.value = [];
    sameNames.value = [];
    baseKey = '';
    standIns.clear();
    client.open('');
  }

  let refreshTimer: ReturnType<typeof setTimeout> | undefined;
  function refreshSoon(): void {
    clearTimeout(refreshTimer);
    refreshTimer = setTimeout(() => void refresh(), 60);
  }

  async function refresh(): Promise<void> {
    const id = job.value?.id;
    if (!id) return;
    try {
      const next = await api.job(id);
      // While a save is under way the answer to it is newer than this.
      if (saving.value === 0 && job.value?.id === id) await take(next);
    } catch (thrown) {
      fail(thrown);
    }
  }

  function hearTask(event: {
    task: string;
    kind: Task['kind'];
    state: Task['state'];
    progress?: Task['progress'];
    error?: Task['error'];
    result?: Task['result'];
  }): void {
    const current = job.value;
    if (!current) return;
    const task: Task = {
      id: event.task,
      kind: event.kind,
      state: event.state,
      progress: event.progress ?? current.tasks.find((t) => t.id === event.task)?.progress ?? null,
      error: event.error ?? null,
      result: event.result ?? null,
    };
    job.value = { ...current, tasks: [...current.tasks.filter((t) => t.id !== task.id), task] };
    if (event.kind === 'transmit' && event.state === 'done') refreshSoon();
    if (event.kind === 'evaluate' && event.state === 'done') client.send({ type: 'ask' });
  }

  async function take(next: Job): Promise<void> {
    const older = job.value?.id === next.id && job.value.version.number === next.version.number;
    const known = job.value?.id === next.id ? job.value.tasks : [];
    job.value = { ...next, tasks: withNewerStates(next.tasks, known) };
    const stepsBefore = steps.value;
    if (!older || saving.value === 0) steps.value = next.version.steps;
    const isSame = !loadSources() && JSON.stringify(steps.value) === JSON.stringify(stepsBefore);
    if (!isSame || !evaluation.value) evaluateSteps();
  }

  /** Has the scenes of the sources fetched, where they are others than before. */
  function loadSources(): boolean {
    const shown = sources.value.flatMap(({ id, scene, survey }) => {
      const stored = scene ?? survey;
      return stored ? [{ slot: id, scene: stored }] : [];
    });
    const wanted = keyOfSlots(shown);
    if (wanted === baseKey) return false;
    baseKey = wanted;
    client.send({ type: 'sources', key: wanted, shown });
    return true;
  }

  function evaluateSteps(): void {
    client.send({ type: 'steps', steps: steps.value.map(plain) });
  }

  /**
   * Changes the steps: at once on the screen, then on the server. Changes made while one is being saved wait for it, so that
   * nobody is in conflict with themselves.
   */
  function change(note: string, make: ChangeSteps): void {
    steps.value = make(steps.value);
    evaluateSteps();
    save(note, make);
  }

  function save(note: string, make: ChangeSteps, sourcesAfter?: (ids: string[]) => string[]): void {
    saving.value++;
    saves = saves.then(async () => {
      const current = job.value;
      try {
        if (!current) return;
        const { version } = current;
        const next = await api.save(current.id, {
          base: version.number,
          note,
          steps: make(version.steps),
          sources: sourcesAfter ? sourcesAfter(version.sources) : version.sources,
        });
        saving.value--;
        await take(next);
      } catch (thrown) {
        saving.value--;
        if (thrown instanceof Conflict && thrown.current) {
          conflict.value = { note, change: make, current: thrown.current.number };
        } else fail(thrown);
        await refresh();
      }
    });
  }

  /** Answers a conflict: the same change again, on top of what is current now. */
  function mergeConflict(): void {
    const open = conflict.value;
    conflict.value = undefined;
    if (open) change(open.note, open.change);
  }

  /** Undo and redo wait in the same line as changes: two quick strokes are two versions back. */
  function move(way: 'undo' | 'redo'): Promise<void> {
    saving.value++;
    const moved = saves.then(async () => {
      const current = job.value;
      let next: Job | undefined;
      try {
        if (current && (way === 'undo' ? canUndo : canRedo).value)
          next = await api[way](current.id, current.version.number);
      } catch (thrown) {
        fail(thrown);
      }
      saving.value--;
      if (next) await take(next);
      else await refresh();
    });
    saves = moved;
    return moved;
  }

  function removeSource(id: string): void {
    save(
      'Source removed',
      (list) => list,
      (ids) => ids.filter((other) => other !== sources.value.find((source) => source.id === id)?.upload),
    );
  }

  /** Takes in what was dropped or chosen together. */
  async function receive(dropped: readonly Dropped[] | Promise<Dropped[]>): Promise<void> {
    if (!job.value) return;
    const bundle = await guarded(Promise.resolve(dropped).then(bundled));
    ignored.value = bundle?.ignored ?? [];
    const files = bundle?.files ?? [];
    // A file that is called like a source may be a new revision of it: that is asked. Looked at before anything new is there.
    const again = files.flatMap((file) => {
      const source = sources.value.find(({ name }) => name === file.name);
      return source ? [{ file, source }] : [];
    });
    if (again.length > 0) sameNames.value = [...sameNames.value, ...again];
    const asked = new Set(again.map(({ file }) => file));
    await sendFiles(files.filter((file) => !asked.has(file)).map((file) => ({ file })));
  }

  /** Answers what files that are called like sources are. */
  async function takeSameNames(as: 'revisions' | 'sources'): Promise<void> {
    const asked = sameNames.value;
    sameNames.value = [];
    await sendFiles(asked.map(({ file, source }) => ({ file, ...(as === 'revisions' ? { slot: source.id } : {}) })));
  }

  /** Takes in what was chosen as the new revision of a source. */
  async function revise(slot: string, dropped: readonly Dropped[]): Promise<void> {
    const bundle = await guarded(bundled(dropped));
    const [file, ...others] = bundle?.files ?? [];
    if (!file) return;
    if (others.length > 0)
      return fail(new PrismError('bad-parameters', 'A new revision is one model, with the files that belong to it.'));
    await sendFiles([{ file, slot }]);
  }

  async function sendFiles(files: readonly { file: File; slot?: string }[]): Promise<void> {
    const id = job.value?.id;
    if (!id) return;
    // One after the other: sources stand in the order of the drop, and the first can be looked at while the rest is sent.
    const waiting = files.map(({ file, slot }) => {
      const state: UploadState = {
        number: ++uploadNumber,
        name: file.name,
        sent: 0,
        total: file.size,
        cancel: () => gone(state),
      };
      uploads.value.push(state);
      return { file, slot, number: state.number };
    });
    for (const { file, slot, number } of waiting) {
      const state = uploads.value.find((candidate) => candidate.number === number);
      if (!state) continue;
      const running = upload(id, file, (sent, total) => Object.assign(state, { sent, total }), slot);
      state.cancel = running.cancel;
      await running.done.then(refresh, (thrown) => {
        if (asPrismError(thrown).code !== 'cancelled') fail(thrown);
      });
      gone(state);
    }
  }
  function gone({ number }: UploadState): void {
    uploads.value = uploads.value.filter((state) => state.number !== number);
  }

  async function guarded<T>(work: Promise<T>): Promise<T | undefined> {
    try {
      return await work;
    } catch (thrown) {
      fail(thrown);
      return undefined;
    }
  }

  async function cancel(task: string): Promise<void> {
    await guarded(api.cancel(task));
  }

  async function goOn(): Promise<void> {
    if (job.value) await guarded(api.evaluate(job.value.id));
  }

  async function send(target: string, name: string): Promise<void> {
    await saves;
    if (job.value) await guarded(api.send(job.value.id, { target, name, version: job.value.version.number }));
  }

  /** Asks how many triangles there would be at other limits; the answer is the result of the latest such task. */
  async function askForecast(angle: number): Promise<void> {
    await saves;
    if (job.value) await guarded(api.forecast(job.value.id, angle));
  }
  const forecast = computed(() => {
    const task = job.value?.tasks.findLast(({ kind, state }) => kind === 'forecast' && state === 'done');
    return task?.result ? (task.result as unknown as Forecast) : undefined;
  });

  /** Says that somebody waits for these parts: what is missing of them is computed next. */
  function want(rows: RowSet): void {
    if ((evaluation.value?.missing ?? 0) > 0 && rows.size > 0)
      client.send({ type: 'want', rows: Int32Array.from(rows) });
  }

  /** Asks for one part at several settings; the answer is the result of the latest such task. */
  async function askComparison(part: string, settings: TessellateParameters[]): Promise<string | undefined> {
    await saves;
    return job.value && (await guarded(api.compare(job.value.id, part, settings)))?.task;
  }

  async function deleteTransmittal(id: string): Promise<void> {
    if (!job.value) return;
    const next = await guarded(api.deleteTransmittal(job.value.id, id));
    if (next) await take(next);
  }

  /** Keeps where the job is looked at from when it is opened; null frames everything again. */
  async function keepView(view: Standpoint | null): Promise<void> {
    if (!job.value) return;
    const next = await guarded(api.keepView(job.value.id, view));
    if (next) await take(next);
  }

  /** Keeps a small picture for the list of jobs. Not worth a word where it fails. */
  async function keepPicture(picture: string): Promise<void> {
    if (job.value) await api.keepPicture(job.value.id, picture).catch(() => {});
  }

  async function rename(name: string): Promise<void> {
    if (!job.value) return;
    const next = await guarded(api.renameJob(job.value.id, name));
    if (next) await take(next);
    triggerRef(job);
  }

  return {
    job, steps, base, evaluation, scene, shown, sources, coming, openTasks, uploads, ignored, sameNames, error, conflict, offline, saving, stalled, canUndo, canRedo, forecast,
    open, leave, change, move, removeSource, receive, revise, takeSameNames, cancel, goOn, send, askForecast, askComparison, want, rename, mergeConflict, deleteTransmittal, keepPicture, keepView,
  }; // prettier-ignore
});
