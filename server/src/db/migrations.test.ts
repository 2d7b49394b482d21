// What older programs kept: of every schema that there was, all is there under the newest; and a schema that cannot be reached leaves all as it was.
import { Kysely, Migrator, sql } from 'kysely';
import { afterEach, describe, expect, it } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { emptyDatabase } from '../testing.ts';
import { connect, migrate } from './connect.ts';
import type { Db } from './connect.ts';
import { findJob, listJobs, saveVersion, undo } from './jobs.ts';
import { MIGRATIONS } from './migrations.ts';
import { listSources } from './sources.ts';
import { listTasks } from './tasks.ts';
import { listTemplates } from './templates.ts';
import { findTransmittal, listTransmittals } from './transmittals.ts';

const NAMES = Object.keys(MIGRATIONS).sort();

const open: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of open.splice(0)) await close();
});

async function empty(): Promise<Db> {
  const { url, drop } = await emptyDatabase();
  const db = connect(url);
  open.push(async () => {
    await db.destroy();
    await drop();
  });
  return db;
}

/** Brings a database to an older schema. */
async function migratedTo(db: Db, name: string): Promise<void> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => MIGRATIONS } });
  const { error } = await migrator.migrateTo(name);
  if (error) throw error;
}

const STEP = { id: 'r', kind: 'rename', on: true, selector: { by: 'all' }, parameters: { name: 'Motor', of: 'parts' } };

/** What a program of that time wrote: a job with two versions and a source, a task that is done, a delivery, a result. */
async function filledAt(db: Db, schema: string): Promise<void> {
  const has = (name: string) => schema >= name;
  await sql`insert into jobs (id, name, version) values ('j', 'Lower station', 2)`.execute(db);
  const content = { kind: STEP.kind, selector: STEP.selector, parameters: STEP.parameters };
  const steps = has('004') ? [{ id: 'r', on: true, content: 'hash-of-it' }] : [STEP];
  if (has('004'))
    await sql`insert into step_contents (hash, content) values ('hash-of-it', ${JSON.stringify(content)}::jsonb)`.execute(
      db,
    );
  await sql`insert into versions (job, number, parent, sources, steps, note) values
    ('j', 1, null, '[]'::jsonb, '[]'::jsonb, 'New job'),
    ('j', 2, 1, '["u"]'::jsonb, ${JSON.stringify(steps)}::jsonb, 'Received unit.stp')`.execute(db);
  await sql`insert into sources (id, job, name, bytes, blob, state, survey, scene) values
    ('u', 'j', 'unit.stp', 4000000000, 'blob-of-file', 'ready', 'blob-of-survey', 'blob-of-scene')`.execute(
    // From then on a slot has to be named.
    has('004') ? await withSlots(db) : db,
  );
  await sql`insert into tasks (job, kind, payload, state, result) values ('j', 'evaluate', '{}'::jsonb, 'done', '{"version": 2}'::jsonb)`.execute(db); // prettier-ignore
  await sql`insert into memo (key, value) values ('tessellate:abc', '{"mesh": "blob-of-mesh"}'::jsonb)`.execute(db);
  const readBack = { holds: true, differences: [] };
  const file = { name: 'station_v2.glb', mime: 'model/gltf-binary', bytes: 1234, blob: 'blob-of-glb' };
  if (!has('006'))
    await sql`insert into transmittals (id, job, version, target, file_name, bytes, file, manifest, read_back, parts, triangles) values
      ('t', 'j', 2, 'glb', ${file.name}, ${file.bytes}, ${file.blob}, 'blob-of-manifest', ${JSON.stringify(readBack)}::jsonb, 6, 24)`.execute(db); // prettier-ignore
  else if (!has('008'))
    await sql`insert into transmittals (id, job, version, target, name, files, manifest, read_back, parts, triangles) values
      ('t', 'j', 2, 'glb', 'station_v2', ${JSON.stringify([file])}::jsonb, 'blob-of-manifest', ${JSON.stringify(readBack)}::jsonb, 6, 24)`.execute(db); // prettier-ignore
  else
    await sql`insert into transmittals (id, job, version, name, files, manifest, outputs) values
      ('t', 'j', 2, 'station_v2', ${JSON.stringify([file])}::jsonb, 'blob-of-manifest', ${JSON.stringify([{ name: 'glb', settings: { format: 'glb' }, files: [file.name], parts: 6, triangles: 24, readBack }])}::jsonb)`.execute(db); // prettier-ignore
  if (has('005'))
    await sql`insert into templates (id, name, steps, sources, every) values ('k', 'All of iron', ${JSON.stringify([STEP])}::jsonb, '[]'::jsonb, true)`.execute(db); // prettier-ignore
}

/** Rows that are written without a slot get the one that their id is. */
async function withSlots(db: Db): Promise<Db> {
  await sql`alter table sources alter column slot set default 'u'`.execute(db);
  return db;
}

/** Of what came about step by step, the first, one in the middle and the newest; the long run takes all. */
const SOME = NAMES.filter((_, i) => i % 4 === 0 || i === NAMES.length - 1);

describe('data of an older schema', () => {
  const THERE = '%s: is all there under the newest, and goes on from there';
  it.each(SOME)(THERE, isAllThere);
  atLength.each(NAMES.filter((name) => !SOME.includes(name)))(THERE, isAllThere);

  async function isAllThere(schema: string): Promise<void> {
    const db = await empty();
    await migratedTo(db, schema);
    await filledAt(db, schema.slice(0, 3));
    await migrate(db);

    const job = await findJob(db, 'j');
    expect(job).toMatchObject({ name: 'Lower station', version: { number: 2, parent: 1, sources: ['u'], note: 'Received unit.stp' } }); // prettier-ignore
    expect(job.version.steps).toEqual([STEP]);
    expect(await listSources(db, 'j')).toMatchObject([
      { id: 'u', slot: 'u', revision: 1, name: 'unit.stp', bytes: 4_000_000_000, state: 'ready', scene: 'blob-of-scene' },
    ]); // prettier-ignore
    expect(await listTasks(db, 'j')).toMatchObject([{ kind: 'evaluate', state: 'done', result: { version: 2 } }]);
    expect(await listTransmittals(db, 'j')).toMatchObject([
      {
        name: 'station_v2',
        version: 2,
        files: [{ name: 'station_v2.glb', bytes: 1234, blob: 'blob-of-glb' }],
        outputs: [{ name: 'glb', settings: { format: 'glb' }, files: ['station_v2.glb'], parts: 6, triangles: 24, readBack: { holds: true } }],
      },
    ]); // prettier-ignore
    expect(await findTransmittal(db, 't')).toMatchObject({ manifest: 'blob-of-manifest' });
    const memo = await db.selectFrom('memo').selectAll().execute();
    expect(memo).toMatchObject([{ key: 'tessellate:abc', value: { mesh: 'blob-of-mesh' } }]);
    if (schema >= '005') expect(await listTemplates(db)).toMatchObject([{ name: 'All of iron', every: true }]);

    // Versions are made on top, and undone to the older ones.
    const renamed = { ...STEP, id: 's', parameters: { ...STEP.parameters, name: 'Engine' } } as never;
    await saveVersion(db, 'j', 2, { steps: [STEP as never, renamed], note: 'one more' });
    expect((await findJob(db, 'j')).version).toMatchObject({ number: 3, steps: [STEP, renamed] });
    await undo(db, 'j', 3);
    await undo(db, 'j', 2);
    expect((await findJob(db, 'j')).version).toMatchObject({ number: 1, steps: [], sources: [] });
    expect(await listJobs(db)).toMatchObject([{ id: 'j', name: 'Lower station' }]);
  }
});

describe('a schema that cannot be reached', () => {
  const failing = {
    ...MIGRATIONS,
    '998-half-way': {
      async up(db: Kysely<unknown>) {
        await sql`update jobs set name = 'half way'`.execute(db);
        await sql`alter table jobs add column weight integer`.execute(db);
        await sql`select 1 / (select count(*) - 1 from jobs)`.execute(db);
      },
    },
    '999-after-it': {
      async up(db: Kysely<unknown>) {
        await sql`alter table jobs add column colour text`.execute(db);
      },
    },
  };

  it('is named with what went wrong, leaves all as it was, and is reached once it is mended', async () => {
    const db = await empty();
    await migrate(db);
    await filledAt(db, '999');
    await expect(migrate(db, failing)).rejects.toThrow(/998-half-way failed: division by zero/);
    const columns = async () => {
      const { rows } = await sql<{ name: string }>`select column_name as name from information_schema.columns where table_name = 'jobs'`.execute(db); // prettier-ignore
      return rows.map(({ name }) => name);
    };
    expect(await columns()).not.toEqual(expect.arrayContaining(['weight']));
    expect(await columns()).not.toEqual(expect.arrayContaining(['colour']));
    // The program that it was goes on with it.
    await migrate(db);
    expect((await findJob(db, 'j')).name).toBe('Lower station');
    const mended = { ...failing, '998-half-way': { up: async (on: Kysely<unknown>) => void (await sql`alter table jobs add column weight integer`.execute(on)) } }; // prettier-ignore
    await migrate(db, mended);
    expect(await columns()).toEqual(expect.arrayContaining(['weight', 'colour']));
    expect((await findJob(db, 'j')).version.steps).toEqual([STEP]);
  });

  it('of a newer program is refused in words, and nothing is changed', async () => {
    const db = await empty();
    const { '998-half-way': _, ...newer } = failing;
    await migrate(db, newer);
    await expect(migrate(db)).rejects.toThrow(/999-after-it/);
    expect(await listJobs(db)).toEqual([]);
  });

  it('is reached by one of several starts, while the others wait', async () => {
    const db = await empty();
    await Promise.all(Array.from({ length: 4 }, () => migrate(db)));
    expect(await listJobs(db)).toEqual([]);
  });
});
