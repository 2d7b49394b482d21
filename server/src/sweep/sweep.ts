/**
 * Cleans up: results, sources and blobs that nothing refers to, and uploads that were given up. What is younger than a day stays, since
 * somebody may be about to refer to it.
 */
import { join } from 'node:path';
import type { BlobStore } from '@noble-prism/core/surroundings';
import { sweepBlobs, sweepFiles } from '@noble-prism/node/blobSweep';
import type { SpaceUsed } from '@noble-prism/node/blobSweep';
import { sql } from 'kysely';
import type { Db } from '../db/connect.ts';
import { needed } from './needed.ts';

export interface SweepResult {
  /** What is kept. */
  used: SpaceUsed;
  freed: SpaceUsed;
  /** Results of heavy work that were forgotten. */
  results: number;
  /** Rows of sources that no version has. */
  sources: number;
}

const DAY = 24 * 3600_000;

/** @param age milliseconds; what is younger stays */
export async function sweep(db: Db, blobs: BlobStore, dataDir: string, age = DAY): Promise<SweepResult> {
  const before = Date.now() - age;
  const uploads = await sweepFiles(join(dataDir, 'uploads'), before);
  // Made again where they are wanted again.
  const zips = await sweepFiles(join(dataDir, 'zips'), before);
  const orphans = await sql<{ id: string }>`
    delete from sources s
    where s.received_at < ${new Date(before)} and s.state <> 'reading'
      and not exists (select 1 from versions v where v.job = s.job and v.sources @> jsonb_build_array(s.id))
    returning id`.execute(db);
  await sql`
    delete from step_contents c
    where c.made_at < ${new Date(before)}
      and not exists (select 1 from versions v where v.steps @> jsonb_build_array(jsonb_build_object('content', c.hash)))
      and not exists (select 1 from templates t where t.steps @> jsonb_build_array(jsonb_build_object('content', c.hash)))`.execute(
    db,
  );
  const keep = await needed(db, blobs);
  // Results first; the blobs that they name go with the next sweep, when nobody can be reading the result any more.
  const named = new Set(keep.blobs);
  let forgotten = 0;
  const old = await db.selectFrom('memo').select(['key', 'value', 'made_at']).execute();
  const spare: string[] = [];
  for (const { key, value, made_at } of old) {
    for (const hash of JSON.stringify(value).match(/\b[0-9a-f]{64}\b/g) ?? []) named.add(hash);
    if (!keep.results.has(key) && made_at.getTime() < before) spare.push(key);
  }
  for (let at = 0; at < spare.length; at += 5000) {
    const { numDeletedRows } = await db
      .deleteFrom('memo')
      .where('key', 'in', spare.slice(at, at + 5000))
      .executeTakeFirst();
    forgotten += Number(numDeletedRows);
  }
  const { files, bytes, freed } = await sweepBlobs(join(dataDir, 'blobs'), (hash) => named.has(hash), before);
  return {
    used: { files, bytes },
    freed: { files: freed.files + uploads.files + zips.files, bytes: freed.bytes + uploads.bytes + zips.bytes },
    results: forgotten,
    sources: orphans.rows.length,
  };
}
