/** The state of a job as the page knows it. */
import type { RouterContext } from '@koa/router';
import { tell } from '../db/events.ts';
import { findJob } from '../db/jobs.ts';
import { listSources } from '../db/sources.ts';
import { listTasks } from '../db/tasks.ts';
import { listTransmittals } from '../db/transmittals.ts';
import type { Job } from '@noble-prism/wire/job';
import type { Services } from './route.ts';

/** Tells all who look at a job that it changed. @returns its state now */
export async function changed(ctx: RouterContext, services: Services): Promise<Job<Date>> {
  await tell(services.db, { type: 'job', job: ctx.params.job });
  return jobState(ctx.params.job, services);
}

/** A job with its sources, tasks and transmittals. @throws PrismError `not-found` */
export async function jobState(id: string, { db }: Services): Promise<Job<Date>> {
  const job = await findJob(db, id);
  const [sources, tasks, transmittals] = await Promise.all([
    listSources(db, id),
    listTasks(db, id),
    listTransmittals(db, id),
  ]);
  return { ...job, sources, tasks, transmittals };
}
