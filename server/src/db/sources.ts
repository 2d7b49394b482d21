/** Sources: the files received, and what became of reading them. */
import { randomUUID } from 'node:crypto';
import { PrismError } from '@noble-prism/core/errors';
import { someNames } from '@noble-prism/core/read/belonging';
import { slotsOfRevision } from '@noble-prism/core/read/revisions';
import type { Db } from './connect.ts';
import { addSourceToCurrent, bindSources, lockJob, lockSources, showRevision } from './jobs.ts';
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
    const latest = slot === undefined ? 0 : await latestRevision(trx, source.job, slot);
    // A slot that is not there any more is a source of its own.
    const isRevision = slot !== undefined && latest > 0;
    const place = isRevision ? { slot, revision: latest + 1 } : { slot: source.id, revision: 1 };
    if (!(await enter(trx, { ...source, ...place }))) return;
    // A new revision takes the place of the one that is shown when it has been read, and not before.
    if (!isRevision) await addSourceToCurrent(trx, source.job, source.id, source.name);
    await enqueue(trx, source.job, 'read', { source: source.id });
  });
}

/** Blob of nothing: of a file that was refused before it was there. */
const NOTHING = 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855';

/**
 * Enters a file of a job of a batch that was refused: that is what became of it, and the rest of the batch goes on.
 * @returns false for a job that belongs to no batch, whose page has been told
 */
export async function refuseSource(
  db: Db,
  { job, name, error }: { job: string; name: string; error: ErrorJson },
): Promise<boolean> {
  return db.transaction().execute(async (trx) => {
    const row = await trx.selectFrom('jobs').select(['batch', 'sends']).where('id', '=', job).forUpdate().executeTakeFirst(); // prettier-ignore
    if (!row?.batch || row.sends !== 'waits') return false;
    const id = randomUUID();
    await trx
      .insertInto('sources')
      .values({
        id,
        job,
        slot: id,
        revision: 1,
        name,
        bytes: 0,
        blob: NOTHING,
        state: 'failed',
        survey: null,
        scene: null,
        error: JSON.stringify(error),
      }) // prettier-ignore
      .execute();
    await addSourceToCurrent(trx, job, id, name);
    return true;
  });
}

/** Latest revision of a slot; 0 where there is no such slot. */
async function latestRevision(trx: Db, job: string, slot: string): Promise<number> {
  const { latest } = await trx
    .selectFrom('sources')
    .select((e) => e.fn.max('revision').as('latest'))
    .where('job', '=', job)
    .where('slot', '=', slot)
    .executeTakeFirstOrThrow();
  return Number(latest ?? 0);
}

/** A file to be read, as a source of its own where it is no revision of one. */
async function enter(trx: Db, source: NewSource & { slot: string; revision: number }): Promise<boolean> {
  const inserted = await trx
    .insertInto('sources')
    .values({ ...source, state: 'reading', survey: null, scene: null, error: 'null' })
    .onConflict((conflict) => conflict.columns(['job', 'id']).doNothing())
    .returning('id')
    .executeTakeFirst();
  return inserted !== undefined;
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
      else await enter(trx, { id: ids[i], job: source.job, slot: ids[i], revision: 1, ...part });
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
    await bindSources(
      trx,
      source.job,
      parts.map(({ name }, i) => ({ id: ids[i], name })),
    );
  });
}

/**
 * Puts the models of a package that came as the new revision of one source where they belong: those that are called like a source of the
 * job are its next revision, the others sources of their own. All or nothing.
 * @throws PrismError `bad-parameters` where none of them can be told to be that revision
 */
export async function splitRevision(
  db: Db,
  source: { id: string; job: string; slot: string; name: string },
  parts: readonly { name: string; bytes: number; blob: string }[],
  ignored: { package: string; names: readonly string[] },
): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const { job } = source;
    const current = new Set(await lockSources(trx, job));
    const all = await trx.selectFrom('sources').select(['id', 'slot', 'name']).where('job', '=', job).execute();
    const shown = all.filter(({ id }) => current.has(id));
    const names = parts.map(({ name }) => name);
    const slots = slotsOfRevision(names, source.slot, shown);
    if (!slots) {
      const before = shown.find(({ slot }) => slot === source.slot)?.name ?? source.name;
      throw new PrismError(
        'bad-parameters',
        `${source.name} holds ${names.length} models (${someNames(names)}), and none is called like ${before}. Choose the one that is its new revision.`,
        { file: source.name },
      );
    }
    const revised = slots.indexOf(source.slot);
    for (const [i, part] of parts.entries()) {
      const slot = slots[i];
      const id = i === revised ? source.id : randomUUID();
      if (i === revised)
        await trx.updateTable('sources').set(part).where('job', '=', job).where('id', '=', id).execute();
      else if (slot !== undefined)
        await enter(trx, { id, job, slot, revision: (await latestRevision(trx, job, slot)) + 1, ...part });
      else {
        await enter(trx, { id, job, slot: id, revision: 1, ...part });
        await addSourceToCurrent(trx, job, id, part.name);
      }
      await enqueue(trx, job, 'read', { source: id, ...(i === revised ? { ignored } : {}) });
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

/** The revision that a revision follows upon: the latest before it that could be read; undefined for the first. */
export function revisionBefore(db: Db, { job, slot, revision }: { job: string; slot: string; revision: number }) {
  return db
    .selectFrom('sources')
    .selectAll()
    .where('job', '=', job)
    .where('slot', '=', slot)
    .where('revision', '<', revision)
    .where('state', '!=', 'failed')
    .orderBy('revision', 'desc')
    .limit(1)
    .executeTakeFirst();
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
