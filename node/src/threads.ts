/**
 * A workbench of worker threads in this process. A task that is cancelled, runs over its time or crashes costs its thread,
 * which is replaced; the other tasks go on.
 */
import { Worker } from 'node:worker_threads';
import { PrismError } from '@noble-prism/core/errors';
import type { Workbench } from '@noble-prism/core/surroundings';
import type { TaskInputs, TaskName, TaskOutputs } from '@noble-prism/core/tasks';
import { programFile } from './programs.ts';

interface Pending {
  task: TaskName | 'warm';
  input: unknown;
  resolve(output: unknown): void;
  reject(error: unknown): void;
  tell?: (share: number) => void;
  started?: NodeJS.Timeout;
}

export interface ThreadOptions {
  /** Threads side by side. */
  width: number;
  /** Longest time that one task may take, milliseconds. */
  timeLimit: number;
  /** Memory that a thread's JavaScript may take, megabytes (wasm memory is bounded by its own 4 GB). */
  memoryLimit: number;
}

export const THREAD_DEFAULTS: ThreadOptions = { width: 2, timeLimit: 10 * 60_000, memoryLimit: 4096 };

class Lane {
  worker: Worker | undefined;
  busy: Pending | undefined;
}

export class ThreadWorkbench implements Workbench {
  readonly width: number;
  readonly #options: ThreadOptions;
  readonly #lanes: Lane[];
  readonly #queue: Pending[] = [];
  #closed = false;

  constructor(options: Partial<ThreadOptions> = {}) {
    this.#options = { ...THREAD_DEFAULTS, ...options };
    this.width = this.#options.width;
    this.#lanes = Array.from({ length: this.width }, () => new Lane());
  }

  /** Loads the kernel in some threads ahead of the first task. */
  async warm(threads = this.width): Promise<void> {
    await Promise.all(Array.from({ length: threads }, () => this.#enqueue('warm', undefined)));
  }

  run<K extends TaskName>(
    task: K,
    input: TaskInputs[K],
    signal?: AbortSignal,
    tell?: (share: number) => void,
  ): Promise<TaskOutputs[K]> {
    return this.#enqueue(task, input, signal, tell) as Promise<TaskOutputs[K]>;
  }

  #enqueue(
    task: TaskName | 'warm',
    input: unknown,
    signal?: AbortSignal,
    tell?: (share: number) => void,
  ): Promise<unknown> {
    if (this.#closed) return Promise.reject(new PrismError('cancelled', 'The workbench is closed.'));
    return new Promise((resolve, reject) => {
      const pending: Pending = { task, input, resolve, reject, ...(tell ? { tell } : {}) };
      if (signal?.aborted) return reject(new PrismError('cancelled', 'Cancelled.'));
      const onAbort = () => this.#drop(pending, new PrismError('cancelled', 'Cancelled.'));
      signal?.addEventListener('abort', onAbort, { once: true });
      const settle =
        <T>(then: (value: T) => void) =>
        (value: T) => {
          signal?.removeEventListener('abort', onAbort);
          clearTimeout(pending.started);
          then(value);
        };
      pending.resolve = settle(resolve);
      pending.reject = settle(reject);
      this.#queue.push(pending);
      this.#pump();
    });
  }

  #pump(): void {
    for (const lane of this.#lanes) {
      if (lane.busy) continue;
      const next = this.#queue.shift();
      if (!next) return;
      this.#start(lane, next);
    }
  }

  #start(lane: Lane, pending: Pending): void {
    lane.busy = pending;
    const worker = (lane.worker ??= this.#spawn(lane));
    worker.ref();
    worker.postMessage({ number: 0, task: pending.task, input: pending.input });
    pending.started = setTimeout(() => {
      const seconds = Math.round(this.#options.timeLimit / 1000);
      this.#drop(
        pending,
        new PrismError('timed-out', `This took longer than ${seconds} s and was stopped. Try coarser limits.`),
      );
    }, this.#options.timeLimit);
  }

  #spawn(lane: Lane): Worker {
    const worker = new Worker(programFile('taskThread'), {
      // Options of this process are not for the thread.
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: this.#options.memoryLimit },
    });
    const finish = (deliver: (pending: Pending) => void) => {
      if (lane.worker !== worker || !lane.busy) return;
      const pending = lane.busy;
      lane.busy = undefined;
      worker.unref();
      deliver(pending);
      this.#pump();
    };
    interface Message {
      output?: unknown;
      error?: ReturnType<PrismError['toJSON']>;
      share?: number;
    }
    worker.on('message', ({ output, error, share }: Message) => {
      if (share !== undefined) {
        if (lane.worker === worker) lane.busy?.tell?.(share);
        return;
      }
      finish((pending) =>
        error ? pending.reject(new PrismError(error.code, error.message, error)) : pending.resolve(output),
      );
    });
    const crashed = (reason: string) => {
      if (lane.worker !== worker) return;
      const pending = lane.busy;
      lane.worker = undefined;
      lane.busy = undefined;
      pending?.reject(
        new PrismError(
          'solid-failed',
          `The computation crashed on this part (${reason}); the others are not affected.`,
        ),
      );
      this.#pump();
    };
    worker.on('error', (error) => crashed(error.message.split('\n')[0]));
    worker.on('exit', (code) => crashed(`thread ended with code ${code}`));
    worker.unref();
    return worker;
  }

  /** Ends one task for good: from the queue, or with the thread that runs it. */
  #drop(pending: Pending, error: PrismError): void {
    const at = this.#queue.indexOf(pending);
    if (at >= 0) this.#queue.splice(at, 1);
    const lane = this.#lanes.find((candidate) => candidate.busy === pending);
    if (lane) {
      void lane.worker?.terminate();
      lane.worker = undefined;
      lane.busy = undefined;
    }
    pending.reject(error);
    this.#pump();
  }

  /** Ends all threads and rejects what is waiting. */
  async close(): Promise<void> {
    this.#closed = true;
    const workers = this.#lanes.map((lane) => lane.worker);
    for (const pending of [...this.#queue, ...this.#lanes.flatMap((lane) => lane.busy ?? [])]) {
      this.#drop(pending, new PrismError('cancelled', 'The workbench was closed.'));
    }
    await Promise.all(workers.map((worker) => worker?.terminate()));
  }
}
