/**
 * Evaluates the preparation of the open job beside the page, and says what is different from what it said before. It holds the sources,
 * the results that are known, and the scenes between the steps; the page holds one scene.
 */
import { asPrismError } from '@noble-prism/core/errors';
import { evaluateNow, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import type { Evaluation } from '@noble-prism/core/preparation/evaluate';
import { factsOf, movedBetween } from '@noble-prism/core/scene/facts';
import type { Likeness } from '@noble-prism/core/scene/likeness';
import { boxesBySource, sayingSteps } from '@noble-prism/core/preparation/received';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import type { Shown } from '@noble-prism/core/preparation/slots';
import { unpackScene } from '@noble-prism/core/scene/sceneFile';
import { takeOff } from '@noble-prism/core/scene/facts';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene } from '@noble-prism/core/scene/types';
import { transferable, updateBetween } from '@noble-prism/core/scene/wire';
import { placeFor, stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { api, fetchBlob } from '../api/client.ts';
import { bandsOf } from '../spectrum/bands.ts';
import type { Bands } from '../spectrum/bands.ts';
import { scheduleOf } from '@noble-prism/core/finish/schedule';
import { reasonsFor } from '@noble-prism/core/finish/why';
import { ALL, select } from '@noble-prism/core/select/select';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import type { Answer, Request, WatchedSchedule } from './messages.ts';

export type Post = (answer: Answer, transfer: ArrayBuffer[]) => void;

/** Results arrive one by one; the scene is made anew at most this often, milliseconds. */
const BREATH = 120;
/** Keys that are put at the head of the work at most. */
const MOST_WANTED = 5000;

export class EvaluationService {
  #job = '';
  #steps: Step[] = [];
  #base: Scene = EMPTY_SCENE;
  #baseKey = '';
  #wantedBase = '';
  /** What the page has. */
  #sent: Scene = EMPTY_SCENE;
  #evaluation: Evaluation | undefined;
  #bands: { scene: Scene; bands: Bands } | undefined;
  #memo = new SceneMemo();
  /** What the page knows of equal branches. */
  #likeness: Likeness | undefined;
  /** The step that the page compares with and without. */
  #without: string | undefined;
  /** The scene without it that the page has. */
  #compared: Scene | undefined;
  /** The schedule that the page looks at, and the scene before it that the page has. */
  #watched: WatchedSchedule | undefined;
  #beforeSent: Scene | undefined;
  /** Sources as they were received, and how large they are. */
  #received: { scene: Scene; boxes: Readonly<Record<string, Box>> } = { scene: EMPTY_SCENE, boxes: {} };
  readonly #scenes = new Map<string, Scene>();
  readonly #results = new Map<string, unknown>();
  readonly #asked = new Set<string>();
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly post: Post) {}

  async hear(request: Request): Promise<void> {
    switch (request.type) {
      case 'open':
        return this.#open(request.job);
      case 'sources':
        return this.#take(request.key, request.shown).catch((error: unknown) => this.#fail(error));
      case 'steps':
        this.#steps = this.#known(request.steps);
        // While sources are on their way the scene of the old ones would be of no use.
        return this.#wantedBase === this.#baseKey ? this.#evaluate() : undefined;
      case 'without':
        this.#without = request.step;
        return this.#compare();
      case 'schedule':
        this.#watched = request.watch;
        // The page may have forgotten the scene that it was told of.
        this.#beforeSent = undefined;
        return this.#schedule();
      case 'result':
        if (request.value === undefined) this.#asked.delete(request.key);
        else this.#results.set(request.key, request.value);
        return this.#soon();
      case 'ask':
        this.#asked.clear();
        return this.#soon();
      case 'want':
        return this.#want(request.rows).catch((error: unknown) => this.#fail(error));
    }
  }

  /** Steps that are as they were keep their objects: what is remembered by these need not be made anew. */
  #known(steps: Step[]): Step[] {
    const before = new Map(this.#steps.map((step) => [step.id, step]));
    return steps.map((step) => {
      const known = before.get(step.id);
      const isSame = known && JSON.stringify(known.parameters) === JSON.stringify(step.parameters);
      return isSame ? { ...step, parameters: known.parameters } : step;
    });
  }

  #open(job: string): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.#job = job;
    this.#steps = [];
    this.#base = this.#sent = EMPTY_SCENE;
    this.#baseKey = this.#wantedBase = '';
    this.#evaluation = this.#bands = this.#likeness = undefined;
    this.#memo = new SceneMemo();
    this.#without = this.#compared = this.#watched = this.#beforeSent = undefined;
    this.#asked.clear();
    this.#scenes.clear();
  }

  async #take(key: string, shown: Shown[]): Promise<void> {
    const job = this.#job;
    this.#wantedBase = key;
    const hashes = shown.map(({ scene }) => scene);
    await Promise.all(
      hashes.map(async (hash) => {
        if (!this.#scenes.has(hash)) this.#scenes.set(hash, await this.#stored(hash));
      }),
    );
    // Another job was opened, or the sources have changed once more.
    if (this.#job !== job || this.#wantedBase !== key) return;
    for (const hash of this.#scenes.keys()) if (!hashes.includes(hash)) this.#scenes.delete(hash);
    this.#base = mergeSlots(shown.map(({ slot, scene }) => ({ slot, scene: this.#scenes.get(scene) as Scene })));
    this.#baseKey = key;
    this.#beforeSent = undefined;
    const update = updateBetween(EMPTY_SCENE, this.#base);
    const worlds = factsOf(this.#base).worlds.slice();
    this.post({ type: 'base', job, key, update, worlds }, [...transferable(update), worlds.buffer]);
    // The page goes on from there.
    this.#sent = this.#base;
    this.#evaluate();
  }

  /** A stored scene. The survey that it is stored upon is mostly here already, and both share what is equal. */
  async #stored(hash: string): Promise<Scene> {
    return unpackScene(
      await fetchBlob(hash),
      async (ground) => this.#scenes.get(ground) ?? (await unpackScene(await fetchBlob(ground))),
    );
  }

  #soon(): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = undefined;
      this.#evaluate();
    }, BREATH);
  }

  #evaluate(): void {
    try {
      const evaluation = evaluateNow(
        this.#base,
        this.#baseKey,
        this.#steps,
        (key) => this.#results.get(key),
        this.#memo,
      );
      const { scene, key, reports, missing } = evaluation;
      this.#evaluation = evaluation;
      const update = updateBetween(this.#sent, scene);
      const moved = movedBetween(factsOf(this.#sent).worlds, factsOf(scene).worlds);
      this.#sent = scene;
      const { bands } = (this.#bands = this.#bandsFor(scene));
      const { length } = missing;
      const { likeness } = factsOf(scene);
      const isOther = likeness !== this.#likeness;
      this.#likeness = likeness;
      const answer = {
        key,
        update,
        ...(moved ? { moved } : {}),
        reports,
        missing: length,
        takeOff: takeOff(scene),
        boxes: this.#boxes(),
        bands: { ...bands, of: bands.of.slice() },
      };
      const copy = isOther ? { likeness: { a: likeness.a.slice(), b: likeness.b.slice() } } : {};
      this.post({ type: 'evaluated', job: this.#job, base: this.#baseKey, ...answer, ...copy }, [
        ...transferable(update),
        answer.bands.of.buffer as ArrayBuffer,
        ...(moved ? [moved.values.buffer as ArrayBuffer] : []),
        ...(moved?.rows ? [moved.rows.buffer as ArrayBuffer] : []),
        ...(copy.likeness ? [copy.likeness.a.buffer, copy.likeness.b.buffer] : []),
      ]);
      const keys = missing.map((work) => work.key).filter((one) => !this.#asked.has(one));
      if (keys.length > 0) void this.#ask(keys);
      this.#compare();
      this.#schedule();
    } catch (error) {
      this.#fail(error);
    }
  }

  /** The steps that say what sources are stand first, mostly: what they give is known already. */
  #boxes(): Readonly<Record<string, Box>> {
    const { scene } = evaluateNow(this.#base, this.#baseKey, sayingSteps(this.#steps), (key) => this.#results.get(key), this.#memo); // prettier-ignore
    if (scene !== this.#received.scene) this.#received = { scene, boxes: boxesBySource(scene) };
    return this.#received.boxes;
  }

  /** What the steps give without one of them; what it lacks is left out, as far as nobody has computed it. */
  #compare(): void {
    const step = this.#without;
    if (step === undefined) {
      this.#compared = undefined;
      return;
    }
    const steps = this.#steps.map((one) => (one.id === step ? { ...one, on: false } : one));
    const { scene } = evaluateNow(this.#base, this.#baseKey, steps, (key) => this.#results.get(key), this.#memo);
    if (scene === this.#compared) return;
    this.#compared = scene;
    const update = updateBetween(EMPTY_SCENE, scene);
    const worlds = factsOf(scene).worlds.slice();
    this.post({ type: 'compared', job: this.#job, step, update, worlds }, [...transferable(update), worlds.buffer]);
  }

  /** What the watched schedule takes hold of, on the scene that stands before it. */
  #schedule(): void {
    const watch = this.#watched;
    if (!watch || this.#wantedBase !== this.#baseKey) return;
    const index = this.#steps.findIndex(({ id }) => id === watch.step);
    const step = this.#steps[index];
    const before = this.#steps.slice(0, step ? index : placeFor(finishesStep.kind, this.#steps));
    const { scene } = evaluateNow(this.#base, this.#baseKey, before, (key) => this.#results.get(key), this.#memo);
    const { rules } = (step?.parameters as FinishesParameters | undefined) ?? finishesStep.defaults;
    const schedule = scheduleOf(scene, select(scene, step?.selector ?? ALL), rules);
    const { lines, unruled } = schedule;
    const winners = schedule.winners();
    const reasons = watch.row === undefined ? [] : reasonsFor(schedule, watch.row);
    const update = scene === this.#beforeSent ? undefined : updateBetween(this.#base, scene);
    this.#beforeSent = scene;
    this.post(
      { type: 'scheduled', job: this.#job, watch, ...(update ? { update } : {}), lines, unruled, winners, reasons },
      [winners.buffer as ArrayBuffer, ...(update ? transferable(update) : [])],
    );
  }

  /** The same bands where neither names nor meshes are others. */
  #bandsFor(scene: Scene): { scene: Scene; bands: Bands } {
    const known = this.#bands;
    const [a, b] = [scene.nodes.columns, known?.scene.nodes.columns];
    const isSame = b && a.name === b.name && a.mesh === b.mesh && a.kind === b.kind;
    return known && isSame ? { ...known, scene } : { scene, bands: bandsOf(scene) };
  }

  /** Asks for results that the server may know already. */
  async #ask(keys: string[]): Promise<void> {
    const job = this.#job;
    for (const key of keys) this.#asked.add(key);
    try {
      for await (const known of api.results(job, keys)) {
        for (const [key, value] of Object.entries(known)) this.#results.set(key, value);
        if (this.#job === job && Object.keys(known).length > 0) this.#soon();
      }
    } catch (error) {
      // Asked for again with the next evaluation.
      for (const key of keys) this.#asked.delete(key);
      this.#fail(error);
    }
  }

  /** What is missing of some rows is computed next. */
  async #want(list: Int32Array): Promise<void> {
    const { missing = [], scene = EMPTY_SCENE } = this.#evaluation ?? {};
    if (missing.length === 0) return;
    const open = new Set(missing.map((work) => work.key));
    const rows = new Set(list);
    const keys = this.#steps.flatMap((step) => {
      const { work } = stepKind(step.kind);
      return step.on && work ? work(scene, rows, step.parameters).map(({ key }) => key) : [];
    });
    const wanted = keys.filter((key) => open.has(key)).slice(0, MOST_WANTED);
    if (wanted.length > 0) await api.want(this.#job, wanted);
  }

  #fail(error: unknown): void {
    const { code, message, file } = asPrismError(error);
    this.post({ type: 'failed', job: this.#job, code, message, ...(file ? { file } : {}) }, []);
  }
}
