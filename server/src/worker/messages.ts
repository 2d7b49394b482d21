/** What the worker and its killable child say to each other. */
import type { Progress } from '@noble-prism/core/surroundings';
import type { ErrorJson } from '@noble-prism/wire/task';
import type { Task } from '../db/tasks.ts';

export type ToRunner = { task: Task } | { cancel: true };

export type FromRunner = { progress: Progress } | { done: Record<string, unknown> } | { failed: ErrorJson };
