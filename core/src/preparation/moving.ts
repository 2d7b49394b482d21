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

/** What is said of sources and of their rows, said otherwise. */
export interface Moving {
  /** Another slot for one; those that nothing is known of stay. */
  slot(slot: string): string;
  /** Another key for one. */
  key(key: string): string;
}

/** Other slots, and the same paths below them. */
export const toSlots = (slot: (slot: string) => string): Moving => ({
  slot,
  key(key) {
    const end = key.indexOf(':');
    return `${slot(key.slice(0, end))}${key.slice(end)}`;
  },
});

/** From slots of one job to those of another. */
export const between = (from: readonly NamedSource[], to: readonly NamedSource[]): Moving => {
  const slots = slotsBetween(from, to);
  return toSlots((slot) => slots.get(slot) ?? slot);
};

/** A rule that is made of no others. */
export function movedRule(rule: Selector, { slot, key }: Moving): Selector {
  if (rule.by === 'source') return { ...rule, sources: rule.sources.map(slot) };
  return rule.by === 'picked' ? { ...rule, keys: rule.keys.map(key) } : rule;
}
