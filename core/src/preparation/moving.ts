/** What rules say of the sources of one job, said of the sources with the same file names in another one. */
import type { Selector } from '../select/selector.ts';

/** A source as rules name it, and as people do. */
export interface NamedSource {
  /** Of the slot. */
  id: string;
  name: string;
}

/** Slots of one job by those of another; what has no source of the same name is in none. */
export function slotsBetween(from: readonly NamedSource[], to: readonly NamedSource[]): ReadonlyMap<string, string> {
  const slots = new Map<string, string>();
  for (const { id, name } of from) {
    const there = to.find((source) => source.name === name);
    if (there) slots.set(id, there.id);
  }
  return slots;
}

/** Says another slot for one; those that nothing is known of stay. */
export type SlotChange = (slot: string) => string;

/** The change from slots of one job to those of another. */
export const changeBetween =
  (slots: ReadonlyMap<string, string>): SlotChange =>
  (slot) =>
    slots.get(slot) ?? slot;

export function movedKey(key: string, change: SlotChange): string {
  const end = key.indexOf(':');
  return `${change(key.slice(0, end))}${key.slice(end)}`;
}

/** A rule that is made of no others. */
export function movedRule(rule: Selector, change: SlotChange): Selector {
  if (rule.by === 'source') return { ...rule, sources: rule.sources.map(change) };
  if (rule.by !== 'picked') return rule;
  return { ...rule, keys: rule.keys.map((key) => movedKey(key, change)) };
}

/** The same for rules one by one. */
export function movingRules(from: readonly NamedSource[], to: readonly NamedSource[]): (rule: Selector) => Selector {
  const change = changeBetween(slotsBetween(from, to));
  return (rule) => movedRule(rule, change);
}
