/** The open job: its sources and steps, the scene that they make, and what the server is doing about it. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, triggerRef, watch } from 'vue';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import type { Forecast } from '@noble-prism/core/preparation/forecast';
import { keyOfSlots } from '@noble-prism/core/preparation/slots';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { settledSteps } from '@noble-prism/core/preparation/equals';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import { api } from '../api/client.ts';
import type { Job, SourceRow, Standpoint, TransmitOrder, Transmittal } from '@noble-prism/wire/job';
import type { Source } from '../api/client.ts';
import type { Task } from '@noble-prism/wire/task';
import { listen } from '../api/events.ts';
import { EvaluationClient } from '../evaluation/client.ts';
import type { Evaluated, Scheduled } from '../evaluation/client.ts';
import type { WatchedSchedule } from '../evaluation/messages.ts';
import { Trying } from './trying.ts';
import { useReceiving } from './receiving.ts';
import { useSaving } from './saving.ts';
import type { ChangeSteps } from './saving.ts';
import { StandIns } from './standIns.ts';
import { isNews, withNewerStates } from './taskStates.ts';

/** A change of the steps that is shown before it is made. */
export interface Trial {
  /** Id of the step that it concerns, and its title. */
  step: string;
  title: string;
  make: ChangeSteps;
}

const copies = new WeakMap<Step, Step>();

/** A step without what watches it: only plain data goes to another thread. */
function plain(step: Step): Step {
  let copy = copies.get(step);
  if (!copy) copies.set(step, (copy = JSON.parse(JSON.stringify(step)) as Step));
  return copy;
}

/** When it is asked again for what seems to be left undone, milliseconds after it seemed so and after each time. */
const ASK_AFTER = [1000, 3000, 10_000];

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
  const error = shallowRef<PrismError>();
  const offline = ref(false);

  const saves = useSaving({ job, take, shown: showUnsaved, refresh, fail });
  const { saving, unsaved, conflict, canUndo, canRedo, save, move, saved } = saves;

  /** The step that the view shows with and without. */
  const comparing = ref<string>();
  /** What the preparation gives without it, as soon as that is known. */
  const without = shallowRef<Scene>();
  /** A change of the steps that is shown, and not made yet. */
  const trial = shallowRef<Trial>();

  const trying = new Trying();

  /** What the schedule that somebody looks at takes hold of. */
  const scheduled = shallowRef<Scheduled>();

  const client = new EvaluationClient({
    based(scene) {
      base.value = scene;
      steps.value = settled(steps.value);
    },
    evaluated(next) {
      evaluation.value = next;
      tryOnServer();
    },
    compared: (step, scene) => {
      if (comparing.value === step) without.value = scene;
    },
    scheduled: (next) => (scheduled.value = next),
    failed: (thrown) => {
      fail(thrown);
      // The server finds the same when it evaluates, and has the source read again.
      if (thrown.code === 'bad-scene' || thrown.code === 'missing-blob') void goOn();
    },
  });
  let baseKey = '';
  let close: (() => void) | undefined;
  /** Takes a picture of the job as it is seen now, where that is worth it. */
  let takePicture: (() => Promise<void>) | undefined;

  const scene = computed(() => evaluation.value?.scene ?? EMPTY_SCENE);
  /** The steps that the scene is made by. */
  const applied = computed(() => trial.value?.make(steps.value) ?? steps.value);
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
    (job.value?.tasks ?? []).filter(
      (task) =>
        (task.state === 'queued' || task.state === 'running') &&
        // What is read of a part that somebody points at is nothing to wait for.
        task.kind !== 'exact',
    ),
  );
  /** Work that is missing, and nobody does it: cancelled, or failed. */
  const stalled = computed(
    () =>
      (evaluation.value?.missing ?? 0) > 0 &&
      saving.value === 0 &&
      // Nobody computes what is only tried.
      !trial.value &&
      !openTasks.value.some((task) => task.kind === 'evaluate' || task.kind === 'read'),
  );

  // What nobody computes may be known by now: an answer or an event did not come through.
  let asked: ReturnType<typeof setTimeout> | undefined;
  watch(stalled, (is) => {
    clearTimeout(asked);
    if (is) askAgain(ASK_AFTER.length);
  });
  function askAgain(left: number): void {
    if (left === 0) return;
    const ask = () => {
      if (!stalled.value) return;
      client.send({ type: 'ask' });
      askAgain(left - 1);
    };
    asked = setTimeout(ask, ASK_AFTER[ASK_AFTER.length - left]);
  }

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
    void saves.takeUp();
    close = listen(id, {
      hear(event) {
        if (event.type === 'result') client.send({ type: 'result', key: event.key, value: event.value });
        else if (event.type === 'task') hearTask(event);
        else refreshSoon();
      },
      resync() {
        saves.tryAgain();
        refreshSoon();
      },
      lost(lost) {
        offline.value = lost;
        if (!lost) saves.tryAgain();
      },
    });
  }

  function leave(): void {
    clearTimeout(asked);
    close?.();
    close = undefined;
    clearTimeout(refreshTimer);
    saves.forget();
    job.value = undefined;
    steps.value = [];
    base.value = EMPTY_SCENE;
    evaluation.value = undefined;
    trial.value = scheduled.value = undefined;
    trying.end();
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
    if (!current || !isNews(current.tasks.find(({ id }) => id === event.task)?.state, event.state)) return;
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
    if ((event.kind === 'evaluate' || event.kind === 'try') && event.state === 'done') client.send({ type: 'ask' });
  }

  async function take(next: Job): Promise<void> {
    const known = job.value?.id === next.id ? job.value.tasks : [];
    job.value = { ...next, tasks: withNewerStates(next.tasks, known) };
    const stepsBefore = steps.value;
    steps.value = settled(saves.withUnsaved(next.version.steps));
    const isSame = !loadSources() && JSON.stringify(steps.value) === JSON.stringify(stepsBefore);
    if (!isSame || !evaluation.value) evaluateSteps();
  }

  /** What came from another job is said of the rows of this one. */
  const settled = (list: Step[]) => settledSteps(base.value, list) as Step[];

  /** The steps as they are with what is not saved. */
  function showUnsaved(): void {
    if (!job.value) return;
    steps.value = settled(saves.withUnsaved(job.value.version.steps));
    evaluateSteps();
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

  /** Shows the view with and without a step, or (where none is said) as it is. */
  function compare(step?: string): void {
    comparing.value = step;
    without.value = undefined;
    client.send({ type: 'without', ...(step === undefined ? {} : { step }) });
  }

  /** Has it told what a schedule takes hold of, until none is watched. */
  function watchSchedule(watch?: WatchedSchedule): void {
    if (!watch) scheduled.value = undefined;
    client.send({ type: 'schedule', ...(watch ? { watch: { ...watch } } : {}) });
  }

  function evaluateSteps(): void {
    client.send({ type: 'steps', steps: applied.value.map(plain) });
  }

  /** Shows what a change of the steps would do, or (where none is given) what they do. */
  function tryOut(next?: Trial): void {
    if (!next && !trial.value) return;
    // What is compared with and without is there no longer.
    if (!next && comparing.value === trial.value?.step && !steps.value.some(({ id }) => id === comparing.value))
      compare();
    trial.value = next;
    if (!next) trying.end();
    evaluateSteps();
  }

  /** What is tried may need work that nobody has done: of the steps up to it, so that it is soon to be seen. */
  function tryOnServer(): void {
    const tried = trial.value;
    const id = job.value?.id;
    const report = evaluation.value?.reports.find((one) => one.id === tried?.step);
    if (!tried || !id || !report?.pending) return;
    const upToIt = async () => {
      await saved();
      const list = applied.value;
      const at = list.findIndex((step) => step.id === tried.step);
      return trial.value === tried && at >= 0 ? list.slice(0, at + 1).map(plain) : undefined;
    };
    trying.ask(tried, id, upToIt, fail);
  }

  /** Changes the steps: at once on the screen, then on the server. What was tried is applied by that, or no longer meant. */
  function change(note: string, make: ChangeSteps): void {
    trial.value = undefined;
    trying.end();
    steps.value = make(steps.value);
    evaluateSteps();
    save(note, make);
  }

  /** Answers a conflict: the same change again, on top of what is current now. */
  function mergeConflict(): void {
    const open = conflict.value;
    conflict.value = undefined;
    if (!open) return;
    trial.value = undefined;
    trying.end();
    save(open.note, open.change, open.sources);
    showUnsaved();
  }

  function removeSource(id: string): void {
    save(
      'Source removed',
      (list) => list,
      (ids) => ids.filter((other) => other !== sources.value.find((source) => source.id === id)?.upload),
    );
  }

  const { uploads, ignored, sameNames, receive, revise, takeSameNames } = useReceiving({
    job: () => job.value?.id,
    sources: () => sources.value,
    received: refresh,
    fail,
  });

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

  async function send(what: Omit<TransmitOrder, 'version'>): Promise<void> {
    await saved();
    if (unsaved.value > 0) return fail(new PrismError('internal', 'The server cannot be reached: what was changed is not saved yet, and nothing was sent. Send again when it is back.')); // prettier-ignore
    // The report shows what was sent.
    await takePicture?.();
    if (job.value) await guarded(api.send(job.value.id, { ...what, version: job.value.version.number }));
  }

  /** Sends the job as it is now to what a transmittal went to; the last one where none is named. */
  async function sendAgain(to: Transmittal | undefined = job.value?.transmittals[0]): Promise<void> {
    const isSending = openTasks.value.some(({ kind }) => kind === 'transmit');
    if (!to || isSending) return;
    // A target that is split has an output for each piece.
    const targets = [...new Map(to.outputs.map(({ name, settings }) => [name, { name, settings }])).values()];
    // The number of the version then is no part of the name.
    await send({ targets, name: to.name.replace(/_v\d+$/, ''), ...(to.folder ? { folder: true } : {}) });
  }

  /** Keeps what the job is sent to. */
  async function keepTargets(targets: Target[]): Promise<boolean> {
    if (!job.value) return false;
    const next = await guarded(api.keepTargets(job.value.id, targets));
    if (next) await take(next);
    return next !== undefined;
  }

  /** Asks how many triangles there would be at other limits; the answer is the result of the latest such task. */
  async function askForecast(angle: number): Promise<void> {
    await saved();
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
    await saved();
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

  /** @param take of the view that is open; nothing where it closes */
  function pictureBy(take?: () => Promise<void>): void {
    takePicture = take;
  }

  /** Keeps a small picture for the list of jobs and for reports. Not worth a word where it fails. */
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
    job, steps, base, evaluation, scene, shown, sources, coming, openTasks, uploads, ignored, sameNames, error, conflict, offline, saving, unsaved, stalled, canUndo, canRedo, forecast, comparing, without, trial, applied, scheduled, watchSchedule,
    open, leave, change, compare, tryOut, move, removeSource, receive, revise, takeSameNames, cancel, goOn, send, sendAgain, keepTargets, askForecast, askComparison, want, rename, mergeConflict, deleteTransmittal, pictureBy, keepPicture, keepView,
  }; // prettier-ignore
});
