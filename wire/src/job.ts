/**
 * What the server says of jobs, in the terms that it and the page share. Times are texts on the wire (ISO 8601); the server has them as
 * dates until they are sent.
 */
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { CarryOver } from '@noble-prism/core/transmit/carryOver';
import type { ReadBack } from '@noble-prism/core/transmit/result';
import type { Target, TargetSettings } from '@noble-prism/core/transmit/targets/target';
import type { FileWay } from '@noble-prism/core/write/writer';
import type { ErrorJson, Task } from './task.ts';

export interface JobSummary<Time = string> {
  id: string;
  name: string;
  version: number;
  sources: number;
  created_at: Time;
  updated_at: Time;
  /** Hash of its small picture. */
  picture: string | null;
  /** Batch that it was made by. */
  batch: string | null;
}

/** Metres; the upright angle of the lens in degrees. */
export interface Standpoint {
  from: [number, number, number];
  to: [number, number, number];
  lens: number;
}

export interface JobVersion<Time = string> {
  number: number;
  parent: number | null;
  /** Ids of the revisions that its slots show. */
  sources: string[];
  /** Which parts of a revision are which of the one before, where keys do not tell. */
  matches?: Record<string, string>;
  steps: Step[];
  /** What was changed, for people. */
  note: string;
  made_at: Time;
}

/** A file received: one revision of a slot. */
export interface SourceRow<Time = string> {
  id: string;
  slot: string;
  /** Counted from 1. */
  revision: number;
  name: string;
  bytes: number;
  state: 'reading' | 'ready' | 'failed';
  /** Blob with the structure, there before the solids are cut. */
  survey: string | null;
  /** Blob with the source scene. */
  scene: string | null;
  error: ErrorJson | null;
  received_at: Time;
}

/** A file of a transmittal. */
export interface SentFile {
  name: string;
  mime: string;
  bytes: number;
  /** Under which it is stored. */
  blob: string;
}

/** What is to be sent. */
export interface TransmitOrder {
  targets: { name: string; settings: TargetSettings }[];
  /** Name of the files without ending; the number of the version is put behind it. */
  name: string;
  version: number;
  /** Also into the folder of deliveries on the server. */
  folder?: boolean;
}

/** What one target of a transmittal became. */
export interface SentOutput {
  /** What the target is called. */
  name: string;
  /** The layer, storey, assembly or part that it holds, where the target is split. */
  piece?: string;
  settings: TargetSettings;
  way: FileWay;
  /** Names of its files; the first is what a receiving tool opens. None where it failed. */
  files: string[];
  parts?: number;
  triangles?: number;
  readBack?: ReadBack;
  /** What is over the limits of the target, in sentences. */
  overLimits?: string[];
  /** Sources of what it holds that were not read in full, in sentences. */
  notInFull?: string[];
  carryOver?: CarryOver;
  /** Why nothing was written. */
  error?: ErrorJson;
}

export interface Transmittal<Time = string> {
  id: string;
  version: number;
  /** Name of the files without ending. */
  name: string;
  /** All files, each once. */
  files: SentFile[];
  outputs: SentOutput[];
  /** Blob with the page that people read, where there is one. */
  report: string | null;
  /** Folder on the server that the files lie in too. */
  folder: string | null;
  /** Who sent it. */
  actor: string;
  made_at: Time;
}

/** A preparation kept without sources. */
export interface Template<Time = string> {
  id: string;
  name: string;
  steps: Step[];
  /** What the sources are called that its steps name. */
  sources: NamedSource[];
  /** Every new job begins with it. */
  every: boolean;
  made_at: Time;
}

export interface Job<Time = string> {
  id: string;
  name: string;
  /** Where it is looked at from when it is opened; null frames everything. */
  view: Standpoint | null;
  version: JobVersion<Time>;
  /** Number of the newest version, which may be ahead of the current one. */
  newest: number;
  sources: SourceRow<Time>[];
  tasks: Task[];
  targets: Target[];
  transmittals: Transmittal<Time>[];
}
