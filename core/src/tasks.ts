/** The heavy tasks by name: what a worker thread can be asked to do. Input and output can be cloned between threads. */
import { reduce } from './mesh/reduce.ts';
import type { ReduceInput, ReduceOutput } from './mesh/reduce.ts';
import { tessellate } from './solid/tessellate.ts';
import type { TessellateInput, TessellateOutput } from './solid/tessellate.ts';

export interface TaskInputs {
  tessellate: TessellateInput;
  reduce: ReduceInput;
}

export interface TaskOutputs {
  tessellate: TessellateOutput;
  reduce: ReduceOutput;
}

export type TaskName = keyof TaskInputs;

export const TASKS: { [K in TaskName]: (input: TaskInputs[K]) => Promise<TaskOutputs[K]> } = { tessellate, reduce };
