/** Why a part has the materials that it has: the rules that name it, in their order, and which of them won. */
import { materialOfRule } from './rule.ts';
import type { OwnMaterial } from './library/own.ts';
import { NO_RULE } from './schedule.ts';
import type { Schedule } from './schedule.ts';

/** Slots of a part that the same rules name: most parts have one such group. */
export interface Reason {
  slots: number[];
  /** Ids of the materials that they had before the schedule, each once. */
  had: string[];
  /** Numbers of the rules that name them, in the order of precedence: the last one won. */
  rules: number[];
  /** Triangles that show it. */
  triangles: number;
}

/** @returns nothing for a row that the schedule is not about */
export function reasonsFor(schedule: Schedule, row: number): Reason[] {
  const { scene, slots } = schedule;
  const outcome = schedule.outcomeOf(row);
  if (!outcome) return [];
  const { lists, words } = scene.nodes.tables;
  const list = lists.get(scene.nodes.columns.materials[row]);
  const groups = new Map<string, Reason>();
  for (let slot = 0; slot < outcome.owners.length; slot++) {
    if (!slots.isShown(row, slot)) continue;
    const rules = outcome.named.filter((named) => named.slots?.includes(slot) ?? true).map(({ rule }) => rule);
    const key = rules.join();
    let group = groups.get(key);
    if (!group) groups.set(key, (group = { slots: [], had: [], rules, triangles: 0 }));
    const had = list[slot] === undefined ? 'none' : words.get(list[slot]);
    group.slots.push(slot);
    if (!group.had.includes(had)) group.had.push(had);
    group.triangles += slots.triangles(row)[slot] ?? 0;
  }
  return [...groups.values()].sort((a, b) => b.triangles - a.triangles);
}

/** Materials that the parts of a lot have after the schedule, one for each slot; those they had where no rule won. */
export function materialsAfter(schedule: Schedule, lot: number, own: readonly OwnMaterial[] = []): string[] {
  const { scene, rules, lots } = schedule;
  const { row } = lots[lot];
  const { materials, receivedMaterials } = scene.nodes.columns;
  const { lists, words } = scene.nodes.tables;
  const [now, received] = [lists.get(materials[row]), lists.get(receivedMaterials[row])];
  return Array.from(schedule.ownersIn(lot), (rule, slot) => {
    const isThere = rule !== NO_RULE && materialOfRule(scene, rules[rule].material, own) !== undefined;
    if (isThere) return rules[rule].material;
    // What the source gave, as long as the slots are those of the source.
    const list = rule !== NO_RULE && received.length === now.length ? received : now;
    return list[slot] === undefined ? 'none' : words.get(list[slot]);
  });
}
