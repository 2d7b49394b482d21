/** Many files, each prepared by itself: some side by side, each in a process that may crash, and one summary of all. */
import { fork } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { availableParallelism, freemem } from 'node:os';
import { join } from 'node:path';
import { PrismError } from '@noble-prism/core/errors';
import type { ErrorJson } from '@noble-prism/core/errors';
import { baseName } from '@noble-prism/core/read/paths';
import { sideBySide } from '@noble-prism/core/sideBySide';
import { counted, formatBytes } from '@noble-prism/core/units';
import { programFile } from '@noble-prism/node/programs';
import type { FromChild, Outcome, ToChild } from './batchChild.ts';
import { namesOf } from './models.ts';
import type { Model } from './models.ts';
import type { Options } from './options.ts';
import type { OutputReport } from './outputs.ts';
import { totalBytes } from './prepare.ts';

/** What became of one file. */
export interface FileReport {
  file: string;
  /** Everything was written and reads back as it was sent; some of it; nothing. */
  state: 'prepared' | 'incomplete' | 'failed';
  /** Seconds. */
  seconds: number;
  parts?: number;
  triangles?: number;
  /** Of all its files but manifest and report. */
  bytes?: number;
  /** What of it went wrong: targets that were not written or differ, steps, models of a zip. */
  problems: string[];
  error?: ErrorJson;
}

/** Longest time for one file, milliseconds. */
const TIME_LIMIT = 60 * 60_000;
/** Memory that a process is expected to need at least, bytes. */
const MEMORY_EACH = 2e9;

export async function batch(models: readonly Model[], options: Options) {
  if (options.name !== undefined) throw new PrismError('bad-parameters', '--name is for one file, or goes with --together.'); // prettier-ignore
  const started = performance.now();
  const names = namesOf(models);
  const width = Math.min(models.length, options.sideBySide ?? widthHere());
  const size = await totalBytes(models.map(({ path }) => path));
  const pool = new Pool({ bytes: size, width: width === 1 ? 2 : 1 });
  const line = progressLine(models.length, options.json);
  const stop = () => pool.stop();
  process.once('SIGINT', stop).once('SIGTERM', stop);
  const results = await sideBySide(models, width, async ({ path, folder }, i) => {
    const since = performance.now();
    const order = {
      ...options,
      files: [path],
      out: join(options.out, folder),
      name: names[i],
      title: baseName(path),
      apart: true,
    };
    const { command, together, sideBySide, about, ...prepared } = order;
    const outcome = await pool.prepare(prepared, (what) => line.tell(path, what));
    line.done(path);
    const seconds = (performance.now() - since) / 1000;
    return 'failed' in outcome
      ? { file: { file: path, state: 'failed' as const, seconds, problems: [], error: outcome.failed } }
      : { file: fileReport(path, outcome.done, seconds), done: outcome.done };
  });
  pool.close();
  line.end();
  const files: FileReport[] = results.map(({ file }) => file);
  const done = results.flatMap((result) =>
    result.done ? [{ path: result.file.file, report: result.done.report }] : [],
  );
  const count = (state: FileReport['state']) => files.filter((file) => file.state === state).length;
  const summary = {
    files: files.length,
    prepared: count('prepared'),
    incomplete: count('incomplete'),
    failed: count('failed'),
    bytes: files.reduce((sum, { bytes = 0 }) => sum + bytes, 0),
    seconds: (performance.now() - started) / 1000,
    sideBySide: width,
  };
  return {
    report: {
      summary,
      files,
      sources: done.flatMap(({ report }) => report.sources),
      failed: done.flatMap(({ report }) => report.failed),
      outputs: done.flatMap(({ path, report }) => report.outputs.map((output) => ({ source: path, ...output }))),
    },
    text: [...files.map(fileText), summaryText(summary)].join('\n'),
    // Where all that is wrong is that sources were not read in full, that is told apart.
    holds: files.every(({ state }, i) => state === 'prepared' || isOnlyCut(results[i])),
    ...(results.some(({ done: one }) => one?.incomplete) ? { incomplete: true } : {}),
  };
}

const isOnlyCut = ({ done }: { done?: Outcome }) =>
  done !== undefined && done.holds && done.report.failed.length === 0 && done.incomplete !== undefined;

/** As many as there are processors, and no more than there is memory for. */
function widthHere(): number {
  return Math.max(1, Math.min(availableParallelism(), Math.floor(freemem() / MEMORY_EACH)));
}

function fileReport(file: string, { report, holds, incomplete = [] }: Outcome, seconds: number): FileReport {
  const outputs: OutputReport[] = report.outputs;
  const problems = [
    ...incomplete,
    ...report.failed.map(({ file: name, error }) => `${name}: not read: ${error.message}`),
    ...outputs.flatMap(({ format, error, readBack, overLimits = [] }) => [
      ...(error ? [`${format}: not written: ${error.message}`] : []),
      ...(readBack?.holds === false ? [`${format}: differs: ${readBack.differences.join('; ')}`] : []),
      ...overLimits.map((words) => `${format}: over its limit: ${words}`),
    ]),
    ...report.steps.flatMap((step) => step.problems),
  ];
  const written = outputs.filter(({ bytes }) => bytes !== undefined);
  const state =
    written.length === 0
      ? 'failed'
      : holds && report.failed.length + incomplete.length === 0
        ? 'prepared'
        : 'incomplete';
  const { parts, triangles } = report.scene;
  const bytes = written.reduce((sum, output) => sum + (output.bytes ?? 0), 0);
  const error = state === 'failed' ? outputs.find((output) => output.error)?.error : undefined;
  return { file, state, seconds, parts, triangles, bytes, problems, ...(error ? { error } : {}) };
}

function fileText({ file, state, seconds, parts = 0, triangles = 0, bytes = 0, problems, error }: FileReport): string {
  const figures = `${counted(parts, 'part')}, ${counted(triangles, 'triangle')}, ${formatBytes(bytes)}, ${seconds.toFixed(1)} s`;
  const head = state === 'failed' ? `${file}: failed: ${error?.message ?? ''}` : `${file}: ${state}, ${figures}`;
  return [head, ...(state === 'failed' ? [] : problems.map((problem) => `  ${problem}`))].join('\n');
}

function summaryText(summary: {
  files: number;
  prepared: number;
  incomplete: number;
  failed: number;
  bytes: number;
  seconds: number;
}): string {
  // prettier-ignore
  const { files, prepared, incomplete, failed, bytes, seconds } = summary;
  const states = [
    `${prepared} prepared`,
    ...(incomplete > 0 ? [`${incomplete} incomplete`] : []),
    ...(failed > 0 ? [`${failed} failed`] : []),
  ];
  return `${counted(files, 'file')}: ${states.join(', ')}; ${formatBytes(bytes)} written in ${seconds.toFixed(1)} s`;
}

/** One line on a screen: how many are done, and what is under way. */
function progressLine(total: number, json: boolean) {
  const isShown = !json && process.stderr.isTTY;
  let finished = 0;
  const show = (text: string) => isShown && process.stderr.write(`\r\u001b[K${text}`);
  return {
    tell: (path: string, what: string) => show(`${finished} of ${counted(total, 'file')}: ${path}: ${what}`),
    done: (path: string) => show(`${++finished} of ${counted(total, 'file')}: ${path}`),
    end: () => show(''),
  };
}

/** Processes that prepare files, as many as are asked for at a time; one is kept for the next file as long as it lives. */
class Pool {
  readonly #idle: ChildProcess[] = [];
  readonly #all = new Set<ChildProcess>();
  #isStopped = false;

  constructor(readonly begin: ToChild) {}

  prepare(order: Extract<ToChild, { prepare: unknown }>['prepare'], tell: (what: string) => void) {
    return new Promise<{ done: Outcome } | { failed: ErrorJson }>((resolve) => {
      const file = order.files[0];
      const cancelled = { failed: new PrismError('cancelled', 'Stopped before it was prepared.', { file }).toJSON() };
      if (this.#isStopped) return resolve(cancelled);
      const child = this.#takeIdle() ?? this.#spawn();
      let why = '';
      const limit = setTimeout(() => {
        why = `it took longer than ${TIME_LIMIT / 60_000} minutes`;
        child.kill('SIGKILL');
      }, TIME_LIMIT);
      const settle = (outcome: { done: Outcome } | { failed: ErrorJson }) => {
        clearTimeout(limit);
        child.off('message', onMessage).off('exit', onExit);
        resolve(outcome);
      };
      const onMessage = (message: FromChild) => {
        if ('progress' in message) return tell(message.progress);
        this.#idle.push(child);
        settle(message);
      };
      const onExit = (code: number | null, signal: string | null) => {
        const reason = why || `it ended with ${signal ?? `code ${code}`}`;
        const message = `The process that prepared it was lost: ${reason}. The other files are not affected; try it alone, or with coarser limits.`;
        settle(this.#isStopped ? cancelled : { failed: new PrismError('internal', message, { file }).toJSON() });
      };
      child.on('message', onMessage).on('exit', onExit);
      child.send({ prepare: order } satisfies ToChild);
    });
  }

  /** What is under way is ended, and nothing more is begun. */
  stop(): void {
    this.#isStopped = true;
    for (const child of this.#all) child.kill('SIGTERM');
  }

  close(): void {
    for (const child of this.#all) child.kill('SIGTERM');
  }

  /** One that waits; one that died while it waited is passed over. */
  #takeIdle(): ChildProcess | undefined {
    for (let child = this.#idle.pop(); child; child = this.#idle.pop()) if (child.connected) return child;
    return undefined;
  }

  #spawn(): ChildProcess {
    const child = fork(programFile('batchChild'), {
      serialization: 'advanced',
      // What a library prints is not part of the report.
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    child.on('error', () => {});
    child.on('exit', () => this.#all.delete(child));
    this.#all.add(child);
    child.send(this.begin);
    return child;
  }
}
