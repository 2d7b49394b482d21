/**
 * What a rule takes hold of: rows, and of these single slots where it speaks of materials. A slot is what carries one material on a part.
 * A rule about a material holds for the slots that have it, and any other rule for all slots of the rows that it names; the same holds
 * within rules that are made of rules.
 */
import type { Scene } from '../scene/types.ts';
import { textsMatching } from '../select/manyPatterns.ts';
import { wantedLists } from '../select/material.ts';
import { wantedWords } from '../select/rule.ts';
import { ruleKind } from '../select/rules.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/selector.ts';
import { factsOf } from '../scene/facts.ts';
import { GONE } from '../scene/nodes.ts';
import type { Slots } from './slots.ts';

export interface Claim {
  /** Whether a slot of a row is taken. */
  takes(row: number, slot: number): boolean;
  /** True where slots of one row may differ. */
  bySlot: boolean;
  /**
   * True where rows of the same layer, class, source, materials and shown slots are taken alike; such a rule need not be tried on each of
   * them.
   */
  alike: boolean;
  /** 1 for each row that may be taken, of a rule that names single rows; any row may where it is absent. */
  mask?: Uint8Array;
}

/** What several rules make of a scene. Names are looked for all at once. */
export function claimsOf(scene: Scene, selectors: readonly Selector[], slots: Slots): Claim[] {
  const names = new NamesFound(scene, selectors);
  return selectors.map((selector) => claimOf(scene, selector, slots, names));
}

function claimOf(scene: Scene, selector: Selector, slots: Slots, names: NamesFound): Claim {
  if (selector.by === 'all') return { takes: () => true, bySlot: false, alike: true };
  if (selector.by === 'material') return ofMaterial(scene, selector, slots);
  if ('of' in selector)
    return combined(
      selector.by,
      selector.of.map((inner) => claimOf(scene, inner, slots, names)),
    );
  const words = ruleKind(selector.by).words?.(selector);
  if (words) {
    const column = scene.nodes.columns[words.column];
    const wanted = wantedWords(scene.nodes, words.of);
    return { takes: (row) => wanted[column[row]] === 1, bySlot: false, alike: true };
  }
  const mask = selector.by === 'name' ? names.mask(selector) : select(scene, selector).mask;
  return { takes: (row) => mask[row] === 1, bySlot: false, alike: false, mask };
}

function ofMaterial(scene: Scene, rule: Selector & { by: 'material' }, slots: Slots): Claim {
  const { lists } = scene.nodes.tables;
  const { has, wanted, column } = wantedLists(scene, rule);
  const takes = (row: number, slot: number) =>
    has[column[row]] === 1 && wanted.has(lists.get(column[row])[slot]) && slots.isShown(row, slot);
  return { takes, bySlot: true, alike: true };
}

function combined(by: 'and' | 'or' | 'not', claims: readonly Claim[]): Claim {
  const some = (row: number, slot: number) => claims.some(({ takes }) => takes(row, slot));
  const every = (row: number, slot: number) => claims.every(({ takes }) => takes(row, slot));
  const mask = by === 'and' ? claims.find((claim) => claim.mask)?.mask : undefined;
  return {
    takes: by === 'and' ? every : by === 'or' ? some : (row, slot) => !some(row, slot),
    bySlot: claims.some(({ bySlot }) => bySlot),
    alike: claims.every(({ alike }) => alike),
    ...(mask ? { mask } : {}),
  };
}

type NameSelector = Selector & { by: 'name' };

/** The rows of all rules about names among some selectors, in one pass over the names. */
class NamesFound {
  /** Rows by column and pattern. */
  readonly #found = new Map<string, number[]>();

  constructor(
    readonly scene: Scene,
    selectors: readonly Selector[],
  ) {
    const asked: NameSelector[] = [];
    const gather = (selector: Selector): void => {
      if ('of' in selector) selector.of.forEach(gather);
      else if (selector.by === 'name') asked.push(selector);
    };
    selectors.forEach(gather);
    const { kind } = scene.nodes.columns;
    for (const column of ['name', 'received'] as const) {
      const patterns = [...new Set(asked.filter((rule) => columnOf(rule) === column).map(({ pattern }) => pattern))];
      if (patterns.length === 0) continue;
      const rows = patterns.map((): number[] => []);
      const names = scene.nodes.columns[column];
      const found = textsMatching(scene.nodes.tables.texts, names, patterns);
      for (let row = 0; row < names.length; row++)
        if (kind[row] !== GONE) for (const i of found(names[row])) rows[i].push(row);
      patterns.forEach((pattern, i) => this.#found.set(`${column} ${pattern}`, rows[i]));
    }
  }

  /** 1 for each row that a rule names. */
  mask(rule: NameSelector): Uint8Array {
    const mask = new Uint8Array(this.scene.nodes.rows);
    const waiting = [...(this.#found.get(`${columnOf(rule)} ${rule.pattern}`) ?? [])];
    const { start, list } = factsOf(this.scene).children;
    for (let row = waiting.pop(); row !== undefined; row = waiting.pop()) {
      if (mask[row] === 1) continue;
      mask[row] = 1;
      if (rule.reach !== 'itself') for (let i = start[row + 1]; i < start[row + 2]; i++) waiting.push(list[i]);
    }
    return mask;
  }
}

const columnOf = ({ as }: NameSelector) => (as === 'received' ? 'received' : 'name');
