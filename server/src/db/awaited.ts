/**
 * What steps say of sources that are not in the job: it came with a template or from another job, and waits for a source of the same
 * file name.
 */
import { slotsIn, stepsFor } from '@noble-prism/core/preparation/template';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Db } from './connect.ts';

/**
 * The steps with what waited for some sources said of these; undefined where nothing did. What the sources that steps name were called is
 * known as long as the template or the job is there that they came from.
 */
export async function stepsWith(
  trx: Db,
  job: string,
  steps: readonly Step[],
  received: readonly NamedSource[],
): Promise<Step[] | undefined> {
  const own = await trx.selectFrom('sources').select('slot').distinct().where('job', '=', job).execute();
  const known = new Set(own.map(({ slot }) => slot));
  const strange = [...slotsIn(steps)].filter((slot) => slot !== '' && !known.has(slot));
  if (strange.length === 0) return undefined;
  const names = new Set(received.map(({ name }) => name));
  const from = (await calledSo(trx, strange)).filter(({ name }) => names.has(name));
  return from.length > 0 ? stepsFor(steps, from, received) : undefined;
}

/** What slots of other jobs are called, and those that templates name. */
async function calledSo(trx: Db, slots: readonly string[]): Promise<NamedSource[]> {
  const templates = await trx.selectFrom('templates').select('sources').execute();
  const elsewhere = await trx
    .selectFrom('sources')
    .select(['slot as id', 'name'])
    .where('slot', 'in', slots)
    .orderBy('revision')
    .execute();
  const wanted = new Set(slots);
  return [...elsewhere, ...templates.flatMap(({ sources }) => sources.filter(({ id }) => wanted.has(id)))];
}
