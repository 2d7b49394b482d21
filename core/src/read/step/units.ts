/** Length units of a STEP file: SI with prefixes, and conversion-based units defined by others. */
import { Enumeration, Ref, Typed } from './values.ts';
import type { Part21 } from './part21.ts';
import type { Value } from './values.ts';

export interface LengthUnit {
  /** `mm`, `inch`: as people write it. */
  name: string;
  metres: number;
  declared: boolean;
}

/** SI prefixes (BIPM, SI Brochure, 9th edition, table 7) by their names in ISO 10303-41. */
const PREFIXES: Record<string, [symbol: string, factor: number]> = {
  EXA: ['E', 1e18], PETA: ['P', 1e15], TERA: ['T', 1e12], GIGA: ['G', 1e9], MEGA: ['M', 1e6], KILO: ['k', 1e3],
  HECTO: ['h', 1e2], DECA: ['da', 1e1], DECI: ['d', 1e-1], CENTI: ['c', 1e-2], MILLI: ['m', 1e-3], MICRO: ['µ', 1e-6],
  NANO: ['n', 1e-9], PICO: ['p', 1e-12], FEMTO: ['f', 1e-15], ATTO: ['a', 1e-18],
}; // prettier-ignore

/** What is assumed where a file declares nothing: millimetres, as nearly all mechanical CAD (common practice). */
export const UNDECLARED: LengthUnit = { name: 'mm', metres: 0.001, declared: false };

/** Length unit of a representation context; millimetres, marked as undeclared, where the context names none. */
export function lengthUnitOf(file: Part21, contextIndex: number): LengthUnit {
  if (contextIndex < 0 || !file.is(contextIndex, 'GLOBAL_UNIT_ASSIGNED_CONTEXT')) return UNDECLARED;
  const args = file.args(contextIndex, 'GLOBAL_UNIT_ASSIGNED_CONTEXT');
  const list = (args.length === 1 ? args[0] : args.at(-1)) as Value;
  for (const item of Array.isArray(list) ? list : []) {
    if (!(item instanceof Ref)) continue;
    const index = file.indexOf(item.id);
    if (index >= 0 && file.is(index, 'LENGTH_UNIT')) return resolve(file, index, 0) ?? UNDECLARED;
  }
  return UNDECLARED;
}

/** The length unit that an entity is; undefined for anything else, or one defined by itself. */
export function resolve(file: Part21, index: number, depth = 0): LengthUnit | undefined {
  // A unit defined by itself is an error of the file, not a reason to hang.
  if (depth > 8) return undefined;
  if (file.is(index, 'SI_UNIT')) {
    const prefix = file.args(index, 'SI_UNIT').find((arg) => arg instanceof Enumeration && arg.name !== 'METRE');
    return siLength(prefix instanceof Enumeration ? prefix.name : undefined);
  }
  if (file.is(index, 'CONVERSION_BASED_UNIT')) {
    const [name, factor] = file.args(index, 'CONVERSION_BASED_UNIT');
    const measure = factor instanceof Ref ? file.indexOf(factor.id) : -1;
    if (measure < 0) return undefined;
    const part = file.is(measure, 'MEASURE_WITH_UNIT') ? 'MEASURE_WITH_UNIT' : undefined;
    const [value, base] = file.args(measure, part);
    const number = value instanceof Typed ? value.args[0] : value;
    const baseIndex = base instanceof Ref ? file.indexOf(base.id) : -1;
    const baseUnit = baseIndex >= 0 ? resolve(file, baseIndex, depth + 1) : undefined;
    if (typeof number !== 'number' || !(number > 0) || !baseUnit) return undefined;
    return { name: String(name ?? 'unit').toLowerCase(), metres: number * baseUnit.metres, declared: true };
  }
  return undefined;
}

/** The metre with a prefix, `MILLI`; the metre itself without one, or with one that is not known. */
export function siLength(prefix: string | undefined): LengthUnit {
  const known = prefix === undefined ? undefined : PREFIXES[prefix];
  return known ? { name: `${known[0]}m`, metres: known[1], declared: true } : { name: 'm', metres: 1, declared: true };
}
