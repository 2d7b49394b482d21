/** Gives equal names numbers, so that each is there once. */
import { composedName } from './replace.ts';

/**
 * New names for those that are there before; the first of each keeps its own.
 * @param names all that must be different, in order. Names that look the same count as the same
 * @param mayChange false for those that keep their name, whatever the others are called
 */
export function uniqueNames(names: readonly string[], mayChange: (index: number) => boolean): Map<number, string> {
  const taken = new Set<string>();
  const next = new Map<string, number>();
  const out = new Map<number, string>();
  // What stays is taken before anything is given.
  names.forEach((name, index) => {
    if (!mayChange(index)) taken.add(composedName(name));
  });
  const all = new Set(names.map(composedName));
  names.forEach((name, index) => {
    if (!mayChange(index)) return;
    const wanted = composedName(name);
    if (!taken.has(wanted)) {
      taken.add(wanted);
      return;
    }
    let number = next.get(wanted) ?? 2;
    while (taken.has(`${wanted} ${number}`) || all.has(`${wanted} ${number}`)) number++;
    next.set(wanted, number + 1);
    taken.add(`${wanted} ${number}`);
    out.set(index, `${name} ${number}`);
  });
  return out;
}
