/** The history of what was sent. */
import { PrismError } from '@noble-prism/core/errors';
import type { Insertable } from 'kysely';
import type { Db } from './connect.ts';
import type { TransmittalsTable } from './tables.ts';

export async function addTransmittal(db: Db, transmittal: Insertable<TransmittalsTable>): Promise<void> {
  // A retried task writes its transmittal under the same id.
  await db
    .insertInto('transmittals')
    .values(transmittal)
    .onConflict((conflict) => conflict.column('id').doNothing())
    .execute();
}

export function listTransmittals(db: Db, job: string) {
  return db.selectFrom('transmittals').selectAll().where('job', '=', job).orderBy('made_at', 'desc').execute();
}

/** @throws PrismError `not-found` */
export async function findTransmittal(db: Db, id: string) {
  const row = await db.selectFrom('transmittals').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw new PrismError('not-found', 'There is no such transmittal.');
  return row;
}

/** Takes a transmittal out of the history; its files go with the next sweep. @throws PrismError `not-found` */
export async function deleteTransmittal(db: Db, job: string, id: string): Promise<void> {
  const { numDeletedRows } = await db
    .deleteFrom('transmittals')
    .where('job', '=', job)
    .where('id', '=', id)
    .executeTakeFirst();
  if (numDeletedRows === 0n) throw new PrismError('not-found', 'There is no such transmittal.');
}
