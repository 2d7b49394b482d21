/** A change of a list of steps as data, so that it can be kept, and made again on top of what somebody else changed meanwhile. */
import type { Step } from '@noble-prism/core/steps/kinds';

/** What a list was, and what it became. */
export interface Changed<T> {
  before: readonly T[];
  after: readonly T[];
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The same change of another list: what was taken away, changed, added and moved by it is so there too, as far as it is there. */
export function changedSteps({ before, after }: Changed<Step>): (list: readonly Step[]) => Step[] {
  return (list) => again(before, after, list, ({ id }) => id);
}

/** The same of sources, which are their own names. */
export function changedSources({ before, after }: Changed<string>): (list: readonly string[]) => string[] {
  return (list) => again(before, after, list, (id) => id);
}

function again<T>(before: readonly T[], after: readonly T[], list: readonly T[], idOf: (one: T) => string): T[] {
  if (same(list, before)) return [...after];
  const [was, is] = [byId(before, idOf), byId(after, idOf)];
  const kept = list.flatMap((one) => {
    const id = idOf(one);
    if (was.has(id) && !is.has(id)) return [];
    const next = is.get(id);
    return next !== undefined && !same(next, was.get(id)) ? [next] : [one];
  });
  const order = (some: readonly T[]) => some.map(idOf).filter((id) => was.has(id) && is.has(id));
  const out = same(order(before), order(after)) ? kept : inOrder(kept, order(after), idOf);
  // What is new stands behind what it was put behind.
  after.forEach((one, i) => {
    const id = idOf(one);
    if (was.has(id) || out.some((other) => idOf(other) === id)) return;
    const above = after.slice(0, i).findLast((other) => out.some((there) => idOf(there) === idOf(other)));
    const at =
      above === undefined ? (i === 0 ? 0 : out.length) : out.findIndex((there) => idOf(there) === idOf(above)) + 1;
    out.splice(at, 0, one);
  });
  return out;
}

const byId = <T>(list: readonly T[], idOf: (one: T) => string) => new Map(list.map((one) => [idOf(one), one]));

/** Those that are named, in that order, on the places that they have among the others. */
function inOrder<T>(list: readonly T[], ids: readonly string[], idOf: (one: T) => string): T[] {
  const there = byId(list, idOf);
  const sorted = ids.flatMap((id) => there.get(id) ?? []);
  const moved = new Set(sorted.map(idOf));
  let next = 0;
  return list.map((one) => (moved.has(idOf(one)) ? sorted[next++] : one));
}
