/** Batches: jobs made together, which send themselves once their sources are read. How far each is, is told by its sources and tasks. */
import { randomUUID } from 'node:crypto';
import { PrismError } from '@noble-prism/core/errors';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import { SETTLED } from '@noble-prism/wire/batch';
import type { Batch, BatchJob, BatchOrder, BatchSummary } from '@noble-prism/wire/batch';
import { batchJob } from './batchState.ts';
import type { Db } from './connect.ts';
import { deleteJob, findVersion, insertJob, lockJob } from './jobs.ts';
import { cancelTask, enqueue } from './tasks.ts';
import { firstSteps } from './templates.ts';

/** Makes a batch with its jobs, all or nothing. @throws PrismError `not-found` where there is no such template */
export async function createBatch(db: Db, { name, jobs, template, targets, folder }: BatchOrder): Promise<string> {
  const id = randomUUID();
  const steps = await firstSteps(db, template);
  await db.transaction().execute(async (trx) => {
    await trx
      .insertInto('batches')
      .values({ id, name, targets: JSON.stringify(targets), folder })
      .execute();
    for (const [place, job] of jobs.entries()) {
      const row = { id: randomUUID(), name: job, targets: JSON.stringify(targets), batch: id, batch_place: place, sends: 'waits' as const }; // prettier-ignore
      await insertJob(trx, row, steps);
    }
  });
  return id;
}

/** The newest first. */
export async function listBatches(db: Db): Promise<BatchSummary<Date>[]> {
  const rows = await db.selectFrom('batches').select(['id', 'name', 'made_at']).orderBy('made_at', 'desc').execute();
  const out = [];
  for (const row of rows) {
    const jobs = await jobsOf(db, row.id);
    const count = (state: BatchJob['state']) => jobs.filter((job) => job.state === state).length;
    out.push({
      ...row,
      jobs: jobs.length,
      sent: count('sent'),
      incomplete: count('incomplete'),
      failed: count('failed'),
      stopped: count('stopped'),
      open: jobs.filter(({ state }) => !SETTLED.includes(state)).length,
    });
  }
  return out;
}

/** @throws PrismError `not-found` */
export async function findBatch(db: Db, id: string): Promise<Batch<Date>> {
  const { name, targets, folder, made_at } = await rowOf(db, id);
  return { id, name, targets, folder, made_at, jobs: await jobsOf(db, id) };
}

async function rowOf(db: Db, id: string) {
  const row = await db.selectFrom('batches').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw new PrismError('not-found', 'There is no such batch.');
  return row;
}

/** All as it stands at one moment: what is read later than the rest would tell of a job that has failed where it is only done. */
const jobsOf = (db: Db, batch: string): Promise<BatchJob[]> =>
  db
    .transaction()
    .setIsolationLevel('repeatable read')
    .execute((trx) => jobsNow(trx, batch));

async function jobsNow(db: Db, batch: string): Promise<BatchJob[]> {
  const jobs = await db
    .selectFrom('jobs')
    .innerJoin('versions', (join) =>
      join.onRef('versions.job', '=', 'jobs.id').onRef('versions.number', '=', 'jobs.version'),
    )
    .select(['jobs.id', 'jobs.name', 'jobs.sends', 'jobs.picture', 'versions.sources as shown'])
    .where('batch', '=', batch)
    .orderBy('batch_place')
    .execute();
  const ids = jobs.map(({ id }) => id);
  if (ids.length === 0) return [];
  const sources = await db
    .selectFrom('sources')
    .select(['id', 'job', 'name', 'state', 'error'])
    .where('job', 'in', ids)
    .execute();
  const tasks = await db
    .selectFrom('tasks')
    .select(['job', 'kind', 'state', 'progress', 'error'])
    .where('job', 'in', ids)
    .orderBy('id')
    .execute();
  const transmittals = await db
    .selectFrom('transmittals')
    .select(['id', 'job', 'files', 'outputs', 'folder'])
    .where('job', 'in', ids)
    .orderBy('made_at')
    .execute();
  return jobs.map((job) =>
    batchJob(job, {
      sources: sources.filter((source) => source.job === job.id && job.shown.includes(source.id)),
      tasks: tasks.filter((task) => task.job === job.id),
      sent: transmittals.findLast((transmittal) => transmittal.job === job.id),
    }),
  );
}

/**
 * Has a job of a batch sent where all of its sources have been read and it was not sent before; nothing where it waits for one, where no
 * source can be sent, or where it belongs to no batch.
 */
export async function sendWhenRead(db: Db, job: string): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const row = await trx.selectFrom('jobs').select(['name', 'version', 'batch', 'sends']).where('id', '=', job).forUpdate().executeTakeFirst(); // prettier-ignore
    if (!row?.batch || row.sends !== 'waits') return;
    const { sources } = await findVersion(trx, job, row.version);
    const states = await trx.selectFrom('sources').select(['id', 'state']).where('job', '=', job).execute();
    const shown = states.filter(({ id }) => sources.includes(id)).map(({ state }) => state);
    if (shown.includes('reading') || !shown.includes('ready')) return;
    const { targets, folder } = await rowOf(trx, row.batch);
    await enqueue(trx, job, 'transmit', {
      id: randomUUID(),
      targets: targets.filter(({ on }) => on).map(({ name, settings }: Target) => ({ name, settings })),
      name: row.name,
      version: row.version,
      folder,
    });
    await trx.updateTable('jobs').set({ sends: 'asked' }).where('id', '=', job).execute();
  });
}

/** Sends jobs of a batch again, as they are now; those that are not read yet are sent when they are. */
export async function sendAgain(db: Db, batch: string, jobs?: readonly string[]): Promise<void> {
  for (const { job, state } of (await findBatch(db, batch)).jobs) {
    if (jobs ? !jobs.includes(job) : !SETTLED.includes(state)) continue;
    await db.updateTable('jobs').set({ sends: 'waits' }).where('id', '=', job).execute();
    await readOn(db, job);
    await sendWhenRead(db, job);
  }
}

/** Queues what of a job was still being read when it was stopped: what was given up in the middle is read from its beginning. */
async function readOn(db: Db, job: string): Promise<void> {
  await db.transaction().execute(async (trx) => {
    await lockJob(trx, job);
    const open = await openTasks(trx, job);
    const sources = await trx.selectFrom('sources').select(['id', 'state', 'error']).where('job', '=', job).execute();
    for (const { id, state, error } of sources) {
      const isUnread = state === 'reading' || (state === 'failed' && error?.code === 'cancelled');
      if (!isUnread || open.some(({ kind, payload }) => kind === 'read' && payload.source === id)) continue;
      await trx
        .updateTable('sources')
        .set({ state: 'reading', error: 'null' })
        .where('job', '=', job)
        .where('id', '=', id)
        .execute();
      await enqueue(trx, job, 'read', { source: id });
    }
  });
}

function openTasks(db: Db, job: string) {
  return db
    .selectFrom('tasks')
    .select(['id', 'kind', 'payload'])
    .where('job', '=', job)
    .where('state', 'in', ['queued', 'running'])
    .execute();
}

/** Ends what is under way for a batch; what was sent stays. */
export async function stopBatch(db: Db, batch: string): Promise<void> {
  for (const { job, state } of (await findBatch(db, batch)).jobs) {
    if (SETTLED.includes(state)) continue;
    await db.transaction().execute(async (trx) => {
      await lockJob(trx, job);
      await trx.updateTable('jobs').set({ sends: 'stopped' }).where('id', '=', job).execute();
    });
    for (const { id } of await openTasks(db, job)) await cancelTask(db, String(id));
  }
}

/** @param withJobs deletes its jobs too; otherwise they stay, as if somebody had made each. @throws PrismError `not-found` */
export async function deleteBatch(db: Db, id: string, withJobs: boolean): Promise<void> {
  const { jobs } = await findBatch(db, id);
  if (withJobs)
    for (const { job } of jobs) {
      for (const { id: task } of await openTasks(db, job)) await cancelTask(db, String(task));
      await deleteJob(db, job);
    }
  await db.deleteFrom('batches').where('id', '=', id).execute();
}
