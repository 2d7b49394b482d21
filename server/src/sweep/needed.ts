/**
 * Which blobs and which results of heavy work are needed: what any version of any job, any transmittal and any task under way refers to.
 */
import { sql } from 'kysely';
import { evaluateNow, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { keyOfSlots, mergeSlots } from '@noble-prism/core/preparation/slots';
import type { Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';
import type { Db } from '../db/connect.ts';
import { DatabaseMemo } from '../db/memo.ts';
import { stepsOf } from '../db/steps.ts';
import { storedScene } from '../services/storage.ts';

export interface Needed {
  blobs: Set<string>;
  /** Keys of results. */
  results: Set<string>;
}

/** Names of blobs in any text: scenes and results refer to them by these, wherever they stand. */
function hashesIn(text: string): string[] {
  return text.match(/\b[0-9a-f]{64}\b/g) ?? [];
}

export async function needed(db: Db, blobs: BlobStore): Promise<Needed> {
  const out: Needed = { blobs: new Set(), results: new Set() };
  const add = (hash: string | null) => hash && out.blobs.add(hash);

  const jobs = await db.selectFrom('jobs').select(['id', 'picture']).execute();
  for (const { picture } of jobs) add(picture);
  for (const sent of await db.selectFrom('transmittals').select(['files', 'manifest', 'report']).execute()) {
    for (const { blob } of sent.files) add(blob);
    add(sent.manifest);
    add(sent.report);
  }
  const open = await db.selectFrom('tasks').select('payload').where('state', 'in', ['queued', 'running']).execute();
  for (const { payload } of open) for (const hash of hashesIn(JSON.stringify(payload))) add(hash);
  // Own materials name their pictures, and so do the copies that jobs and templates have of them.
  for (const { content } of await db.selectFrom('materials').select('content').execute())
    for (const hash of hashesIn(JSON.stringify(content))) add(hash);
  const schedules = await db
    .selectFrom('step_contents')
    .select('content')
    .where(sql<boolean>`content -> 'parameters' ? 'own'`)
    .execute();
  for (const { content } of schedules) for (const hash of hashesIn(JSON.stringify(content))) add(hash);
  for (const { id } of jobs) await neededByJob(id, db, blobs, out);
  return out;
}

async function neededByJob(job: string, db: Db, blobs: BlobStore, out: Needed): Promise<void> {
  const versions = await db
    .selectFrom('versions')
    .select(['sources', 'steps'])
    .where('job', '=', job)
    .orderBy('number')
    .execute();
  const steps = await stepsOf(
    db,
    versions.map((version) => version.steps),
  );
  const sources = new Map(
    (await db.selectFrom('sources').selectAll().where('job', '=', job).execute()).map((row) => [row.id, row]),
  );
  // (1) The files, and whatever their scenes name.
  const scenes = new Map<string, Scene>();
  for (const { blob, survey, scene } of sources.values())
    for (const hash of [blob, survey, scene]) {
      if (!hash) continue;
      out.blobs.add(hash);
      if (hash === blob) continue;
      const stored = await storedScene(blobs, hash);
      if (!stored) continue;
      const { nodes, ...beside } = stored;
      for (const inner of hashesIn(JSON.stringify([beside, nodes.tables.words.slice()]))) out.blobs.add(inner);
      if (hash === scene) scenes.set(hash, stored);
    }
  // (2) The results that the steps of each version look up, and whatever those name.
  const memo = new DatabaseMemo(db);
  const scenesAfter = new SceneMemo();
  const results = new Map<string, unknown>();
  for (const [i, version] of versions.entries()) {
    const shown = version.sources.flatMap((id) => {
      const row = sources.get(id);
      return row?.scene && scenes.has(row.scene) ? [{ slot: row.slot, scene: row.scene }] : [];
    });
    const base = mergeSlots(shown.map(({ slot, scene }) => ({ slot, scene: scenes.get(scene) as Scene })));
    const lookup = (key: string) => {
      out.results.add(key);
      return results.get(key);
    };
    // A step plans its work on what the one before made: as often as something more is known.
    for (let asked = new Set<string>(); ;) {
      const { missing } = evaluateNow(base, keyOfSlots(shown), steps[i], lookup, scenesAfter);
      const keys = missing.map(({ key }) => key).filter((key) => !asked.has(key));
      asked = new Set([...asked, ...keys]);
      const known = await memo.get(keys);
      for (const [key, value] of known) results.set(key, value);
      if (known.size === 0) break;
    }
  }
  for (const value of results.values()) for (const hash of hashesIn(JSON.stringify(value))) out.blobs.add(hash);
}
