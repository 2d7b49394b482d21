/**
 * The worker: claims tasks and runs each in a child that can be killed. A child that crashes, hangs or takes too much memory
 * costs a retry of its task and nothing else.
 */
import { fork } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { programFile } from '@noble-prism/node/programs';
import type { ErrorJson, TaskKind } from '@noble-prism/wire/task';
import type { Config } from '../config.ts';
import type { Db } from '../db/connect.ts';
import { Listener } from '../db/events.ts';
import { beat, claim, finish, HEARTBEAT_SECONDS, MAX_ATTEMPTS, releaseDead, reportProgress } from '../db/tasks.ts';
import type { Task } from '../db/tasks.ts';
import { log } from '../log.ts';
import type { FromRunner } from './messages.ts';

export interface WorkerLimits {
  /** Longest time for one task, milliseconds. */
  time: number;
  /** Most memory for the child, bytes. */
  memory: number;
}

export const WORKER_DEFAULTS: WorkerLimits = { time: 60 * 60_000, memory: 12e9 };

/** How soon a cancelled child must have stopped by itself before it is killed, milliseconds. */
const GRACE = 1500;
/** A child is replaced when it holds more than this after a task: memory of wasm does not shrink. Bytes. */
const REPLACE_ABOVE = 2.5e9;

type Ending = { done: Record<string, unknown> } | { failed: ErrorJson } | { crashed: string } | { cancelled: true };

export class TaskWorker {
  readonly name = `${hostname()}/${process.pid}`;
  readonly #limits: WorkerLimits;
  #child: ChildProcess | undefined;
  #listener: Listener;
  #wake: (() => void) | undefined;
  /** Something was queued since it last looked: also while it looked. */
  #isCalled = false;
  #current: { task: Task; cancel: () => void } | undefined;
  #stopping = false;
  #reporting: Promise<void> = Promise.resolve();

  constructor(
    readonly db: Db,
    readonly config: Config,
    /** Kinds of task that it takes. Reading has a lane of its own, so that a new file never waits for a long evaluation. */
    readonly kinds: readonly TaskKind[],
    limits: Partial<WorkerLimits> = {},
  ) {
    this.#limits = { ...WORKER_DEFAULTS, ...limits };
    this.#listener = new Listener(
      config.databaseUrl,
      (event) => {
        if (event.type === 'queued') this.#call();
        if (event.type === 'cancel' && event.task === this.#current?.task.id) this.#current.cancel();
      },
      () => this.#call(),
    );
  }

  /** Works until stopped. */
  async run(): Promise<void> {
    await this.#begin();
    this.#child = this.#spawn();
    while (!this.#stopping) {
      this.#isCalled = false;
      // A lost database is waited for, not died of.
      const task = await claim(this.db, this.name, this.kinds).catch((error: unknown) => this.#failed('asking for work', error)); // prettier-ignore
      if (task) await this.#work(task).catch((error: unknown) => this.#failed(`task ${task.id}`, error));
      else if (!this.#isCalled) await this.#sleep();
      if (task) this.#said = '';
    }
  }

  /** Until the database is there: one that starts at the same time takes a moment longer. */
  async #begin(): Promise<void> {
    while (!this.#stopping)
      try {
        await releaseDead(this.db, hostname());
        return await this.#listener.open();
      } catch (error) {
        this.#failed('beginning', error);
        await this.#sleep();
      }
  }

  #said = '';

  /** Goes into the log, the same thing once in a row. */
  #failed(what: string, error: unknown): undefined {
    const words = `${what}: ${error instanceof Error ? error.message : String(error)}`;
    if (words !== this.#said) log.error({ err: error, worker: this.kinds.join(' ') }, `the worker failed at ${what}`);
    this.#said = words;
    return undefined;
  }

  #call(): void {
    this.#isCalled = true;
    this.#wake?.();
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    this.#wake?.();
    this.#child?.kill('SIGKILL');
    await this.#listener.close();
  }

  #sleep(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, 3000);
      this.#wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  #spawn(): ChildProcess {
    const child = fork(programFile('runner'), {
      execArgv: ['--max-old-space-size=6144'],
      env: {
        ...process.env,
        DATABASE_URL: this.config.databaseUrl,
        DATA_DIR: this.config.dataDir,
        WARM: this.kinds.includes('evaluate') ? '1' : '',
      },
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    child.on('error', () => {});
    return child;
  }

  async #work(task: Task): Promise<void> {
    if (task.attempt > MAX_ATTEMPTS) {
      const message = `This task stopped its worker ${MAX_ATTEMPTS} times and was given up. The rest of the job is not affected.`;
      await finish(this.db, task, 'failed', { error: { code: 'internal', message } });
      return;
    }
    const ending = await this.#runInChild(task);
    // What was said of the progress must not arrive after the end.
    await this.#reporting;
    if ('done' in ending) await finish(this.db, task, 'done', { result: ending.done });
    else if ('crashed' in ending) await finish(this.db, task, 'queued');
    else if ('failed' in ending && ending.failed.code === 'internal' && task.attempt < MAX_ATTEMPTS)
      await finish(this.db, task, 'queued');
    else if ('failed' in ending) await finish(this.db, task, 'failed', { error: ending.failed });
    if ((await memoryOf(this.#child?.pid)) > REPLACE_ABOVE) this.#child?.kill('SIGKILL');
  }

  #runInChild(task: Task): Promise<Ending> {
    const child = (this.#child =
      this.#child && this.#child.exitCode === null && this.#child.signalCode === null ? this.#child : this.#spawn());
    return new Promise((resolve) => {
      let cancelled = false;
      const kill = () => child.kill('SIGKILL');
      const cancel = () => {
        cancelled = true;
        if (child.connected) child.send({ cancel: true });
        graceTimer = setTimeout(kill, GRACE);
      };
      let graceTimer: NodeJS.Timeout | undefined;
      let reason = '';
      let sent = 0;
      const since = Date.now();
      const watch = setInterval(
        async () => {
          const alive = await beat(this.db, task.id, this.name).catch(() => true);
          if (!alive && !cancelled) cancel();
          if ((await memoryOf(child.pid)) > this.#limits.memory) {
            reason = `it needed more than ${Math.round(this.#limits.memory / 1e9)} GB of memory`;
            kill();
          }
        },
        (HEARTBEAT_SECONDS * 1000) / 4,
      );
      const limit = setTimeout(() => {
        reason = `it took longer than ${Math.round(this.#limits.time / 60_000)} minutes`;
        kill();
      }, this.#limits.time);
      const settle = (ending: Ending) => {
        clearInterval(watch);
        clearTimeout(limit);
        clearTimeout(graceTimer);
        child.off('message', onMessage);
        child.off('exit', onExit);
        this.#current = undefined;
        resolve(cancelled ? { cancelled: true } : ending);
      };
      const onMessage = (message: FromRunner) => {
        if ('progress' in message) {
          // Ten a second are enough to watch.
          const now = Date.now();
          if (now - sent < 100 && message.progress.done < message.progress.total) return;
          sent = now;
          this.#reporting = this.#reporting
            .then(() => reportProgress(this.db, task, { ...message.progress, since }))
            .catch(() => {});
        } else settle(message);
      };
      const onExit = (code: number | null, signal: string | null) => {
        this.#child = undefined;
        if (reason)
          settle({
            failed: {
              code: 'timed-out',
              message: `The task was stopped because ${reason}. Try coarser limits or fewer parts.`,
            },
          });
        else settle({ crashed: signal ?? `code ${code}` });
      };
      child.on('message', onMessage as never);
      child.on('exit', onExit);
      this.#current = { task, cancel };
      child.send({ task });
    });
  }
}

/** Resident memory of a process, bytes; 0 where it cannot be told. */
async function memoryOf(pid: number | undefined): Promise<number> {
  const text = pid === undefined ? '' : await readFile(`/proc/${pid}/statm`, 'utf8').catch(() => '');
  return Number(text.split(' ')[1] ?? 0) * 4096;
}
