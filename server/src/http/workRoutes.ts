/** Routes of work that takes its time, and of its results. */
import { array, number, object, string } from 'yup';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { tessellateStep } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { findJob } from '../db/jobs.ts';
import { DatabaseMemo } from '../db/memo.ts';
import { cancelTask, enqueue, findTask, want } from '../db/tasks.ts';
import type { Route } from './route.ts';

/** Keys of pieces of work: hashes of all that goes into them. */
const workKeys = array(
  string()
    .required()
    .matches(/^[0-9a-f]{64}$/),
).required();

export const WORK_ROUTES: readonly Route[] = [
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
    path: '/api/tasks/:task/cancel',
    summary: 'Cancels a task; what it has finished is kept',
    answer: '`{ cancelled: true }`.',
    handle: async (ctx, _body, { db }) => {
      await findTask(db, ctx.params.task);
      await cancelTask(db, ctx.params.task);
      return { cancelled: true };
    },
  },
];
