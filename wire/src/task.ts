/** Tasks and events, as the server tells of them. */
import type { ErrorJson } from '@noble-prism/core/errors';
import type { Progress } from '@noble-prism/core/surroundings';

export type { ErrorJson };

export type TaskKind = 'read' | 'evaluate' | 'try' | 'transmit' | 'forecast' | 'compare' | 'exact';
export type TaskState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface Task {
  id: string;
  kind: TaskKind;
  state: TaskState;
  progress: Progress | null;
  error: ErrorJson | null;
  /** What it gave, in the terms of its kind. */
  result: Record<string, unknown> | null;
}

/** Something that happened to a job. */
export type JobEvent =
  | { type: 'job'; job: string }
  | { type: 'source'; job: string; source: string }
  | {
      type: 'task';
      job: string;
      task: string;
      kind: TaskKind;
      state: TaskState;
      progress?: Progress;
      error?: ErrorJson;
      result?: Task['result'];
    }
  | { type: 'result'; job: string; key: string; value?: unknown }
  | { type: 'queued'; job: string }
  | { type: 'cancel'; job: string; task: string };
