/** Jobs and the versions of their preparation. */
import { randomUUID } from 'node:crypto';
import type { Insertable } from 'kysely';
import { PrismError } from '@noble-prism/core/errors';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import { stepsWith } from './awaited.ts';
import { USUAL_TARGETS } from '@noble-prism/core/transmit/targets/readyMade';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import type * as Wire from '@noble-prism/wire/job';
import type { Db } from './connect.ts';
import type { Standpoint } from '@noble-prism/wire/job';
import { keepSteps, stepsOf } from './steps.ts';
import type { JobsTable } from './tables.ts';
import { enqueue } from './tasks.ts';

/** On this side of the wire times are dates. */
export type JobVersion = Wire.JobVersion<Date>;
export type JobSummary = Wire.JobSummary<Date>;

/** A version was saved by somebody else in the meantime: the current one comes along. */
export class VersionConflict extends PrismError {
  constructor(readonly current: JobVersion) {
    super(
      'conflict',
      `Somebody saved version ${current.number} in the meantime. Yours was not saved and nothing was overwritten.`,
    );
  }
}

export async function listJobs(db: Db): Promise<JobSummary[]> {
  const rows = await db
    .selectFrom('jobs')
    .innerJoin('versions', (join) =>
      join.onRef('versions.job', '=', 'jobs.id').onRef('versions.number', '=', 'jobs.version'),
    )
    .select([
      'jobs.id',
      'jobs.name',
      'jobs.version',
      'jobs.created_at',
      'jobs.updated_at',
      'jobs.picture',
      'jobs.batch',
      'versions.sources',
    ])
    .orderBy('jobs.updated_at', 'desc')
    .execute();
  return rows.map((row) => ({ ...row, sources: row.sources.length }));
}

/** @param steps what it begins with */
export async function createJob(
  db: Db,
  name: string,
  id: string = randomUUID(),
  steps: Step[] = defaultSteps(),
): Promise<string> {
  await db.transaction().execute((trx) => insertJob(trx, { id, name }, steps));
  return id;
}

/** Within a transaction. @param job what is said of it from the beginning */
export async function insertJob(
  trx: Db,
  job: Pick<Insertable<JobsTable>, 'id' | 'name' | 'targets' | 'batch' | 'batch_place' | 'sends'>,
  steps: Step[],
): Promise<void> {
  await trx
    .insertInto('jobs')
    .values({ ...job, version: 1, picture: null, view: 'null' })
    .execute();
  await insertVersion(trx, job.id, { number: 1, parent: null, sources: [], steps, note: 'New job' });
}

export async function renameJob(db: Db, id: string, name: string): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('jobs')
    .set({ name, updated_at: new Date() })
    .where('id', '=', id)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw noJob();
}

/**
 * Copies a job as it stands: its current version, and its sources under the same ids, so that everything that its steps name is found in
 * the copy. What it sent and its older versions stay with it. @throws PrismError `not-found`
 */
export async function copyJob(db: Db, from: string, name: string, id: string = randomUUID()): Promise<string> {
  await db.transaction().execute(async (trx) => {
    const current = await lockCurrent(trx, from);
    const { picture, view, targets } = await trx
      .selectFrom('jobs')
      .select(['picture', 'view', 'targets'])
      .where('id', '=', from)
      .executeTakeFirstOrThrow();
    await trx
      .insertInto('jobs')
      .values({
        id,
        name,
        version: 1,
        picture,
        view: JSON.stringify(view),
        ...(targets ? { targets: JSON.stringify(targets) } : {}),
      })
      .execute();
    await insertVersion(trx, id, {
      ...current,
      number: 1,
      parent: null,
      note: `Copied from version ${current.number}`,
    });
    const sources = await trx.selectFrom('sources').selectAll().where('job', '=', from).execute();
    for (const source of sources)
      if (current.sources.includes(source.id))
        await trx
          .insertInto('sources')
          .values({ ...source, job: id, error: JSON.stringify(source.error) })
          .execute();
    // What is still being read for the one is read for the other as well.
    for (const source of sources)
      if (source.state === 'reading' && current.sources.includes(source.id))
        await enqueue(trx, id, 'read', { source: source.id });
  });
  return id;
}

/** Deletes a job with its versions, sources, tasks and transmittals; blobs that nothing else needs go with the next sweep. */
export async function deleteJob(db: Db, id: string): Promise<void> {
  const { numDeletedRows } = await db.deleteFrom('jobs').where('id', '=', id).executeTakeFirst();
  if (numDeletedRows === 0n) throw noJob();
}

/** Blob of the picture of a job. @throws PrismError `not-found` */
export async function pictureOf(db: Db, id: string): Promise<string | null> {
  const row = await db.selectFrom('jobs').select('picture').where('id', '=', id).executeTakeFirst();
  if (!row) throw noJob();
  return row.picture;
}

/** Keeps where a job is looked at from when it is opened; null frames everything again. @throws PrismError `not-found` */
export async function setView(db: Db, id: string, view: Standpoint | null): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('jobs')
    .set({ view: JSON.stringify(view) })
    .where('id', '=', id)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw noJob();
}

/** Keeps what a job is sent to. @throws PrismError `not-found` */
export async function setTargets(db: Db, id: string, targets: readonly Target[]): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('jobs')
    .set({ targets: JSON.stringify(targets) })
    .where('id', '=', id)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw noJob();
}

/** Keeps a small picture of a job; that is no change of it. */
export async function setPicture(db: Db, id: string, picture: string): Promise<void> {
  await db.updateTable('jobs').set({ picture }).where('id', '=', id).execute();
}

/** The same of a job that has none: that of its view is worth more. */
export async function setFirstPicture(db: Db, id: string, picture: string): Promise<void> {
  await db.updateTable('jobs').set({ picture }).where('id', '=', id).where('picture', 'is', null).execute();
}

/** @throws PrismError `not-found` */
export async function findJob(
  db: Db,
  id: string,
): Promise<{
  id: string;
  name: string;
  version: JobVersion;
  newest: number;
  view: Standpoint | null;
  targets: Target[];
}> {
  const job = await db.selectFrom('jobs').selectAll().where('id', '=', id).executeTakeFirst();
  if (!job) throw noJob();
  const version = await findVersion(db, id, job.version);
  const newest = (await childOf(db, id, job.version)) ?? job.version;
  return { id, name: job.name, view: job.view, version, newest, targets: job.targets ?? [...USUAL_TARGETS] };
}

export async function findVersion(db: Db, job: string, number: number): Promise<JobVersion> {
  const row = await db
    .selectFrom('versions')
    .select(['number', 'parent', 'sources', 'matches', 'steps', 'note', 'made_at'])
    .where('job', '=', job)
    .where('number', '=', number)
    .executeTakeFirst();
  if (!row) throw new PrismError('not-found', `This job has no version ${number}.`);
  const [steps] = await stepsOf(db, [row.steps]);
  return { ...row, steps };
}

/**
 * Saves a new version on top of `base` and makes it current.
 * @throws VersionConflict where `base` is no longer the current one
 */
export async function saveVersion(
  db: Db,
  job: string,
  base: number,
  change: { steps?: Step[]; sources?: string[]; note: string },
): Promise<JobVersion> {
  return db.transaction().execute(async (trx) => {
    const current = await lockCurrent(trx, job);
    if (current.number !== base) throw new VersionConflict(current);
    return appendVersion(trx, job, current, change);
  });
}

/** Holds a job until the transaction ends. Taken before anything that refers to the job is written: the other way round, two would wait for each other. */
export async function lockJob(trx: Db, job: string): Promise<void> {
  await lockCurrent(trx, job);
}

/** Holds a job, and tells the sources that its current version shows. */
export async function lockSources(trx: Db, job: string): Promise<string[]> {
  return (await lockCurrent(trx, job)).sources;
}

/**
 * Adds a source, within a transaction, on top of whatever version is current: an upload is never lost to a conflict. What steps of a
 * template say of a source of its name holds for it.
 */
export async function addSourceToCurrent(trx: Db, job: string, source: string, name: string): Promise<void> {
  const current = await lockCurrent(trx, job);
  if (current.sources.includes(source)) return;
  const steps = await stepsWith(trx, job, current.steps, [{ id: source, name }]);
  const sources = [...current.sources, source];
  await appendVersion(trx, job, current, { sources, ...(steps ? { steps } : {}), note: `Received ${name}` });
}

/** Has steps that waited for sources of some names find them, where there are such steps: in a version of its own. */
export async function bindSources(trx: Db, job: string, received: readonly NamedSource[]): Promise<void> {
  const current = await lockCurrent(trx, job);
  const steps = await stepsWith(trx, job, current.steps, received);
  if (steps) await appendVersion(trx, job, current, { steps, note: `Steps found ${received.map(({ name }) => name).join(', ')}` }); // prettier-ignore
}

/**
 * Shows another revision of a slot, within a transaction, on top of whatever version is current: all that steps say of it stays, and undo
 * takes it back. Nothing where the slot is not in the job any more.
 */
export async function showRevision(
  trx: Db,
  { job, id, slot, name, revision }: { job: string; id: string; slot: string; name: string; revision: number },
): Promise<void> {
  const current = await lockCurrent(trx, job);
  const rows = await trx.selectFrom('sources').select('id').where('job', '=', job).where('slot', '=', slot).execute();
  const older = new Set(rows.map((row) => row.id));
  const sources = current.sources.map((shown) => (older.has(shown) ? id : shown));
  if (sources.includes(id) && !current.sources.includes(id))
    await appendVersion(trx, job, current, { sources, note: `Revision ${revision} of ${name}` });
}

async function appendVersion(
  trx: Db,
  job: string,
  current: JobVersion,
  change: { steps?: Step[]; sources?: string[]; note: string },
): Promise<JobVersion> {
  const { last } = await trx
    .selectFrom('versions')
    .select((e) => e.fn.max('number').as('last'))
    .where('job', '=', job)
    .executeTakeFirstOrThrow();
  const next = {
    number: Number(last) + 1,
    parent: current.number,
    sources: current.sources,
    ...(current.matches ? { matches: current.matches } : {}),
    steps: current.steps,
    ...change,
  };
  await insertVersion(trx, job, next);
  await moveTo(trx, job, next.number);
  return { ...next, made_at: new Date() };
}

/** One version back. @throws PrismError `conflict` at the first version; VersionConflict where `base` is not current */
export async function undo(db: Db, job: string, base: number): Promise<void> {
  await move(db, job, base, async (current) => current.parent, 'There is nothing to undo.');
}

/** Forward to the newest version that was made from this one. */
export async function redo(db: Db, job: string, base: number): Promise<void> {
  await move(db, job, base, (current, trx) => childOf(trx, job, current.number), 'There is nothing to redo.');
}

async function move(
  db: Db,
  job: string,
  base: number,
  target: (current: JobVersion, trx: Db) => Promise<number | null>,
  nothing: string,
): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const current = await lockCurrent(trx, job);
    if (current.number !== base) throw new VersionConflict(current);
    const number = await target(current, trx);
    if (number === null) throw new PrismError('conflict', nothing);
    await moveTo(trx, job, number);
  });
}

async function childOf(db: Db, job: string, number: number): Promise<number | null> {
  const row = await db
    .selectFrom('versions')
    .select((e) => e.fn.max('number').as('child'))
    .where('job', '=', job)
    .where('parent', '=', number)
    .executeTakeFirst();
  return row?.child ?? null;
}

async function lockCurrent(trx: Db, job: string): Promise<JobVersion> {
  const row = await trx.selectFrom('jobs').select('version').where('id', '=', job).forUpdate().executeTakeFirst();
  if (!row) throw noJob();
  return findVersion(trx, job, row.version);
}

async function moveTo(trx: Db, job: string, version: number): Promise<void> {
  await trx.updateTable('jobs').set({ version, updated_at: new Date() }).where('id', '=', job).execute();
}

async function insertVersion(trx: Db, job: string, version: Omit<JobVersion, 'made_at'>): Promise<void> {
  const { sources, steps, matches = {}, ...rest } = version;
  await trx
    .insertInto('versions')
    .values({
      job,
      ...rest,
      sources: JSON.stringify(sources),
      matches: JSON.stringify(matches),
      steps: JSON.stringify(await keepSteps(trx, steps)),
    })
    .execute();
}

function noJob(): PrismError {
  return new PrismError('not-found', 'There is no such job.');
}
