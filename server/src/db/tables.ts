/** The tables, as Kysely sees them. */
import type { ColumnType, Generated } from 'kysely';
import type { PrismError } from '@noble-prism/core/errors';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { ReadBack } from '@noble-prism/core/transmit/readback';
import type { Progress } from '@noble-prism/core/surroundings';

type Json<T> = ColumnType<T, string, string>;
type Time = ColumnType<Date, Date | string | undefined, Date | string>;
export type ErrorJson = ReturnType<PrismError['toJSON']>;

/** Metres; the upright angle of the lens in degrees. */
export interface Standpoint {
  from: [number, number, number];
  to: [number, number, number];
  lens: number;
}

export interface JobsTable {
  id: string;
  name: string;
  /** Number of the current version of the preparation. */
  version: number;
  /** Blob with a small picture of it, for the list of jobs. */
  picture: string | null;
  /** Where it is looked at from when it is opened; null where everything is framed. */
  view: Json<Standpoint | null>;
  created_at: Time;
  updated_at: Time;
}

/** Every version of a preparation is kept; undo and redo move between them. */
export interface VersionsTable {
  job: string;
  number: number;
  parent: number | null;
  /** Ids of the sources, in order. */
  sources: Json<string[]>;
  steps: Json<Step[]>;
  /** What was changed, for people. */
  note: string;
  made_at: Time;
}

export interface SourcesTable {
  id: string;
  job: string;
  name: string;
  bytes: number;
  blob: string;
  state: 'reading' | 'ready' | 'failed';
  /** Blob with the structure, there before the solids are cut. */
  survey: string | null;
  /** Blob with the source scene. */
  scene: string | null;
  error: Json<ErrorJson | null>;
  received_at: Time;
}

export type TaskKind = 'read' | 'evaluate' | 'transmit' | 'forecast' | 'compare';
export type TaskState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface TasksTable {
  id: Generated<string>;
  job: string;
  kind: TaskKind;
  payload: Json<Record<string, unknown>>;
  state: TaskState;
  attempt: Generated<number>;
  worker: string | null;
  heartbeat: ColumnType<Date | null, never, Date | null>;
  progress: Json<Progress | null>;
  error: Json<ErrorJson | null>;
  result: Json<Record<string, unknown> | null>;
  created_at: Time;
  finished_at: ColumnType<Date | null, never, Date | null>;
}

export interface TransmittalsTable {
  id: string;
  job: string;
  version: number;
  target: string;
  file_name: string;
  bytes: number;
  file: string;
  manifest: string;
  read_back: Json<ReadBack>;
  parts: number;
  triangles: number;
  made_at: Time;
}

/** Results of heavy work by key. */
export interface MemoTable {
  key: string;
  value: Json<unknown>;
  made_at: Generated<Date>;
}

export interface Database {
  jobs: JobsTable;
  versions: VersionsTable;
  sources: SourcesTable;
  tasks: TasksTable;
  transmittals: TransmittalsTable;
  memo: MemoTable;
}
