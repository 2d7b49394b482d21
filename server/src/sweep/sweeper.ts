/** Runs sweeps: soon after the start, then four times a day, and when asked; never two at once. */
import { fork } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { PrismError } from '@noble-prism/core/errors';
import { programFile } from '@noble-prism/node/programs';
import type { Config } from '../config.ts';
import { log } from '../log.ts';
import type { SweepResult } from './sweep.ts';

const FIRST = 60_000;
const EVERY = 6 * 3600_000;

export class Sweeper {
  /** Of the latest sweep. */
  latest: (SweepResult & { at: string }) | undefined;
  #running: Promise<SweepResult> | undefined;
  #child: ChildProcess | undefined;
  #timers: NodeJS.Timeout[] = [];

  constructor(readonly config: Config) {}

  start(): void {
    const quietly = () => void this.run().catch((error: unknown) => log.warn({ err: error }, 'the sweep failed'));
    this.#timers = [setTimeout(quietly, FIRST), setInterval(quietly, EVERY)];
    for (const timer of this.#timers) timer.unref();
  }

  stop(): void {
    for (const timer of this.#timers) clearTimeout(timer);
    this.#child?.kill('SIGKILL');
  }

  run(): Promise<SweepResult> {
    this.#running ??= this.#fork().finally(() => (this.#running = undefined));
    return this.#running;
  }

  #fork(): Promise<SweepResult> {
    const { databaseUrl, dataDir } = this.config;
    return new Promise((resolve, reject) => {
      const child = (this.#child = fork(programFile('sweep'), {
        env: { ...process.env, DATABASE_URL: databaseUrl, DATA_DIR: dataDir },
      }));
      child.on('message', (result: SweepResult) => {
        this.latest = { ...result, at: new Date().toISOString() };
        resolve(result);
      });
      child.on('exit', (code) =>
        reject(new PrismError('internal', `Cleaning up ended with ${code}. Nothing that is needed is gone.`)),
      );
      child.on('error', reject);
    });
  }
}
