/** Task: reads a source, its structure first, and has it evaluated as soon as something of it is there. */
import { asPrismError } from '@noble-prism/core/errors';
import { ignoredWarning, splitPackage } from '@noble-prism/core/read/package';
import { readSource } from '@noble-prism/core/read/readSource';
import type { Reading } from '@noble-prism/core/read/reader';
import { THIS_SOURCE } from '@noble-prism/core/scene/slot';
import { recognised } from '@noble-prism/core/scene/recognise';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Seen } from '@noble-prism/core/surroundings';
import { nodePictures } from '@noble-prism/node/pictures';
import { sendWhenRead } from '../../db/batches.ts';
import { tell } from '../../db/events.ts';
import {
  findSource,
  revisionBefore,
  sourceBegun,
  sourceFailed,
  sourceReady,
  sourceSurveyed,
  splitRevision,
  splitSource,
} from '../../db/sources.ts';
import { enqueue } from '../../db/tasks.ts';
import { storedScene, storeScene } from '../../services/storage.ts';
import type { WorkContext } from '../../services/context.ts';
import type { Runner } from './task.ts';

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
  context: WorkContext,
  progress: (share: number, seen: Seen) => void,
): Promise<Reading | undefined> {
  const bytes = await context.blobs.get(source.blob);
  if (await split(source, bytes, context)) return undefined;
  return readSource({ name: source.name, bytes, progress }, THIS_SOURCE);
}

/** True where a zip of several models became a source for each. */
async function split(source: Source, bytes: Uint8Array, { db, blobs }: WorkContext): Promise<boolean> {
  const { name, job } = source;
  const parts = await splitPackage({ name, bytes });
  if (!parts) return false;
  const stored = [];
  for (const part of parts.sources)
    stored.push({ name: part.name, bytes: part.bytes.length, blob: await blobs.put(part.bytes) });
  const put = source.revision > 1 ? splitRevision : splitSource;
  await put(db, source, stored, { package: name, names: parts.ignored });
  await tell(db, { type: 'job', job });
  return true;
}

/**
 * The revision that this one follows upon, whose rows are to be known again; nothing for a first one. Where its stored scene is of no use it
 * is made again from its file, and so are those before it.
 */
async function sceneBefore(source: Source, context: WorkContext): Promise<Scene | undefined> {
  const { db, blobs, workbench } = context;
  const before = source.revision > 1 ? await revisionBefore(db, source) : undefined;
  if (!before) return undefined;
  const stored = before.state === 'ready' && before.scene ? await storedScene(blobs, before.scene) : undefined;
  if (stored) return stored;
  const reading = await readSource({ name: before.name, bytes: await blobs.get(before.blob) }, THIS_SOURCE);
  const built = await reading.build(blobs, { pictures: nodePictures, workbench });
  const earlier = await sceneBefore(before, context);
  return earlier ? recognised(earlier, built) : built;
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

export const read: Runner = async (task, context, progress, signal) => {
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
    // What is built is stored upon the survey: names, tree and most of the rest are the same.
    const ground = { hash: await storeScene(blobs, reading.survey), scene: reading.survey };
    await sourceSurveyed(db, which, ground.hash);
    await tell(db, { type: 'source', job: task.job, source: id });
    // Some libraries say nothing while they translate: the time goes on.
    progress({ what: `Building ${source.name}`, done: 0, total: 1 });
    const built = await reading.build(blobs, {
      signal,
      pictures: nodePictures,
      workbench,
      begun: async (first) => {
        await sourceBegun(db, which, await storeScene(blobs, first, ground));
        await tell(db, { type: 'source', job: task.job, source: id });
        await enqueue(db, task.job, 'evaluate', { beginning: true });
      },
      progress: (done, total) => {
        if (done === total || done % 25 === 0) progress({ what: `Building ${source.name}`, done, total });
      },
    });
    const before = await sceneBefore(source, context);
    const scene = before ? recognised(before, built) : built;
    await sourceReady(db, which, await storeScene(blobs, scene, ground));
    await tell(db, { type: 'source', job: task.job, source: id });
    await enqueue(db, task.job, 'evaluate', {}, { continues: true });
    await sendWhenRead(db, task.job);
    return { source: id };
  } catch (error) {
    const known = asPrismError(error, { file: source.name });
    // A file that cannot be read fails for good; anything else (a lost database) is worth another attempt.
    if (known.code !== 'internal') {
      await sourceFailed(db, which, known.toJSON());
      await tell(db, { type: 'source', job: task.job, source: id });
      // The others of a package are sent.
      await sendWhenRead(db, task.job);
    }
    throw known;
  }
};
