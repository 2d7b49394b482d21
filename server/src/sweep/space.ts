/** How much space the data take: blobs, uploads under way, database. */
import { join } from 'node:path';
import { sizeOf } from '@noble-prism/node/blobSweep';
import type { Space } from '@noble-prism/wire/space';
import { sql } from 'kysely';
import type { Db } from '../db/connect.ts';

export async function spaceUsed(db: Db, dataDir: string, latest: Space['latest']): Promise<Space> {
  const { rows } = await sql<{ size: string }>`select pg_database_size(current_database()) as size`.execute(db);
  return {
    used: await sizeOf(join(dataDir, 'blobs')),
    uploads: await sizeOf(join(dataDir, 'uploads')),
    database: Number(rows[0].size),
    ...(latest ? { latest } : {}),
  };
}
