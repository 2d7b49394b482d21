/** Routes of what was sent. */
import { randomUUID } from 'node:crypto';
import { array, boolean, number, object } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { MOST_TARGETS, targetSchema } from '@noble-prism/core/transmit/targets/target';
import { findJob } from '../db/jobs.ts';
import { enqueue } from '../db/tasks.ts';
import { deleteTransmittal, findTransmittal } from '../db/transmittals.ts';
import type { TransmitOrder } from '@noble-prism/wire/job';
import { download } from './download.ts';
import { zippedFiles } from './zippedFiles.ts';
import { nameOf } from './names.ts';
import type { Route } from './route.ts';
import { changed } from './jobState.ts';

const nameSchema = nameOf('job');
const base = number().integer().required();

export const TRANSMITTAL_ROUTES: readonly Route[] = [
  {
    method: 'post',
    path: '/api/jobs/:job/transmittals',
    summary: 'Sends: writes a version to the files of targets, reads them back, keeps all of it',
    body: object({
      targets: array(object({ name: nameOf('target'), settings: targetSchema.required() }).noUnknown())
        .required()
        .min(1, 'There is no target to send to.')
        .max(MOST_TARGETS),
      name: nameSchema,
      version: base,
      folder: boolean(),
    }).noUnknown(),
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, body: TransmitOrder, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'transmit', { ...body, id: randomUUID() }) };
    },
  },
  {
    method: 'delete',
    path: '/api/jobs/:job/transmittals/:transmittal',
    summary: 'Takes a transmittal out of the history, with its files',
    answer: 'The job.',
    handle: async (ctx, _body, services) => {
      await deleteTransmittal(services.db, ctx.params.job, ctx.params.transmittal);
      return changed(ctx, services);
    },
  },
  {
    method: 'get',
    path: '/api/transmittals/:transmittal/file',
    summary:
      'Downloads a transmittal: its file, or a zip of all with the manifest where it has several; ranges are answered',
    answer: 'The bytes.',
    handle: async (ctx, _body, { db, blobs, zips }) => {
      const sent = await findTransmittal(db, ctx.params.transmittal);
      const [only, ...others] = sent.files;
      if (others.length === 0)
        return download(ctx, { name: only.name, mime: only.mime, tag: only.blob }, await blobs.fileOf(only.blob));
      const zip = await zips.of(zippedFiles(sent));
      return download(ctx, { name: `${sent.name}.zip`, mime: 'application/zip', tag: zip.tag }, zip);
    },
  },
  {
    method: 'get',
    path: '/api/transmittals/:transmittal/files/:number',
    summary: 'Downloads one file of a transmittal by its number in the list, from 0; ranges are answered',
    answer: 'The bytes.',
    handle: async (ctx, _body, { db, blobs }) => {
      const { files } = await findTransmittal(db, ctx.params.transmittal);
      const file = files[Number(ctx.params.number)];
      if (!file) throw new PrismError('not-found', 'There is no such file in this transmittal.');
      const name = file.name.split('/').at(-1) ?? file.name;
      return download(ctx, { name, mime: file.mime, tag: file.blob }, await blobs.fileOf(file.blob));
    },
  },
  {
    method: 'get',
    path: '/api/transmittals/:transmittal/manifest',
    summary: 'Downloads the manifest of a transmittal',
    answer: 'The bytes.',
    handle: async (ctx, _body, { db, blobs }) => {
      const { name, manifest } = await findTransmittal(db, ctx.params.transmittal);
      const about = { name: `${name}.manifest.json`, mime: 'application/json', tag: manifest };
      return download(ctx, about, await blobs.fileOf(manifest));
    },
  },
  {
    method: 'get',
    path: '/api/transmittals/:transmittal/report',
    summary: 'Downloads the report of a transmittal: one page of HTML that can be printed',
    answer: 'The bytes.',
    handle: async (ctx, _body, { db, blobs }) => {
      const { name, report } = await findTransmittal(db, ctx.params.transmittal);
      if (!report) throw new PrismError('not-found', 'This transmittal was made before there were reports.');
      return download(ctx, { name: `${name}.report.html`, mime: 'text/html', tag: report }, await blobs.fileOf(report));
    },
  },
];
