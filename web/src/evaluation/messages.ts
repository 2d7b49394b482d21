/** What the page and the worker that evaluates say to each other. */
import type { ErrorCode } from '@noble-prism/core/errors';
import type { ScheduleLine } from '@noble-prism/core/finish/schedule';
import type { Reason } from '@noble-prism/core/finish/why';
import type { Shown } from '@noble-prism/core/preparation/slots';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import type { MovedWorlds } from '@noble-prism/core/scene/facts';
import type { Likeness } from '@noble-prism/core/scene/likeness';
import type { TakeOff } from '@noble-prism/core/scene/takeoff';
import type { Box } from '@noble-prism/core/scene/types';
import type { SceneUpdate } from '@noble-prism/core/scene/wire';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Bands } from '../spectrum/bands.ts';

export type Request =
  /** Forgets everything: another job is opened. */
  | { type: 'open'; job: string }
  /** What the slots show, and the name of them all. */
  | { type: 'sources'; key: string; shown: Shown[] }
  | { type: 'steps'; steps: Step[] }
  /** Also tells what the preparation gives without a step, until it is asked without one. */
  | { type: 'without'; step?: string }
  /** Also tells what a finish schedule takes hold of, and why a row has its materials, until it is asked about none. */
  | { type: 'schedule'; watch?: WatchedSchedule }
  /** A result of heavy work, or (where it was too long to be told) that there is one. */
  | { type: 'result'; key: string; value?: unknown }
  /** What was not known may be known now. */
  | { type: 'ask' }
  /** Somebody waits for these rows. */
  | { type: 'want'; rows: Int32Array };

/** The schedule that somebody looks at. */
export interface WatchedSchedule {
  /** Its step; the place where a new one would stand where there is none. */
  step?: string;
  /** Row that it is asked about. */
  row?: number;
}

/** What a finish schedule takes hold of. */
export interface ScheduleAnswer {
  lines: readonly ScheduleLine[];
  /** By row: the rule that won, or one of the numbers that stand for none, and for several. */
  winners: Int16Array;
  unruled: number;
  /** Of the row that it was asked about. */
  reasons: Reason[];
}

export type Answer =
  | { type: 'base'; job: string; key: string; update: SceneUpdate; worlds: Float64Array }
  | {
      type: 'evaluated';
      job: string;
      /** Name of the sources that it is made of. */
      base: string;
      key: string;
      update: SceneUpdate;
      reports: StepReport[];
      /** Pieces of work that are not known yet. */
      missing: number;
      /** Rows that stand elsewhere in the world than before. */
      moved?: MovedWorlds;
      takeOff: TakeOff;
      /** Of each source as it was received, by its id; metres. */
      boxes: Readonly<Record<string, Box>>;
      /** Where it is another than before. */
      likeness?: Likeness;
      bands: Bands;
    }
  /** What the preparation gives without a step. */
  | { type: 'compared'; job: string; step: string; update: SceneUpdate; worlds: Float64Array }
  /** What a schedule takes hold of, and the scene before it as it differs from the sources. */
  | ({ type: 'scheduled'; job: string; watch: WatchedSchedule; update?: SceneUpdate } & ScheduleAnswer)
  | { type: 'failed'; job: string; code: ErrorCode; message: string; file?: string };
