/** Routes of batches. */
import { array, boolean, object, string } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { targetsSchema } from '@noble-prism/core/transmit/targets/target';
import type { BatchOrder } from '@noble-prism/wire/batch';
import { createBatch, deleteBatch, findBatch, listBatches, sendAgain, stopBatch } from '../db/batches.ts';
import { findTransmittal } from '../db/transmittals.ts';
import { zipStream } from './download.ts';
import type { Entry } from './download.ts';
import { nameOf } from './names.ts';
import type { Route, Services } from './route.ts';

/** Most jobs of a batch. */
const MOST_JOBS = 500;
/** Largest zip: the plain kind counts its bytes with 32 bits. */
const LARGEST_ZIP = 4e9;

export const BATCH_ROUTES: readonly Route[] = [
  {
    method: 'get',
    path: '/api/batches',
    summary: 'Lists the batches, the newest first, with how many of their jobs are how far',
    answer: 'A list of `{ id, name, made_at, jobs, sent, incomplete, failed, stopped, open }`.',
    handle: (_ctx, _body, { db }) => listBatches(db),
  },
  {
    method: 'post',
    path: '/api/batches',
    summary:
      'Makes a batch: a job for each name, which sends itself to the targets when its file has arrived and is read',
    body: object({
      name: nameOf('batch'),
      jobs: array(nameOf('job').required())
        .required()
        .min(1, 'A batch has at least one job.')
        .max(MOST_JOBS, `A batch has at most ${MOST_JOBS} jobs.`),
      template: string().nullable().defined().max(64),
      targets: targetsSchema.test(
        'on',
        'There is no target to send to.',
        (list) => list?.some(({ on }) => on) ?? false,
      ),
      folder: boolean().required(),
    }).noUnknown(),
    answer: 'The batch; files are uploaded to its jobs.',
    status: 201,
    handle: async (_ctx, order: BatchOrder, { db }) => findBatch(db, await createBatch(db, order)),
  },
  {
    method: 'get',
    path: '/api/batches/:batch',
    summary: 'A batch with its targets and how far each job is',
    answer: '`{ id, name, targets, folder, made_at, jobs }`.',
    handle: (ctx, _body, { db }) => findBatch(db, ctx.params.batch),
  },
  {
    method: 'post',
    path: '/api/batches/:batch/send',
    summary: 'Sends jobs of a batch again as they are now: those that are named, or all that are through',
    body: object({ jobs: array(string().required().max(64)).max(MOST_JOBS) }).noUnknown(),
    answer: 'The batch.',
    handle: async (ctx, { jobs }: { jobs?: string[] }, { db }) => {
      await sendAgain(db, ctx.params.batch, jobs);
      return findBatch(db, ctx.params.batch);
    },
  },
  {
    method: 'post',
    path: '/api/batches/:batch/stop',
    summary: 'Stops what is under way for a batch; what was sent stays',
    answer: 'The batch.',
    handle: async (ctx, _body, { db }) => {
      await stopBatch(db, ctx.params.batch);
      return findBatch(db, ctx.params.batch);
    },
  },
  {
    method: 'delete',
    path: '/api/batches/:batch',
    summary: 'Deletes a batch; with `?jobs=true` its jobs too, with all that belongs to them',
    answer: '`{ deleted: true }`.',
    handle: async (ctx, _body, { db }) => {
      await deleteBatch(db, ctx.params.batch, ctx.query.jobs === 'true');
      return { deleted: true };
    },
  },
  {
    method: 'get',
    path: '/api/batches/:batch/file',
    summary: 'Downloads the latest transmittal of every job as one zip, a folder for each',
    answer: 'The bytes, as they are put together.',
    handle: async (ctx, _body, services) => {
      const { name, jobs } = await findBatch(services.db, ctx.params.batch);
      const entries = await entriesOf(
        jobs.flatMap(({ transmittal }) => transmittal ?? []),
        services,
      );
      if (entries.length === 0) throw new PrismError('not-found', 'Nothing of this batch has been sent yet.');
      if (entries.reduce((sum, { size = 0 }) => sum + size, 0) > LARGEST_ZIP)
        throw new PrismError('too-large', 'All files together are more than a zip holds. Take them job by job, or from the folder of deliveries.'); // prettier-ignore
      return zipStream(ctx, name, entries);
    },
  },
];

/** Files of transmittals in folders of their own; two that are called the same are numbered. */
async function entriesOf(transmittals: readonly string[], { db, blobs }: Services): Promise<Entry[]> {
  const taken = new Set<string>();
  const out: Entry[] = [];
  for (const id of transmittals) {
    const { name, files, manifest, report } = await findTransmittal(db, id);
    let folder = name;
    for (let n = 2; taken.has(folder.toLowerCase()); n++) folder = `${name}_${n}`;
    taken.add(folder.toLowerCase());
    const entry = (file: string, blob: string, size?: number): Entry => ({ name: `${folder}/${file}`, bytes: () => blobs.get(blob), ...(size === undefined ? {} : { size }) }); // prettier-ignore
    out.push(...files.map((file) => entry(file.name, file.blob, file.bytes)));
    out.push(entry(`${name}.manifest.json`, manifest));
    if (report) out.push(entry(`${name}.report.html`, report));
  }
  return out;
}
