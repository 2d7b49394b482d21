/** Own materials of the library: for all jobs. What a job uses of them it keeps a copy of. */
import { PrismError } from '@noble-prism/core/errors';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { Db } from './connect.ts';

/** All, in the order in which they were made. */
export async function listMaterials(db: Db): Promise<OwnMaterial[]> {
  const rows = await db.selectFrom('materials').select('content').orderBy('made_at').orderBy('id').execute();
  return rows.map(({ content }) => content);
}

/** Keeps a material, or what became of one. @throws PrismError `bad-parameters` where another one is called so */
export async function keepMaterial(db: Db, own: OwnMaterial): Promise<void> {
  const { id, name } = own.material;
  await db.transaction().execute(async (trx) => {
    const same = await trx.selectFrom('materials').select('id').where('name', '=', name).where('id', '!=', id).executeTakeFirst(); // prettier-ignore
    if (same) throw new PrismError('bad-parameters', `There is an own material “${name}” already. Give this one another name.`); // prettier-ignore
    const content = JSON.stringify(own);
    await trx
      .insertInto('materials')
      .values({ id, name, content })
      .onConflict((conflict) => conflict.column('id').doUpdateSet({ name, content }))
      .execute();
  });
}

/** @throws PrismError `not-found` */
export async function deleteMaterial(db: Db, id: string): Promise<void> {
  const { numDeletedRows } = await db.deleteFrom('materials').where('id', '=', id).executeTakeFirst();
  if (numDeletedRows === 0n) throw new PrismError('not-found', 'There is no such material; it may have been deleted.');
}
