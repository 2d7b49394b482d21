/**
 * Lots: parts that the rules of a schedule cannot tell apart. Rules about layers, classes, sources and materials are tried once for each
 * lot; a rule that names single rows parts those lots of which it takes some. A building has a few hundred lots where it has a hundred
 * thousand parts, and what has to be known of a schedule (who wins, how many parts, whom they are taken from) is known by lot.
 *
 * Tried first: a byte mask for each rule and a pass over all parts for each of 200 rules, which takes eight times as long.
 */
import type { Claim } from './claims.ts';
import type { Slots } from './slots.ts';

/** Slots that a rule takes: all of them where nothing is said. */
export interface Named {
  rule: number;
  slots?: readonly number[];
}

export interface Lot {
  /** One of its parts, for all of them. */
  row: number;
  /** Parts, and their triangles by slot. */
  parts: number;
  triangles: Float64Array;
  /** The lot that it was taken from by its last rule. */
  up: Lot | undefined;
  named: readonly Named[];
}

/** Places of a hash table; lots are mostly fewer. */
const PLACES = 1 << 14;

/** @returns lots, and the number of the lot of each part */
export function lotsOf(
  parts: Int32Array,
  claims: readonly (Claim | undefined)[],
  slots: Slots,
): { lots: Lot[]; lotOf: Int32Array } {
  const lotOf = new Int32Array(parts.length);
  const lots: Lot[] = [];
  const make = (row: number, up: Lot | undefined, named: readonly Named[]) =>
    lots.push({ row, parts: 0, triangles: new Float64Array(slots.count(row)), up, named }) - 1;

  // (1) By what rules about layers, classes, sources and materials can tell.
  const ruled = [...claims.entries()].flatMap(([rule, claim]) => (claim ? [{ rule, claim }] : []));
  const { layer, class: classes, source, materials, receivedMaterials, mesh } = slots.nodes.columns;
  /** Of each lot: its part, and what its slots show. */
  const rows: number[] = [];
  const patterns: number[] = [];
  // What is known of a mesh is looked up once: there are far fewer of them than parts.
  const shapes = slots.nodes.tables.words.length;
  const patternOf = new Int32Array(shapes).fill(-1);
  const heads = new Int32Array(PLACES).fill(-1);
  const next: number[] = [];
  for (let i = 0; i < parts.length; i++) {
    const row = parts[i];
    let pattern = patternOf[mesh[row]];
    if (pattern < 0) pattern = patternOf[mesh[row]] = slots.pattern(row);
    const hash = Math.imul(layer[row], 31) ^ Math.imul(classes[row], 1009) ^ Math.imul(source[row], 65537) ^ Math.imul(materials[row], 7919) ^ pattern; // prettier-ignore
    const place = (hash ^ (hash >>> 16)) & (PLACES - 1);
    let lot = heads[place];
    for (; lot >= 0; lot = next[lot]) {
      const other = rows[lot];
      const isAlike =
        layer[row] === layer[other] &&
        classes[row] === classes[other] &&
        source[row] === source[other] &&
        materials[row] === materials[other] &&
        receivedMaterials[row] === receivedMaterials[other] &&
        pattern === patterns[lot];
      if (isAlike) break;
    }
    if (lot < 0) {
      const named = ruled.flatMap(({ rule, claim }) => (claim.alike ? takenOf(rule, claim, row, slots) : []));
      lot = make(row, undefined, named);
      rows.push(row);
      patterns.push(pattern);
      next[lot] = heads[place];
      heads[place] = lot;
    }
    lotOf[i] = lot;
  }

  // (2) By rules that name single rows.
  const isSingled = ruled.some(({ claim }) => !claim.alike);
  const places = new Int32Array(isSingled ? slots.nodes.rows : 0).fill(-1);
  if (isSingled) for (let i = 0; i < parts.length; i++) places[parts[i]] = i;
  for (const { rule, claim } of ruled) {
    if (claim.alike) continue;
    /** Lots that this rule made, by the lot that they come from and the slots that are taken. */
    const whole = new Int32Array(lots.length).fill(-1);
    const some = new Map<string, number>();
    const take = (row: number) => {
      const i = places[row];
      if (i < 0) return;
      const from = lotOf[i];
      if (!claim.bySlot) {
        if (!claim.takes(row, 0)) return;
        if (whole[from] < 0) whole[from] = make(row, lots[from], [{ rule }]);
        lotOf[i] = whole[from];
        return;
      }
      const [named] = takenOf(rule, claim, row, slots);
      if (!named) return;
      const key = `${from} ${named.slots?.join() ?? ''}`;
      let to = some.get(key);
      if (to === undefined) some.set(key, (to = make(row, lots[from], [named])));
      lotOf[i] = to;
    };
    const { mask } = claim;
    // Most masks are nearly empty: looking for the next byte is quicker than looking at each.
    if (mask) for (let row = mask.indexOf(1); row >= 0; row = mask.indexOf(1, row + 1)) take(row);
    else parts.forEach(take);
  }

  // (3) What they hold. Most parts have one slot: theirs are summed in plain numbers.
  const held = new Int32Array(lots.length);
  const first = new Float64Array(lots.length);
  const firstOf = new Float64Array(shapes).fill(-1);
  const slotsOf = new Int32Array(shapes);
  for (let i = 0; i < parts.length; i++) {
    const lot = lotOf[i];
    const shape = mesh[parts[i]];
    held[lot]++;
    if (firstOf[shape] < 0) {
      const triangles = slots.triangles(parts[i]);
      firstOf[shape] = triangles[0] ?? 0;
      slotsOf[shape] = triangles.length;
    }
    first[lot] += firstOf[shape];
    if (slotsOf[shape] > 1) {
      const sums = lots[lot].triangles;
      const triangles = slots.triangles(parts[i]);
      for (let slot = 1; slot < sums.length; slot++) sums[slot] += triangles[slot] ?? 0;
    }
  }
  lots.forEach((lot, i) => {
    lot.parts = held[i];
    if (lot.triangles.length > 0) lot.triangles[0] = first[i];
  });
  return { lots, lotOf };
}

function takenOf(rule: number, { takes, bySlot }: Claim, row: number, slots: Slots): Named[] {
  if (!bySlot) return takes(row, 0) ? [{ rule }] : [];
  const count = slots.count(row);
  const taken: number[] = [];
  for (let slot = 0; slot < count; slot++) if (takes(row, slot)) taken.push(slot);
  if (taken.length === 0) return [];
  return [taken.length === count ? { rule } : { rule, slots: taken }];
}

/** The rules that name a lot, in the order of precedence. */
export function namesOf(lot: Lot): Named[] {
  const out: Named[] = [];
  for (let one: Lot | undefined = lot; one; one = one.up) out.push(...one.named);
  return out.sort((a, b) => a.rule - b.rule);
}
