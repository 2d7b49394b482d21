/** The tables, as Kysely sees them. */
import type { ColumnType, Generated } from 'kysely';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import type { Progress } from '@noble-prism/core/surroundings';
import type { SentFile, SentOutput, Standpoint } from '@noble-prism/wire/job';
import type { ErrorJson, TaskKind, TaskState } from '@noble-prism/wire/task';

type Json<T> = ColumnType<T, string, string>;
type Time = ColumnType<Date, Date | string | undefined, Date | string>;

export interface JobsTable {
  id: string;
  name: string;
  /** Number of the current version of the preparation. */
  version: number;
  /** Blob with a small picture of it, for the list of jobs. */
  picture: string | null;
  /** Where it is looked at from when it is opened; null where everything is framed. */
  view: Json<Standpoint | null>;
  /** What it is sent to; null where nobody said so. */
  targets: ColumnType<Target[] | null, string | undefined, string>;
  /** Batch that it was made by, and its place in it; null where somebody made it, or the batch is not kept any more. */
  batch: ColumnType<string | null, string | undefined, string | null>;
  batch_place: ColumnType<number | null, number | undefined, number | null>;
  /** Whether its batch still has to send it: it waits for its sources, that was asked for, or it was stopped before. */
  sends: ColumnType<'waits' | 'asked' | 'stopped' | null, 'waits' | undefined, 'waits' | 'asked' | 'stopped'>;
  created_at: Time;
  updated_at: Time;
}

/** Every version of a preparation is kept; undo and redo move between them. */
export interface VersionsTable {
  job: string;
  number: number;
  parent: number | null;
  /** Ids of the revisions that the slots show, in order. */
  sources: Json<string[]>;
  /** Which parts of a revision are which of the one before, where keys do not tell: none are told so far. */
  matches: ColumnType<Record<string, string>, string | undefined, string>;
  /** In order; what each says is kept under its hash. */
  steps: Json<StepRef[]>;
  /** What was changed, for people. */
  note: string;
  /** Who changed it. */
  actor: Generated<string>;
  made_at: Time;
}

/** A step of a version: what it says beside whether it is on is kept once for all versions. */
export interface StepRef {
  id: string;
  on: boolean;
  content: string;
}

/** What steps say, by its hash. */
export interface StepContentsTable {
  hash: string;
  content: Json<StepContent>;
  made_at: Generated<Date>;
}

export type StepContent = Omit<Step, 'id' | 'on'>;

/** A file received: one revision of a slot. */
export interface SourcesTable {
  id: string;
  job: string;
  /** The source that it is a revision of: the id of the first one. */
  slot: string;
  /** Counted from 1 in each slot. */
  revision: Generated<number>;
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

export interface TasksTable {
  id: Generated<string>;
  job: string;
  kind: TaskKind;
  payload: Json<Record<string, unknown>>;
  state: TaskState;
  attempt: Generated<number>;
  /** Who asked for it. */
  actor: Generated<string>;
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
  /** Name of the files without ending. */
  name: string;
  files: Json<SentFile[]>;
  manifest: string;
  /** Blob with the page that people read; null of those made before there was one. */
  report: ColumnType<string | null, string | null | undefined, string | null>;
  outputs: Json<SentOutput[]>;
  /** Folder of deliveries on the server that the files lie in too. */
  folder: ColumnType<string | null, string | null | undefined, string | null>;
  /** Who sent it. */
  actor: Generated<string>;
  made_at: Time;
}

/** Many files prepared alike, a job for each. */
export interface BatchesTable {
  id: string;
  name: string;
  targets: Json<Target[]>;
  /** Also into the folder of deliveries. */
  folder: boolean;
  actor: Generated<string>;
  made_at: Generated<Date>;
}

/** Results of heavy work by key. */
export interface MemoTable {
  key: string;
  value: Json<unknown>;
  made_at: Generated<Date>;
}

/** A preparation kept without sources, to be given to jobs. */
export interface TemplatesTable {
  id: string;
  name: string;
  /** Its steps as a version keeps them. */
  steps: Json<StepRef[]>;
  /** What the sources are called that its steps name: file names by slot. */
  sources: Json<NamedSource[]>;
  /** Every new job begins with it; at most one does. */
  every: boolean;
  actor: Generated<string>;
  made_at: Time;
}

/** A material of one's own in the library. */
export interface MaterialsTable {
  id: string;
  name: string;
  content: Json<OwnMaterial>;
  actor: Generated<string>;
  made_at: Time;
}

export interface Database {
  jobs: JobsTable;
  versions: VersionsTable;
  sources: SourcesTable;
  tasks: TasksTable;
  transmittals: TransmittalsTable;
  batches: BatchesTable;
  memo: MemoTable;
  step_contents: StepContentsTable;
  templates: TemplatesTable;
  materials: MaterialsTable;
}
