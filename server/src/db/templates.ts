/** Templates: preparations kept without sources, given to jobs and to every new one. */
import { randomUUID } from 'node:crypto';
import { PrismError } from '@noble-prism/core/errors';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { stepsFor } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import type * as Wire from '@noble-prism/wire/job';
import type { Db } from './connect.ts';
import { keepSteps, stepsOf } from './steps.ts';

type Template = Wire.Template<Date>;

/** All, by name. */
export async function listTemplates(db: Db): Promise<Template[]> {
  const rows = await db
    .selectFrom('templates')
    .select(['id', 'name', 'steps', 'sources', 'every', 'made_at'])
    .orderBy('name')
    .orderBy('made_at')
    .execute();
  const steps = await stepsOf(
    db,
    rows.map((row) => row.steps),
  );
  return rows.map((row, i) => ({ ...row, steps: steps[i] }));
}

export async function addTemplate(
  db: Db,
  { name, steps, sources }: Pick<Template, 'name' | 'steps' | 'sources'>,
): Promise<string> {
  const id = randomUUID();
  await db.transaction().execute(async (trx) => {
    await trx
      .insertInto('templates')
      .values({
        id,
        name,
        steps: JSON.stringify(await keepSteps(trx, steps)),
        sources: JSON.stringify(sources),
        every: false,
      })
      .execute();
  });
  return id;
}

/** Renames a template, or has every new job begin with it, and with no other. @throws PrismError `not-found` */
export async function changeTemplate(db: Db, id: string, change: { name?: string; every?: boolean }): Promise<void> {
  await db.transaction().execute(async (trx) => {
    if (change.every) await trx.updateTable('templates').set({ every: false }).where('every', '=', true).execute();
    const { numUpdatedRows } = await trx.updateTable('templates').set(change).where('id', '=', id).executeTakeFirst();
    if (numUpdatedRows === 0n) throw noTemplate();
  });
}

/** @throws PrismError `not-found` */
export async function deleteTemplate(db: Db, id: string): Promise<void> {
  const { numDeletedRows } = await db.deleteFrom('templates').where('id', '=', id).executeTakeFirst();
  if (numDeletedRows === 0n) throw noTemplate();
}

/** What a new job begins with: a template, or the usual steps. @throws PrismError `not-found` */
export async function firstSteps(db: Db, template?: string | null): Promise<Step[]> {
  if (template === null) return defaultSteps();
  const all = await listTemplates(db);
  const found = template === undefined ? all.find(({ every }) => every) : all.find(({ id }) => id === template);
  if (!found && template !== undefined) throw noTemplate();
  return found ? stepsFor(found.steps, found.sources, []) : defaultSteps();
}

function noTemplate(): PrismError {
  return new PrismError('not-found', 'There is no such template; it may have been deleted.');
}
