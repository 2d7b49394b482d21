/** Which of several models that came together are newer revisions of which sources: those that are called like them. */
import { lastOf } from './paths.ts';

/** A source of the job, by the file that is shown of it. */
export interface ShownSource {
  slot: string;
  name: string;
}

const alike = (one: string, other: string) => lastOf(one).toLowerCase() === lastOf(other).toLowerCase();

/** Slot of the source that each file is called like; undefined for those that are called like none. */
export function slotsByName(names: readonly string[], shown: readonly ShownSource[]): (string | undefined)[] {
  return names.map((name) => shown.find((source) => alike(source.name, name))?.slot);
}

/**
 * The same for files that came as the new revision of one source: it is the one that is called like it, or else the only one that is
 * called like none. Undefined where that is not told by the names.
 */
export function slotsOfRevision(
  names: readonly string[],
  slot: string,
  shown: readonly ShownSource[],
): (string | undefined)[] | undefined {
  const slots = slotsByName(names, shown);
  if (slots.includes(slot)) return slots;
  const open = slots.flatMap((known, i) => (known === undefined ? [i] : []));
  if (open.length !== 1) return undefined;
  return slots.with(open[0], slot);
}
