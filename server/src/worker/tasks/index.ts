/** All kinds of task. */
import type { TaskKind } from '@noble-prism/wire/task';
import { compare } from './compare.ts';
import { evaluate } from './evaluate.ts';
import { exact } from './exact.ts';
import { forecast } from './forecast.ts';
import { read } from './read.ts';
import type { Runner } from './task.ts';
import { transmit } from './transmit.ts';
import { tryOut } from './tryOut.ts';

const RUNNERS: Record<TaskKind, Runner> = { read, evaluate, try: tryOut, transmit, forecast, compare, exact };

export const runTask: Runner = (task, ...rest) => RUNNERS[task.kind](task, ...rest);
