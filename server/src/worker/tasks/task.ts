/** What a kind of task is: each is one file in this folder, entered in `index.ts`. */
import type { Progress } from '@noble-prism/core/surroundings';
import type { Task } from '../../db/tasks.ts';
import type { WorkContext } from '../../services/context.ts';

/** Does a task; what it gives is kept as its result. */
export type Runner = (
  task: Task,
  context: WorkContext,
  progress: (p: Progress) => void,
  signal: AbortSignal,
) => Promise<Record<string, unknown>>;
