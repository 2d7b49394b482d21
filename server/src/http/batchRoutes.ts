/** Routes of batches. */
import { array, boolean, object, string } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { targetsSchema } from '@noble-prism/core/transmit/targets/target';
import type { BatchOrder } from '@noble-prism/wire/batch';
import { createBatch, deleteBatch, findBatch, listBatches, sendAgain, stopBatch } from '../db/batches.ts';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { findTransmittal } from '../db/transmittals.ts';
import type { ZippedFile } from '../services/zips.ts';
import { download } from './download.ts';
import { nameOf } from './names.ts';
import type { Route } from './route.ts';
import { zippedFiles } from './zippedFiles.ts';

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
    summary: 'Downloads the latest transmittal of every job as one zip, a folder for each; ranges are answered',
    answer: 'The bytes.',
    handle: async (ctx, _body, { db, zips }) => {
      const { name, jobs } = await findBatch(db, ctx.params.batch);
      const sent = jobs.flatMap(({ transmittal }) => transmittal ?? []);
      if (sent.length === 0) throw new PrismError('not-found', 'Nothing of this batch has been sent yet.');
      const list = await Promise.all(sent.map((id) => findTransmittal(db, id)));
      if (list.flatMap(({ files }) => files).reduce((sum, { bytes }) => sum + bytes, 0) > LARGEST_ZIP)
        throw new PrismError('too-large', 'All files together are more than a zip holds. Take them job by job, or from the folder of deliveries.'); // prettier-ignore
      const zip = await zips.of(inFolders(list));
      return download(ctx, { name: `${safeFileName(name)}.zip`, mime: 'application/zip', tag: zip.tag }, zip);
    },
  },
];

/** Files of transmittals in folders of their own; two that are called the same are numbered. */
function inFolders(transmittals: readonly Parameters<typeof zippedFiles>[0][]): ZippedFile[] {
  const taken = new Set<string>();
  return transmittals.flatMap((sent) => {
    let folder = sent.name;
    for (let n = 2; taken.has(folder.toLowerCase()); n++) folder = `${sent.name}_${n}`;
    taken.add(folder.toLowerCase());
    return zippedFiles(sent, `${folder}/`);
  });
}
