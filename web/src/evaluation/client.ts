/** The page's end of the evaluation: sends what changed, and makes scenes of what comes back. */
import { PrismError } from '@noble-prism/core/errors';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { MovedWorlds } from '@noble-prism/core/scene/facts';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene } from '@noble-prism/core/scene/types';
import { updated } from '@noble-prism/core/scene/wire';
import type { SceneUpdate } from '@noble-prism/core/scene/wire';
import type { Bands } from '../spectrum/bands.ts';
import type { Answer, Request, ScheduleAnswer, WatchedSchedule } from './messages.ts';
import { EvaluationService } from './service.ts';

/** What the steps made of the sources, as far as it is known. */
export interface Evaluated {
  scene: Scene;
  /** Name of the result. */
  key: string;
  reports: StepReport[];
  /** Pieces of work that are not known yet. */
  missing: number;
  bands: Bands;
  /** Of each source as it was received, by its id; metres. */
  boxes: Readonly<Record<string, Box>>;
}

export interface Listener {
  based(base: Scene): void;
  evaluated(evaluated: Evaluated): void;
  /** What the preparation gives without a step. */
  compared(step: string, scene: Scene): void;
  /** What a schedule takes hold of. */
  scheduled(scheduled: Scheduled): void;
  failed(error: PrismError): void;
}

export interface Scheduled extends ScheduleAnswer {
  watch: WatchedSchedule;
  /** The scene before the schedule: what its rules are about. */
  before: Scene;
}

export class EvaluationClient {
  #job = '';
  #base: Scene = EMPTY_SCENE;
  #scene: Scene = EMPTY_SCENE;
  #before: Scene = EMPTY_SCENE;
  readonly #send: (request: Request) => void;

  constructor(readonly listener: Listener) {
    this.#send = connected((answer) => this.#hear(answer));
  }

  open(job: string): void {
    this.#job = job;
    this.#base = this.#scene = this.#before = EMPTY_SCENE;
    this.#send({ type: 'open', job });
  }

  send(request: Exclude<Request, { type: 'open' }>): void {
    this.#send(request);
  }

  #hear(answer: Answer): void {
    if (answer.job !== this.#job) return;
    switch (answer.type) {
      case 'failed':
        return this.listener.failed(
          new PrismError(answer.code, answer.message, answer.file ? { file: answer.file } : {}),
        );
      case 'base':
        this.#scene = this.#base = this.#before = whole(answer);
        return this.listener.based(this.#base);
      case 'compared':
        return this.listener.compared(answer.step, whole(answer));
      case 'scheduled': {
        const { type: _, job: __, update, ...scheduled } = answer;
        if (update) {
          this.#before = updated(this.#base, update);
          factsOf(this.#before).inherit(factsOf(this.#base));
        }
        return this.listener.scheduled({ ...scheduled, before: this.#before });
      }
      case 'evaluated': {
        const { key, reports, missing, bands, boxes, takeOff, likeness, update, moved } = answer;
        this.#scene = after(this.#scene, update, moved);
        factsOf(this.#scene).know({ takeOff, ...(likeness ? { likeness } : {}) });
        return this.listener.evaluated({ scene: this.#scene, key, reports, missing, bands, boxes });
      }
    }
  }
}

/** A scene that is sent as a whole. The record of the meshes grows in place: each has one of its own. */
function whole({ update, worlds }: { update: SceneUpdate; worlds: Float64Array }): Scene {
  const scene = updated({ ...EMPTY_SCENE, meshes: {} }, update);
  factsOf(scene).succeed(factsOf(EMPTY_SCENE), { values: worlds });
  return scene;
}

/** What has moved in a scene since the one before it: the view need not look at the others. */
export interface Moved {
  /** Scenes are counted as they come. */
  number: number;
  rows: Int32Array | 'all' | 'none';
}

const movedOf = new WeakMap<Scene, Moved>();
let scenes = 0;

/** Undefined where nothing is known of it. */
export function movedIn(scene: Scene): Moved | undefined {
  return movedOf.get(scene);
}

/** The scene after an update, with what is known of the one before and still holds; the very same scene where nothing is different. */
function after(scene: Scene, update: SceneUpdate, moved: MovedWorlds | undefined): Scene {
  const next = updated(scene, update);
  const isSame = next.nodes === scene.nodes && Object.keys(update.beside).length === 0;
  if (isSame && Object.keys(update.meshes).length === 0) return scene;
  factsOf(next).succeed(factsOf(scene), moved);
  movedOf.set(next, { number: ++scenes, rows: moved?.rows ?? (moved ? 'all' : 'none') });
  return next;
}

/** A worker of its own; where there are none (in tests) the same thread, with messages that are copied all the same. */
function connected(hear: (answer: Answer) => void): (request: Request) => void {
  if (typeof Worker === 'undefined') {
    const service = new EvaluationService((answer) => {
      const copy = structuredClone(answer);
      queueMicrotask(() => hear(copy));
    });
    return (request) => void service.hear(structuredClone(request));
  }
  const worker = new Worker(new URL('../workers/evaluation.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<Answer>) => hear(data);
  return (request) => worker.postMessage(request);
}
