/** Sources: the files received, and what became of reading them. */
import { randomUUID } from 'node:crypto';
import { PrismError } from '@noble-prism/core/errors';
import type { Db } from './connect.ts';
import { addSourceToCurrent, lockJob, showRevision } from './jobs.ts';
import type { ErrorJson } from '@noble-prism/wire/task';
import { enqueue } from './tasks.ts';

export interface NewSource {
  id: string;
  job: string;
  name: string;
  bytes: number;
  blob: string;
  /** The source that it is a new revision of; a source of its own where absent. */
  slot?: string;
}

/** A source is known by its job and its id: a copied job has the same ids. */
export interface SourceId {
  job: string;
  id: string;
}

/**
 * Takes a file whose blob is stored: enters it, adds it to the current version and queues its reading, all or nothing.
 * Doing it twice for the same id changes nothing.
 */
export async function receiveSource(db: Db, { slot, ...source }: NewSource): Promise<void> {
  await db.transaction().execute(async (trx) => {
    await lockJob(trx, source.job);
    const latest = slot
      ? await trx
          .selectFrom('sources')
          .select((e) => e.fn.max('revision').as('revision'))
          .where('job', '=', source.job)
          .where('slot', '=', slot)
          .executeTakeFirst()
      : undefined;
    // A slot that is not there any more is a source of its own.
    const isRevision = slot !== undefined && latest?.revision != null;
    const place = isRevision ? { slot, revision: Number(latest.revision) + 1 } : { slot: source.id, revision: 1 };
    const inserted = await trx
      .insertInto('sources')
      .values({ ...source, ...place, state: 'reading', survey: null, scene: null, error: 'null' })
      .onConflict((conflict) => conflict.columns(['job', 'id']).doNothing())
      .returning('id')
      .executeTakeFirst();
    if (!inserted) return;
    // A new revision takes the place of the one that is shown when it has been read, and not before.
    if (!isRevision) await addSourceToCurrent(trx, source.job, source.id, source.name);
    await enqueue(trx, source.job, 'read', { source: source.id });
  });
}

/**
 * Puts several sources in the place of one that held several models: in its place in every version that has it, so that undo and
 * redo go on as they were. The first takes over its row. All or nothing.
 */
export async function splitSource(
  db: Db,
  source: { id: string; job: string },
  parts: readonly { name: string; bytes: number; blob: string }[],
  ignored: { package: string; names: readonly string[] },
): Promise<void> {
  await db.transaction().execute(async (trx) => {
    await lockJob(trx, source.job);
    const ids = parts.map((_, i) => (i === 0 ? source.id : randomUUID()));
    for (const [i, part] of parts.entries()) {
      if (i === 0)
        await trx.updateTable('sources').set(part).where('job', '=', source.job).where('id', '=', source.id).execute();
      else
        await trx
          .insertInto('sources')
          .values({
            id: ids[i],
            job: source.job,
            slot: ids[i],
            ...part,
            state: 'reading',
            survey: null,
            scene: null,
            error: 'null',
          })
          .execute();
      await enqueue(trx, source.job, 'read', { source: ids[i], ...(i === 0 ? { ignored } : {}) });
    }
    const versions = await trx
      .selectFrom('versions')
      .select(['number', 'sources'])
      .where('job', '=', source.job)
      .execute();
    for (const { number, sources } of versions) {
      if (!sources.includes(source.id)) continue;
      const next = sources.flatMap((id) => (id === source.id ? ids : id));
      await trx
        .updateTable('versions')
        .set({ sources: JSON.stringify(next) })
        .where('job', '=', source.job)
        .where('number', '=', number)
        .execute();
    }
  });
}

export function listSources(db: Db, job: string) {
  return db.selectFrom('sources').selectAll().where('job', '=', job).orderBy('received_at').orderBy('id').execute();
}

/** @throws PrismError `not-found` */
export async function findSource(db: Db, { job, id }: SourceId) {
  const source = await db
    .selectFrom('sources')
    .selectAll()
    .where('job', '=', job)
    .where('id', '=', id)
    .executeTakeFirst();
  if (!source) throw new PrismError('not-found', 'There is no such source.');
  return source;
}

export async function sourceSurveyed(db: Db, { job, id }: SourceId, survey: string): Promise<void> {
  await db.updateTable('sources').set({ survey }).where('job', '=', job).where('id', '=', id).execute();
}

/** The first shapes of a source are there, while the rest is still being read. */
export async function sourceBegun(db: Db, { job, id }: SourceId, scene: string): Promise<void> {
  await db.updateTable('sources').set({ scene }).where('job', '=', job).where('id', '=', id).execute();
}

/** A source has been read. A new revision of one takes its place in the job. */
export async function sourceReady(db: Db, { job, id }: SourceId, scene: string): Promise<void> {
  await db.transaction().execute(async (trx) => {
    await lockJob(trx, job);
    const row = await trx
      .updateTable('sources')
      .set({ state: 'ready', scene, error: 'null' })
      .where('job', '=', job)
      .where('id', '=', id)
      .returning(['slot', 'revision', 'name'])
      .executeTakeFirst();
    if (row && row.revision > 1) await showRevision(trx, { job, id, ...row });
  });
}

export async function sourceFailed(db: Db, { job, id }: SourceId, error: ErrorJson): Promise<void> {
  await db
    .updateTable('sources')
    // The first shapes of a source that was not read to its end would pass for all of it.
    .set({ state: 'failed', scene: null, error: JSON.stringify(error) })
    .where('job', '=', job)
    .where('id', '=', id)
    .execute();
}

/** Queues a source to be read again, once, where its stored scene is of no use. Returns false where somebody did so before. */
export async function readAgain(db: Db, { job, id }: SourceId, scene: string): Promise<boolean> {
  return db.transaction().execute(async (trx) => {
    const { numUpdatedRows } = await trx
      .updateTable('sources')
      .set({ state: 'reading', scene: null, survey: null })
      .where('job', '=', job)
      .where('id', '=', id)
      .where('scene', '=', scene)
      .executeTakeFirst();
    if (numUpdatedRows === 0n) return false;
    await enqueue(trx, job, 'read', { source: id });
    return true;
  });
}
