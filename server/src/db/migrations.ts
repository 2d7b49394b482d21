/** Migrations in order; each is applied once, in a transaction. */
import { sql } from 'kysely';
import type { Kysely, Migration } from 'kysely';

export const MIGRATIONS: Record<string, Migration> = {
  '001-jobs': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      const now = sql`now()`;
      await schema
        .createTable('jobs')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('version', 'integer', (c) => c.notNull())
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .addColumn('updated_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .execute();
      await schema
        .createTable('versions')
        .addColumn('job', 'text', (c) => c.notNull().references('jobs.id').onDelete('cascade'))
        .addColumn('number', 'integer', (c) => c.notNull())
        .addColumn('parent', 'integer')
        .addColumn('sources', 'jsonb', (c) => c.notNull())
        .addColumn('steps', 'jsonb', (c) => c.notNull())
        .addColumn('note', 'text', (c) => c.notNull())
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .addPrimaryKeyConstraint('versions_key', ['job', 'number'])
        .execute();
      await schema
        .createTable('sources')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('job', 'text', (c) => c.notNull().references('jobs.id').onDelete('cascade'))
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('bytes', 'bigint', (c) => c.notNull())
        .addColumn('blob', 'text', (c) => c.notNull())
        .addColumn('state', 'text', (c) => c.notNull())
        .addColumn('survey', 'text')
        .addColumn('scene', 'text')
        .addColumn('error', 'jsonb')
        .addColumn('received_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .execute();
      await schema
        .createTable('tasks')
        .addColumn('id', 'bigserial', (c) => c.primaryKey())
        .addColumn('job', 'text', (c) => c.notNull().references('jobs.id').onDelete('cascade'))
        .addColumn('kind', 'text', (c) => c.notNull())
        .addColumn('payload', 'jsonb', (c) => c.notNull())
        .addColumn('state', 'text', (c) => c.notNull())
        .addColumn('attempt', 'integer', (c) => c.notNull().defaultTo(0))
        .addColumn('worker', 'text')
        .addColumn('heartbeat', 'timestamptz')
        .addColumn('progress', 'jsonb')
        .addColumn('error', 'jsonb')
        .addColumn('result', 'jsonb')
        .addColumn('created_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .addColumn('finished_at', 'timestamptz')
        .execute();
      await schema.createIndex('tasks_open').on('tasks').columns(['state', 'id']).execute();
      await schema
        .createTable('transmittals')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('job', 'text', (c) => c.notNull().references('jobs.id').onDelete('cascade'))
        .addColumn('version', 'integer', (c) => c.notNull())
        .addColumn('target', 'text', (c) => c.notNull())
        .addColumn('file_name', 'text', (c) => c.notNull())
        .addColumn('bytes', 'bigint', (c) => c.notNull())
        .addColumn('file', 'text', (c) => c.notNull())
        .addColumn('manifest', 'text', (c) => c.notNull())
        .addColumn('read_back', 'jsonb', (c) => c.notNull())
        .addColumn('parts', 'integer', (c) => c.notNull())
        .addColumn('triangles', 'integer', (c) => c.notNull())
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(now))
        .execute();
      await schema
        .createTable('memo')
        .addColumn('key', 'text', (c) => c.primaryKey())
        .addColumn('value', 'jsonb', (c) => c.notNull())
        .execute();
    },
  },
  '002-sharing-and-sweeping': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      // A copied job has the same sources under the same ids, so that all that its steps name is found.
      await schema.alterTable('sources').dropConstraint('sources_pkey').execute();
      await schema.alterTable('sources').addPrimaryKeyConstraint('sources_key', ['job', 'id']).execute();
      await schema.alterTable('jobs').addColumn('picture', 'text').addColumn('view', 'jsonb').execute();
      await schema
        .alterTable('memo')
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await schema.createIndex('tasks_of_job').on('tasks').columns(['job', 'id']).execute();
      await schema.createIndex('transmittals_of_job').on('transmittals').columns(['job', 'made_at']).execute();
    },
  },
  '003-indexes': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      // What is asked for with every change of a job: the latest task of each kind, and the versions made from one.
      await schema.createIndex('tasks_latest').on('tasks').columns(['job', 'kind', 'id']).execute();
      await schema.createIndex('versions_made_from').on('versions').columns(['job', 'parent', 'number']).execute();
      await schema.createIndex('jobs_changed').on('jobs').column('updated_at').execute();
      await schema.createIndex('memo_made').on('memo').column('made_at').execute();
    },
  },
  '004-revisions': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      // Each upload so far is the first revision of a slot that bears its id: what steps say of it goes on to hold.
      await schema
        .alterTable('sources')
        .addColumn('slot', 'text')
        .addColumn('revision', 'integer', (c) => c.notNull().defaultTo(1))
        .execute();
      await sql`update sources set slot = id`.execute(db);
      await schema
        .alterTable('sources')
        .alterColumn('slot', (c) => c.setNotNull())
        .execute();
      await schema.createIndex('sources_of_slot').on('sources').columns(['job', 'slot', 'revision']).execute();
      // Which part of one revision is which of another, where keys do not tell.
      await schema
        .alterTable('versions')
        .addColumn('matches', 'jsonb', (c) => c.notNull().defaultTo(sql`'{}'::jsonb`))
        .execute();
      // What a step says is kept once, however many versions have it.
      await schema
        .createTable('step_contents')
        .addColumn('hash', 'text', (c) => c.primaryKey())
        .addColumn('content', 'jsonb', (c) => c.notNull())
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
    },
  },
  '005-templates-and-actors': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      // Until people sign in there is one of them.
      for (const table of ['versions', 'tasks', 'transmittals'])
        await schema
          .alterTable(table)
          .addColumn('actor', 'text', (c) => c.notNull().defaultTo(ACTOR))
          .execute();
      await schema
        .createTable('templates')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('steps', 'jsonb', (c) => c.notNull())
        .addColumn('sources', 'jsonb', (c) => c.notNull())
        .addColumn('every', 'boolean', (c) => c.notNull().defaultTo(false))
        .addColumn('actor', 'text', (c) => c.notNull().defaultTo(ACTOR))
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await sql`create unique index templates_every on templates (every) where every`.execute(db);
    },
  },
  '006-transmittals-of-several-files': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      await schema
        .alterTable('transmittals')
        .addColumn('name', 'text')
        .addColumn('files', 'jsonb', (c) => c.notNull().defaultTo(sql`'[]'::jsonb`))
        .execute();
      // Each so far is one file.
      await sql`update transmittals set
        name = regexp_replace(file_name, '\\.[^.]*$', ''),
        files = jsonb_build_array(jsonb_build_object('name', file_name, 'mime', 'model/gltf-binary', 'bytes', bytes, 'blob', file))`.execute(
        db,
      );
      await schema
        .alterTable('transmittals')
        .alterColumn('name', (c) => c.setNotNull())
        .execute();
      await schema.alterTable('transmittals').dropColumn('file_name').dropColumn('bytes').dropColumn('file').execute();
    },
  },
  '007-own-materials': {
    async up(db: Kysely<unknown>) {
      await db.schema
        .createTable('materials')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull().unique())
        .addColumn('content', 'jsonb', (c) => c.notNull())
        .addColumn('actor', 'text', (c) => c.notNull().defaultTo(ACTOR))
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
    },
  },
  '008-targets': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      await schema.alterTable('jobs').addColumn('targets', 'jsonb').execute();
      await schema
        .alterTable('transmittals')
        .addColumn('outputs', 'jsonb', (c) => c.notNull().defaultTo(sql`'[]'::jsonb`))
        .addColumn('folder', 'text')
        .execute();
      // Each so far went to one target, as everything does where nothing is said.
      await sql`update transmittals set outputs = jsonb_build_array(jsonb_build_object(
        'name', target,
        'settings', ${JSON.stringify(PLAIN_TARGET)}::jsonb || jsonb_build_object('format', target),
        'way', '{"unit": "m", "up": "y"}'::jsonb,
        'files', (select coalesce(jsonb_agg(file ->> 'name'), '[]'::jsonb) from jsonb_array_elements(files) file),
        'parts', parts, 'triangles', triangles, 'readBack', read_back))`.execute(db);
      await schema
        .alterTable('transmittals')
        .dropColumn('target')
        .dropColumn('read_back')
        .dropColumn('parts')
        .dropColumn('triangles')
        .execute();
    },
  },
  '009-reports': {
    async up(db: Kysely<unknown>) {
      // Those that were made before have none.
      await db.schema.alterTable('transmittals').addColumn('report', 'text').execute();
    },
  },
  '010-batches': {
    async up(db: Kysely<unknown>) {
      const { schema } = db;
      await schema
        .createTable('batches')
        .addColumn('id', 'text', (c) => c.primaryKey())
        .addColumn('name', 'text', (c) => c.notNull())
        .addColumn('targets', 'jsonb', (c) => c.notNull())
        .addColumn('folder', 'boolean', (c) => c.notNull())
        .addColumn('actor', 'text', (c) => c.notNull().defaultTo(ACTOR))
        .addColumn('made_at', 'timestamptz', (c) => c.notNull().defaultTo(sql`now()`))
        .execute();
      await schema
        .alterTable('jobs')
        .addColumn('batch', 'text', (c) => c.references('batches.id').onDelete('set null'))
        .addColumn('batch_place', 'integer')
        .addColumn('sends', 'text')
        .execute();
      await schema.createIndex('jobs_of_batch').on('jobs').columns(['batch', 'batch_place']).execute();
    },
  },
};

/** Settings of a target at the time of that migration. */
const PLAIN_TARGET = {
  coordinates: 'local',
  hierarchy: 'kept',
  names: 'kept',
  pivots: 'kept',
  cameras: 'kept',
  lights: 'kept',
  movements: 'kept',
  lines: 'kept',
  metadata: 'kept',
  pictures: 'kept',
};

/** Who does all, until people sign in. */
const ACTOR = 'owner';
