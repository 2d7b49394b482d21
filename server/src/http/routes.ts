/** All routes of the API but the uploads. */
import { randomUUID } from 'node:crypto';
import type { RouterContext } from '@koa/router';
import { array, boolean, number, object, string } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { ownMaterialSchema } from '@noble-prism/core/finish/library/own';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import { tessellateStep } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { MOST_TARGETS, targetSchema, targetsSchema } from '@noble-prism/core/transmit/targets/target';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import { tell } from '../db/events.ts';
import {
  copyJob,
  createJob,
  deleteJob,
  findJob,
  listJobs,
  pictureOf,
  redo,
  renameJob,
  saveVersion,
  setPicture,
  setTargets,
  setView,
  undo,
} from '../db/jobs.ts';
import { spaceUsed } from '../sweep/space.ts';
import { DatabaseMemo } from '../db/memo.ts';
import { listSources } from '../db/sources.ts';
import { cancelTask, enqueue, findTask, listTasks, want } from '../db/tasks.ts';
import { deleteMaterial, keepMaterial, listMaterials } from '../db/materials.ts';
import { addTemplate, changeTemplate, deleteTemplate, firstSteps, listTemplates } from '../db/templates.ts';
import { deleteTransmittal, findTransmittal, listTransmittals } from '../db/transmittals.ts';
import type { Job, Standpoint, TransmitOrder } from '@noble-prism/wire/job';
import { BATCH_ROUTES } from './batchRoutes.ts';
import { download, zipOf } from './download.ts';
import { nameOf } from './names.ts';
import { pictureType } from './pictureType.ts';
import type { Route, Services } from './route.ts';

const nameSchema = nameOf('job');
/** Keys of pieces of work: hashes of all that goes into them. */
const workKeys = array(
  string()
    .required()
    .matches(/^[0-9a-f]{64}$/),
).required();

const base = number().integer().required();

/** A point, metres: nothing that is modelled is farther away than the Earth is wide. */
const point = array(number().required().min(-1.3e7).max(1.3e7)).required().length(3);
const standpoint = object({ from: point, to: point, lens: number().required().min(1).max(150) }).noUnknown();

export const ROUTES: readonly Route[] = [
  {
    method: 'get',
    path: '/api/jobs',
    summary: 'Lists the jobs, last changed first',
    answer: 'A list of `{ id, name, version, sources, picture, created_at, updated_at }`.',
    handle: (_ctx, _body, { db }) => listJobs(db),
  },
  {
    method: 'post',
    path: '/api/jobs',
    summary: 'Makes a new job',
    body: object({ name: nameSchema, template: string().nullable().max(64) }).noUnknown(),
    answer:
      'The job. It begins with the template named; with the usual steps for null; with the template for every new job, or the usual steps, where nothing is said.',
    status: 201,
    handle: async (_ctx, { name, template }: { name: string; template?: string | null }, services) => {
      const steps = await firstSteps(services.db, template);
      return jobState(await createJob(services.db, name, undefined, steps), services);
    },
  },
  {
    method: 'get',
    path: '/api/jobs/:job',
    summary: 'A job with its current preparation, sources, tasks and transmittals',
    answer: '`{ id, name, version, newest, sources, tasks, transmittals }`.',
    handle: (ctx, _body, services) => jobState(ctx.params.job, services),
  },
  {
    method: 'patch',
    path: '/api/jobs/:job',
    summary: 'Renames a job',
    body: object({ name: nameSchema }).noUnknown(),
    answer: 'The job.',
    handle: async (ctx, { name }: { name: string }, services) => {
      await renameJob(services.db, ctx.params.job, name);
      return changed(ctx, services);
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/copy',
    summary: 'Copies a job as it stands, without its older versions and what it sent',
    body: object({ name: nameSchema }).noUnknown(),
    answer: 'The new job.',
    status: 201,
    handle: async (ctx, { name }: { name: string }, services) => {
      const id = await copyJob(services.db, ctx.params.job, name);
      await enqueue(services.db, id, 'evaluate', {});
      return jobState(id, services);
    },
  },
  {
    method: 'delete',
    path: '/api/jobs/:job',
    summary: 'Deletes a job with all that belongs to it',
    answer: '`{ deleted: true }`.',
    handle: async (ctx, _body, { db }) => {
      for (const { id, state } of await listTasks(db, ctx.params.job))
        if (state === 'queued' || state === 'running') await cancelTask(db, String(id));
      await deleteJob(db, ctx.params.job);
      return { deleted: true };
    },
  },
  {
    method: 'put',
    path: '/api/jobs/:job/picture',
    summary: 'Keeps a small picture of a job for the list: JPEG, PNG or WebP as base64',
    body: object({
      picture: string()
        .required()
        .max(400_000)
        .matches(/^[A-Za-z0-9+/]+=*$/, 'The picture has to be base64.'),
    }).noUnknown(),
    answer: '`{ picture }`, the hash of its blob.',
    handle: async (ctx, body: { picture: string }, { db, blobs }) => {
      await pictureOf(db, ctx.params.job);
      const bytes = new Uint8Array(Buffer.from(body.picture, 'base64'));
      if (!pictureType(bytes)) throw new PrismError('bad-parameters', 'That is no JPEG, PNG or WebP picture.');
      const picture = await blobs.put(bytes);
      await setPicture(db, ctx.params.job, picture);
      return { picture };
    },
  },
  {
    method: 'get',
    path: '/api/jobs/:job/picture',
    summary: 'The small picture of a job',
    answer: 'The bytes. 404 where there is none.',
    handle: async (ctx, _body, { db, blobs }) => {
      const hash = await pictureOf(db, ctx.params.job);
      if (!hash) throw new PrismError('not-found', 'This job has no picture yet.');
      const bytes = await blobs.get(hash);
      ctx.set('Cache-Control', 'private, max-age=60');
      ctx.type = pictureType(bytes) ?? 'application/octet-stream';
      return Buffer.from(bytes);
    },
  },
  {
    method: 'put',
    path: '/api/jobs/:job/view',
    summary: 'Keeps where a job is looked at from when it is opened; null frames everything again',
    body: object({ view: standpoint.nullable().defined() }).noUnknown(),
    answer: 'The job.',
    handle: async (ctx, { view }: { view: Standpoint | null }, services) => {
      await setView(services.db, ctx.params.job, view);
      return changed(ctx, services);
    },
  },
  {
    method: 'get',
    path: '/api/templates',
    summary: 'Preparations kept without sources',
    answer: 'A list of `{ id, name, steps, sources, every, made_at }`.',
    handle: (_ctx, _body, { db }) => listTemplates(db),
  },
  {
    method: 'post',
    path: '/api/templates',
    summary: 'Keeps steps as a template, with the names of the sources that they name',
    body: object({
      name: nameOf('template'),
      steps: array().required().min(1, 'A template has at least one step.').max(500),
      sources: array(object({ id: string().required().max(64), name: string().required().max(1000) }).noUnknown())
        .required()
        .max(500),
    }).noUnknown(),
    answer: 'All templates.',
    status: 201,
    handle: async (_ctx, body: { name: string; steps: unknown[]; sources: NamedSource[] }, { db }) => {
      await addTemplate(db, { ...body, steps: checkSteps(body.steps) });
      return listTemplates(db);
    },
  },
  {
    method: 'patch',
    path: '/api/templates/:template',
    summary: 'Renames a template, or has every new job begin with it',
    body: object({ name: nameOf('template').optional(), every: boolean() }).noUnknown(),
    answer: 'All templates.',
    handle: async (ctx, change: { name?: string; every?: boolean }, { db }) => {
      if (Object.keys(change).length === 0) throw new PrismError('bad-parameters', 'Say what is to be changed.');
      await changeTemplate(db, ctx.params.template, change);
      return listTemplates(db);
    },
  },
  {
    method: 'get',
    path: '/api/materials',
    summary: 'Own materials of the library',
    answer: 'A list of `{ material, textures, size, of }`.',
    handle: (_ctx, _body, { db }) => listMaterials(db),
  },
  {
    method: 'put',
    path: '/api/materials',
    summary: 'Keeps an own material, or what became of one with the same id; jobs keep what they have of it',
    body: ownMaterialSchema,
    answer: 'All own materials.',
    handle: async (_ctx, own: OwnMaterial, { db }) => {
      await keepMaterial(db, own);
      return listMaterials(db);
    },
  },
  {
    method: 'delete',
    path: '/api/materials/:material',
    summary: 'Deletes an own material; jobs keep what they have of it',
    answer: 'All own materials.',
    handle: async (ctx, _body, { db }) => {
      await deleteMaterial(db, ctx.params.material);
      return listMaterials(db);
    },
  },
  {
    method: 'delete',
    path: '/api/templates/:template',
    summary: 'Deletes a template; jobs that were given it keep their steps',
    answer: 'All templates.',
    handle: async (ctx, _body, { db }) => {
      await deleteTemplate(db, ctx.params.template);
      return listTemplates(db);
    },
  },
  {
    method: 'get',
    path: '/api/space',
    summary: 'Space that is used, and what the latest sweep freed',
    answer: '`{ used: { files, bytes }, uploads: { files, bytes }, database, latest? }`, bytes.',
    handle: async (_ctx, _body, { db, config, sweeper }) => spaceUsed(db, config.dataDir, sweeper.latest),
  },
  {
    method: 'post',
    path: '/api/sweep',
    summary: 'Cleans up now: what nothing refers to and is older than a day',
    answer: '`{ used, freed, results, sources }`.',
    handle: async (_ctx, _body, { sweeper }) => sweeper.run(),
  },
  {
    method: 'post',
    path: '/api/jobs/:job/versions',
    summary: 'Saves a new version of the preparation on top of `base`',
    body: object({
      base,
      note: string().required().max(300),
      steps: array().required().max(500),
      sources: array(string().required()).required().max(500),
    }).noUnknown(),
    answer: 'The job. 409 with `current` where `base` is no longer current.',
    handle: async (ctx, body: { base: number; note: string; steps: unknown[]; sources: string[] }, services) => {
      const { job } = ctx.params;
      const steps: Step[] = checkSteps(body.steps);
      const known = new Set((await listSources(services.db, job)).map((source) => source.id));
      if (!body.sources.every((id) => known.has(id)))
        throw new PrismError('bad-parameters', 'A source of this version does not belong to the job.');
      await saveVersion(services.db, job, body.base, { steps, sources: body.sources, note: body.note });
      await enqueue(services.db, job, 'evaluate', {});
      return changed(ctx, services);
    },
  },
  ...(['undo', 'redo'] as const).map((way): Route => ({
    method: 'post',
    path: `/api/jobs/:job/${way}`,
    summary: way === 'undo' ? 'Goes back one version' : 'Goes forward to the newest version made from this one',
    body: object({ base }).noUnknown(),
    answer: 'The job. 409 where there is nothing to go to, or `base` is no longer current.',
    handle: async (ctx, body: { base: number }, services) => {
      await (way === 'undo' ? undo : redo)(services.db, ctx.params.job, body.base);
      await enqueue(services.db, ctx.params.job, 'evaluate', {});
      return changed(ctx, services);
    },
  })),
  {
    method: 'post',
    path: '/api/jobs/:job/evaluate',
    summary: 'Computes what the current version still needs',
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, _body, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'evaluate', {}) };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/forecast',
    summary:
      'Forecasts the triangles of the solids at several chord deviations, from a sample; the result is that of the task',
    body: object({ angle: number().required().min(0.017).max(1.572) }).noUnknown(),
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, { angle }: { angle: number }, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'forecast', { angle }) };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/compare',
    summary: 'Tessellates one part at up to four settings, to be seen side by side; the result is that of the task',
    body: object({
      part: string().required().max(4000),
      settings: array(tessellateStep.schema.noUnknown().required()).required().min(1).max(4),
    }).noUnknown(),
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, body: { part: string; settings: TessellateParameters[] }, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'compare', { ...body }) };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/try',
    summary:
      'Does the heavy work of steps that are looked at before they are applied, on the sources of the current version; results are told as they are there',
    body: object({ steps: array().required().min(1, 'There is no step to be tried.').max(500) }).noUnknown(),
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, { steps }: { steps: unknown[] }, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'try', { steps: checkSteps(steps) }) };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/exact',
    summary:
      'Reads what is exact in solids (surfaces with axes and radii, circles, volume, centroid); the result of the task names the blob of each',
    body: object({ solids: array(string().required().max(100)).required().min(1).max(64) }).noUnknown(),
    answer: '`{ task }`.',
    status: 202,
    handle: async (ctx, { solids }: { solids: string[] }, { db }) => {
      await findJob(db, ctx.params.job);
      return { task: await enqueue(db, ctx.params.job, 'exact', { solids }) };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/want',
    summary: 'Says which pieces of work somebody waits for: they are computed next',
    body: object({ keys: workKeys.max(5000) }).noUnknown(),
    answer: 'The keys.',
    handle: async (ctx, { keys }: { keys: string[] }, { db }) => {
      await findJob(db, ctx.params.job);
      await want(db, ctx.params.job, keys);
      return { keys };
    },
  },
  {
    method: 'post',
    path: '/api/jobs/:job/results',
    summary: 'Looks up results of heavy work by key',
    body: object({
      keys: workKeys.max(50_000),
    }).noUnknown(),
    answer: 'An object with the results that are known.',
    handle: async (_ctx, { keys }: { keys: string[] }, { db }) =>
      Object.fromEntries(await new DatabaseMemo(db).get(keys)),
  },
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
    method: 'put',
    path: '/api/jobs/:job/targets',
    summary: 'Keeps what a job is sent to',
    body: object({ targets: targetsSchema }).noUnknown(),
    answer: 'The job.',
    handle: async (ctx, { targets }: { targets: Target[] }, services) => {
      await setTargets(services.db, ctx.params.job, targets);
      return changed(ctx, services);
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
    handle: async (ctx, _body, { db, blobs }) => {
      const { id, name, files, manifest, report } = await findTransmittal(db, ctx.params.transmittal);
      const [only, ...others] = files;
      if (others.length === 0)
        return download(ctx, { name: only.name, mime: only.mime, tag: only.blob }, await blobs.get(only.blob));
      const entries: Record<string, Uint8Array> = {};
      for (const file of files) entries[file.name] = await blobs.get(file.blob);
      entries[`${name}.manifest.json`] = await blobs.get(manifest);
      if (report) entries[`${name}.report.html`] = await blobs.get(report);
      return download(ctx, { name: `${name}.zip`, mime: 'application/zip', tag: id }, zipOf(entries));
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
      return download(ctx, { name, mime: file.mime, tag: file.blob }, await blobs.get(file.blob));
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
      return download(ctx, about, await blobs.get(manifest));
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
      return download(ctx, { name: `${name}.report.html`, mime: 'text/html', tag: report }, await blobs.get(report));
    },
  },
  {
    method: 'get',
    path: '/api/blobs/:hash',
    summary: 'A blob by the SHA-256 of its content',
    answer: 'The bytes; they never change.',
    handle: async (ctx, _body, { blobs }) => {
      const bytes = await blobs.get(ctx.params.hash);
      ctx.set('Cache-Control', 'private, max-age=31536000, immutable');
      // Pictures can be shown where they are referred to; everything else is bytes.
      ctx.type = pictureType(bytes) ?? 'application/octet-stream';
      return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
    },
  },
  {
    method: 'post',
    path: '/api/tasks/:task/cancel',
    summary: 'Cancels a task; what it has finished is kept',
    answer: '`{ cancelled: true }`.',
    handle: async (ctx, _body, { db }) => {
      await findTask(db, ctx.params.task);
      await cancelTask(db, ctx.params.task);
      return { cancelled: true };
    },
  },
  {
    method: 'get',
    path: '/api/jobs/:job/events',
    summary: 'Server-sent events of a job: sources, tasks with progress, results as they are ready',
    answer: 'A stream of `text/event-stream`.',
    handle: async (ctx, _body, { db, hub }) => {
      await findJob(db, ctx.params.job);
      ctx.set({ 'Cache-Control': 'no-store', Connection: 'keep-alive' });
      ctx.type = 'text/event-stream';
      ctx.req.socket.setTimeout(0);
      return hub.watch(ctx.params.job);
    },
  },
  ...BATCH_ROUTES,
];

async function changed(ctx: RouterContext, services: Services): Promise<Job<Date>> {
  await tell(services.db, { type: 'job', job: ctx.params.job });
  return jobState(ctx.params.job, services);
}

async function jobState(id: string, { db }: Services): Promise<Job<Date>> {
  const job = await findJob(db, id);
  const [sources, tasks, transmittals] = await Promise.all([
    listSources(db, id),
    listTasks(db, id),
    listTransmittals(db, id),
  ]);
  return { ...job, sources, tasks, transmittals };
}
