/** What the server says of batches: many files prepared and sent alike, a job for each. */
import type { Progress } from '@noble-prism/core/surroundings';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import type { ErrorJson } from './task.ts';

/**
 * How far a job of a batch is: its file has not arrived; it stands in the queue; it is read, prepared, sent; all targets were written and
 * read back as they were sent; some of it went wrong; all of it; or somebody stopped it.
 */
export type BatchState =
  | 'waiting'
  | 'queued'
  | 'reading'
  | 'preparing'
  | 'sending'
  | 'sent'
  | 'incomplete'
  | 'failed'
  | 'stopped';

/** States in which nothing more happens by itself. */
export const SETTLED: readonly BatchState[] = ['sent', 'incomplete', 'failed', 'stopped'];

export interface BatchJob {
  job: string;
  name: string;
  /** Hash of its small picture. */
  picture: string | null;
  /** Names of the files received. */
  sources: string[];
  state: BatchState;
  /** There is something that could be sent. */
  sendable: boolean;
  progress: Progress | null;
  error: ErrorJson | null;
  /** What of it went wrong, in sentences. */
  problems: string[];
  /** Of what was sent, all targets together. */
  parts?: number;
  triangles?: number;
  files?: number;
  bytes?: number;
  /** The latest transmittal. */
  transmittal?: string;
  /** Where it lies in the folder of deliveries. */
  folder?: string;
}

export interface Batch<Time = string> {
  id: string;
  name: string;
  targets: Target[];
  folder: boolean;
  made_at: Time;
  jobs: BatchJob[];
}

export interface BatchSummary<Time = string> {
  id: string;
  name: string;
  made_at: Time;
  /** Jobs by what became of them; `open` are those in which something still happens. */
  jobs: number;
  sent: number;
  incomplete: number;
  failed: number;
  stopped: number;
  open: number;
}

/** What a batch is made of. */
export interface BatchOrder {
  name: string;
  /** Names of the jobs, in order. */
  jobs: string[];
  /** Id of the template that each begins with; null for the usual steps. */
  template: string | null;
  targets: Target[];
  folder: boolean;
}
