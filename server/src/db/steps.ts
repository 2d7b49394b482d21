/**
 * The steps of versions. A version keeps which steps it has and which of them are on; what each says is kept once under its hash, so that
 * a thousand versions with ten thousand picked parts take the room of one.
 */
import { webcrypto } from 'node:crypto';
import { canonicalJson } from '@noble-prism/core/scene/hash';
import { isNewer, broughtUp } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Db } from './connect.ts';
import type { StepContent, StepRef } from './tables.ts';

/** Keeps what the steps say, and returns what a version keeps of them. Within the transaction that writes the version. */
export async function keepSteps(trx: Db, steps: readonly Step[]): Promise<StepRef[]> {
  const contents = new Map<string, string>();
  const refs: StepRef[] = [];
  for (const { id, on, ...content } of steps) {
    const text = canonicalJson(content);
    // Beside this thread: a picked set may be megabytes, and others wait meanwhile.
    const digest = await webcrypto.subtle.digest('SHA-256', Buffer.from(text));
    const hash = Buffer.from(digest).toString('hex');
    contents.set(hash, text);
    refs.push({ id, on, content: hash });
  }
  if (contents.size === 0) return refs;
  const known = await trx
    .selectFrom('step_contents')
    .select('hash')
    .where('hash', 'in', [...contents.keys()])
    .execute();
  for (const { hash } of known) contents.delete(hash);
  if (contents.size > 0)
    await trx
      .insertInto('step_contents')
      .values([...contents].map(([hash, content]) => ({ hash, content })))
      .onConflict((conflict) => conflict.column('hash').doNothing())
      .execute();
  return refs;
}

/** The steps of one version, or of several. What older versions of the program wrote holds the steps themselves. */
export async function stepsOf(db: Db, lists: readonly (readonly (StepRef | Step)[])[]): Promise<Step[][]> {
  const hashes = [
    ...new Set(lists.flatMap((list) => list.flatMap((step) => ('content' in step ? [step.content] : [])))),
  ];
  const contents = new Map<string, StepContent>();
  for (let at = 0; at < hashes.length; at += 1000) {
    const rows = await db
      .selectFrom('step_contents')
      .select(['hash', 'content'])
      .where('hash', 'in', hashes.slice(at, at + 1000))
      .execute();
    for (const { hash, content } of rows) contents.set(hash, content);
  }
  return lists.map((list) =>
    list.map((step) => {
      if (!('content' in step)) return asNow(step);
      const { id, on, content } = step;
      const found = contents.get(content);
      if (!found) throw new Error(`What step ${id} says is lost (${content}).`);
      return asNow({ id, on, ...found });
    }),
  );
}

/** A step as this program takes it; one that a newer program saved stays as it is, and is passed over where steps are applied. */
function asNow(step: Step): Step {
  return isNewer(step) ? step : broughtUp(step);
}
