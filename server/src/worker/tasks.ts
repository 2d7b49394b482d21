/** What each kind of task does: read a source, evaluate a preparation, send. */
import { randomUUID } from 'node:crypto';
import { asPrismError } from '@noble-prism/core/errors';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { compareSettings } from '@noble-prism/core/preparation/compare';
import { forecast } from '@noble-prism/core/preparation/forecast';
import type { Evaluation, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { ignoredWarning, splitPackage } from '@noble-prism/core/read/package';
import { readSource } from '@noble-prism/core/read/readSource';
import type { Reading } from '@noble-prism/core/read/reader';
import { hashData } from '@noble-prism/core/scene/hash';
import { THIS_SOURCE } from '@noble-prism/core/scene/slot';
import { packScene } from '@noble-prism/core/scene/sceneFile';
import type { Scene } from '@noble-prism/core/scene/types';
import { takeOff } from '@noble-prism/core/scene/facts';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import type { BlobStore, Progress, Seen, Workbench } from '@noble-prism/core/surroundings';
import { deliver } from '@noble-prism/core/transmit/transmit';
import { nodePictures } from '@noble-prism/node/pictures';
import type { Db } from '../db/connect.ts';
import { tell } from '../db/events.ts';
import { findJob, findVersion } from '../db/jobs.ts';
import { CheckedMemo, DatabaseMemo } from '../db/memo.ts';
import {
  findSource,
  sourceBegun,
  sourceFailed,
  sourceReady,
  sourceScenes,
  sourceSurveyed,
  splitSource,
} from '../db/sources.ts';
import type { TaskKind } from '../db/tables.ts';
import { enqueue, wantedKeys } from '../db/tasks.ts';
import type { Task } from '../db/tasks.ts';
import { addTransmittal } from '../db/transmittals.ts';

export interface RunnerContext {
  db: Db;
  blobs: BlobStore;
  workbench: Workbench;
  scenes: SceneMemo;
}

type Runner = (
  task: Task,
  context: RunnerContext,
  progress: (p: Progress) => void,
  signal: AbortSignal,
) => Promise<Record<string, unknown>>;

const RUNNERS: Record<TaskKind, Runner> = {
  read,
  evaluate: evaluateJob,
  transmit,
  forecast: forecastJob,
  compare: compareJob,
};

export const runTask: Runner = (task, ...rest) => RUNNERS[task.kind](task, ...rest);

const encoder = new TextEncoder();

interface Ignored {
  package: string;
  names: string[];
}

type Source = Awaited<ReturnType<typeof findSource>>;

/**
 * The file being read; nothing where it was a zip of several models, which now are sources to be read by tasks of their own. Only here are
 * the bytes held: a large file need not stay in memory while it is built.
 */
async function opened(
  source: Source,
  context: RunnerContext,
  progress: (share: number, seen: Seen) => void,
): Promise<Reading | undefined> {
  const bytes = await context.blobs.get(source.blob);
  if (await split(source, bytes, context)) return undefined;
  return readSource({ name: source.name, bytes, progress }, THIS_SOURCE);
}

/** True where a zip of several models became a source for each. */
async function split(source: Source, bytes: Uint8Array, { db, blobs }: RunnerContext): Promise<boolean> {
  const { name, job } = source;
  const parts = await splitPackage({ name, bytes });
  if (!parts) return false;
  const stored = [];
  for (const part of parts.sources)
    stored.push({ name: part.name, bytes: part.bytes.length, blob: await blobs.put(part.bytes) });
  await splitSource(db, source, stored, { package: name, names: parts.ignored });
  await tell(db, { type: 'job', job });
  return true;
}

/** The same reading, which also says what of its package was left out. */
function withIgnored(reading: Reading, ignored: Ignored | undefined): Reading {
  if (!ignored) return reading;
  const added = ignoredWarning(ignored.package, ignored.names);
  const saying = (scene: Scene): Scene => ({
    ...scene,
    sources: scene.sources.map((info, i) => (i === 0 ? { ...info, warnings: [...info.warnings, ...added] } : info)),
  });
  return {
    survey: saying(reading.survey),
    build: async (blobs, options) => saying(await reading.build(blobs, options)),
  };
}

async function read(
  task: Task,
  context: RunnerContext,
  progress: (p: Progress) => void,
  signal: AbortSignal,
): Promise<Record<string, unknown>> {
  const { db, blobs, workbench } = context;
  const id = String(task.payload.source);
  const which = { job: task.job, id };
  const source = await findSource(db, which);
  try {
    const whole = { what: `Reading ${source.name}`, total: 100, unit: '%' } as const;
    progress({ ...whole, done: 0 });
    const seen = (share: number, so: Seen) =>
      progress({ ...whole, done: Math.floor(share * 100), seen: { ...so, source: id } });
    const file = await opened(source, context, seen);
    if (!file) return { source: id };
    const reading = withIgnored(file, task.payload.ignored as Ignored | undefined);
    await sourceSurveyed(db, which, await blobs.put(await packScene(reading.survey)));
    await tell(db, { type: 'source', job: task.job, source: id });
    // Some libraries say nothing while they translate: the time goes on.
    progress({ what: `Building ${source.name}`, done: 0, total: 1 });
    const scene = await reading.build(blobs, {
      signal,
      pictures: nodePictures,
      workbench,
      begun: async (first) => {
        await sourceBegun(db, which, await blobs.put(await packScene(first)));
        await tell(db, { type: 'source', job: task.job, source: id });
        await enqueue(db, task.job, 'evaluate', { beginning: true });
      },
      progress: (done, total) => {
        if (done === total || done % 25 === 0) progress({ what: `Building ${source.name}`, done, total });
      },
    });
    await sourceReady(db, which, await blobs.put(await packScene(scene)));
    await tell(db, { type: 'source', job: task.job, source: id });
    await enqueue(db, task.job, 'evaluate', {}, { continues: true });
    return { source: id };
  } catch (error) {
    const known = asPrismError(error, { file: source.name });
    // A file that cannot be read fails for good; anything else (a lost database) is worth another attempt.
    if (known.code !== 'internal') {
      await sourceFailed(db, which, known.toJSON());
      await tell(db, { type: 'source', job: task.job, source: id });
    }
    throw known;
  }
}

async function evaluateVersion(
  job: string,
  number: number | undefined,
  { db, blobs, workbench, scenes }: RunnerContext,
  progress: (p: Progress) => void,
  signal: AbortSignal,
): Promise<{ evaluation: Evaluation; version: Awaited<ReturnType<typeof findVersion>>; name: string }> {
  const current = await findJob(db, job);
  const version = number === undefined ? current.version : await findVersion(db, job, number);
  const sources = await sourceScenes(db, blobs, job, version.sources);
  const evaluation = await evaluate(
    sources.base,
    sources.key,
    version.steps,
    {
      blobs,
      workbench,
      memo: new CheckedMemo(new DatabaseMemo(db), blobs),
      progress,
      signal,
      wanted: () => wantedKeys(db, job),
      finished: (key, value) => void tell(db, { type: 'result', job, key, value }).catch(() => {}),
    },
    scenes,
  );
  return { evaluation, version, name: current.name };
}

async function evaluateJob(task: Task, context: RunnerContext, progress: (p: Progress) => void, signal: AbortSignal) {
  const { evaluation, version } = await evaluateVersion(task.job, undefined, context, progress, signal);
  return {
    // What was computed of a beginning is no version of the job.
    ...(task.payload.beginning ? { beginning: true } : { version: version.number }),
    // The name of the result: what the page computes from the same sources and steps has the same one.
    key: evaluation.key,
    // What the steps did, in short: the page has to come to the same.
    figures: hashData([evaluation.reports.map(({ id: _, ...report }) => report), takeOff(evaluation.scene)]),
    counts: evaluation.counts,
    problems: evaluation.reports.reduce((sum, report) => sum + report.problems.length, 0),
  };
}

/** Steps that decide what there is to tessellate, and how large it is. */
const BEFORE_TESSELLATION = ['leave-out', 'unit', 'up'];

/** The sources of a job and the steps that come before any tessellation. */
async function untessellated(job: string, { db, blobs }: RunnerContext) {
  const { version } = await findJob(db, job);
  const sources = await sourceScenes(db, blobs, job, version.sources);
  const steps = version.steps.filter(({ kind }) => BEFORE_TESSELLATION.includes(kind));
  return { base: sources.base, baseKey: sources.key, steps };
}

async function forecastJob(task: Task, context: RunnerContext, progress: (p: Progress) => void, signal: AbortSignal) {
  const { db, blobs, workbench, scenes } = context;
  const around = { blobs, workbench, memo: new DatabaseMemo(db), progress, signal };
  const { base, baseKey, steps } = await untessellated(task.job, context);
  const { scene } = await evaluate(base, baseKey, steps, around, scenes);
  return { ...(await forecast(scene, Number(task.payload.angle), around)) };
}

async function compareJob(task: Task, context: RunnerContext, progress: (p: Progress) => void, signal: AbortSignal) {
  const { db, blobs, workbench, scenes } = context;
  const around = { blobs, workbench, memo: new DatabaseMemo(db), progress, signal };
  const { part, settings } = task.payload as { part: string; settings: TessellateParameters[] };
  const { base, baseKey, steps } = await untessellated(task.job, context);
  return { part, made: await compareSettings(base, baseKey, steps, part, settings, around, scenes) };
}

async function transmit(task: Task, context: RunnerContext, progress: (p: Progress) => void, signal: AbortSignal) {
  const { target, version: number, name } = task.payload as { target: string; version: number; name: string };
  const { evaluation, version } = await evaluateVersion(task.job, number, context, progress, signal);
  const { file, manifest } = await deliver(evaluation.scene, context.blobs, {
    target,
    name,
    title: name,
    steps: version.steps,
    made: new Date().toISOString(),
    pictures: nodePictures,
    progress,
    signal,
  });
  const figures = takeOff(evaluation.scene);
  const id = String(task.payload.id ?? randomUUID());
  await addTransmittal(context.db, {
    id,
    job: task.job,
    version: version.number,
    target,
    file_name: file.name,
    bytes: file.bytes.length,
    file: await context.blobs.put(file.bytes),
    manifest: await context.blobs.put(encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`)),
    read_back: JSON.stringify(manifest.readBack),
    parts: figures.parts,
    triangles: figures.triangles,
  });
  return { transmittal: id };
}
