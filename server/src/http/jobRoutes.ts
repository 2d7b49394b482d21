/** Routes of jobs: what they hold, their versions, how they are seen. */
import { array, number, object, string } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { targetsSchema } from '@noble-prism/core/transmit/targets/target';
import type { Target } from '@noble-prism/core/transmit/targets/target';
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
import { listSources } from '../db/sources.ts';
import { cancelTask, enqueue, listTasks } from '../db/tasks.ts';
import { firstSteps } from '../db/templates.ts';
import type { Standpoint } from '@noble-prism/wire/job';
import { nameOf } from './names.ts';
import { pictureType } from './pictureType.ts';
import type { Route } from './route.ts';
import { changed, jobState } from './jobState.ts';

const nameSchema = nameOf('job');
const base = number().integer().required();
/** A point, metres: nothing that is modelled is farther away than the Earth is wide. */
const point = array(number().required().min(-1.3e7).max(1.3e7)).required().length(3);
const standpoint = object({ from: point, to: point, lens: number().required().min(1).max(150) }).noUnknown();

export const JOB_ROUTES: readonly Route[] = [
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
];
