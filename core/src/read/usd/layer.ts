/** One layer of a USD scene as it stands in its file, before layers are put together; the same for the text and the binary form. */

/** A path of the scene, e.g. `/World/Wall`. */
export class UsdPath {
  constructor(readonly path: string) {}
}

/** The name of another file, and of a prim in it where it is a reference. */
export class UsdAsset {
  constructor(
    readonly file: string,
    readonly path?: string,
  ) {}
}

/** A reference to a prim of this or another file. */
export interface UsdArc {
  file?: string;
  /** Absent for the default prim of the file. */
  path?: string;
}

export type Numbers = number[] | Float32Array | Float64Array | Int32Array | Uint32Array;
/** Tuples and arrays of tuples are flat lists of numbers. */
export type UsdValue = number | boolean | string | UsdPath | UsdAsset | Numbers | UsdValue[] | UsdDictionary | null;
export interface UsdDictionary {
  [name: string]: UsdValue;
}

export interface UsdProperty {
  type: string;
  value?: UsdValue;
  /** First value over time, where it has some; and how many there are. */
  first?: UsdValue;
  samples: number;
  /** Values over time of an operation that places a prim, times rising. */
  over?: { times: number[]; values: UsdValue[] };
  /** Of an attribute that takes its value from another. */
  connection?: string;
  /** Of a relationship. */
  targets?: string[];
  interpolation?: string;
  elementSize?: number;
}

export interface UsdPrim {
  name: string;
  specifier: 'def' | 'over' | 'class';
  type: string;
  active?: boolean;
  instanceable?: boolean;
  displayName?: string;
  references: UsdArc[];
  payloads: UsdArc[];
  inherits: string[];
  /** Chosen variant per set. */
  selections: Record<string, string>;
  variants: Map<string, Map<string, UsdPrim>>;
  properties: Map<string, UsdProperty>;
  children: UsdPrim[];
}

export interface UsdLayer {
  upAxis?: string;
  metresPerUnit?: number;
  /** Time codes for each second, and the one that the stage begins at. */
  timeCodesPerSecond?: number;
  startTimeCode?: number;
  defaultPrim?: string;
  documentation?: string;
  creator?: string;
  /** Layers that this one stands on, strongest first. */
  subLayers: string[];
  /** Holds the prims of the top level. */
  root: UsdPrim;
}

export function newPrim(name: string, specifier: UsdPrim['specifier'], type = ''): UsdPrim {
  return {
    name,
    specifier,
    type,
    references: [],
    payloads: [],
    inherits: [],
    selections: {},
    variants: new Map(),
    properties: new Map(),
    children: [],
  };
}

/** Variant of a prim, entered where it is new. */
export function variantOf(prim: UsdPrim, set: string, name: string): UsdPrim {
  let list = prim.variants.get(set);
  if (!list) prim.variants.set(set, (list = new Map()));
  let found = list.get(name);
  if (!found) list.set(name, (found = newPrim(name, 'over')));
  return found;
}

/** Values of some property over time, in the order of the times; for places only, since shapes over time would take all memory. */
export function overTime(name: string, times: readonly number[], values: readonly UsdValue[]): UsdProperty['over'] {
  if (!name.startsWith('xformOp:') || times.length !== values.length) return undefined;
  const order = times.map((_, i) => i).sort((a, b) => times[a] - times[b]);
  const rising = order.filter((key, i) => Number.isFinite(times[key]) && (i === 0 || times[key] > times[order[i - 1]]));
  return { times: rising.map((key) => times[key]), values: rising.map((key) => values[key]) };
}

/** The numbers of a value; none where it has no numbers. */
export function numbersIn(value: UsdValue | undefined): Numbers {
  if (typeof value === 'number') return [value];
  if (Array.isArray(value)) return value.every((entry) => typeof entry === 'number') ? (value as number[]) : [];
  return ArrayBuffer.isView(value) ? value : [];
}

export function stringIn(value: UsdValue | undefined): string | undefined {
  return typeof value === 'string' ? value : undefined;
}

/** Strings of a list, or the one there is. */
export function stringsIn(value: UsdValue | undefined): string[] {
  if (typeof value === 'string') return [value];
  return Array.isArray(value) ? (value as UsdValue[]).filter((entry) => typeof entry === 'string') : [];
}

/** Paths of a list, or the one there is. */
export function pathsIn(value: UsdValue | undefined): string[] {
  if (value instanceof UsdPath) return [value.path];
  return Array.isArray(value) ? value.flatMap((entry) => (entry instanceof UsdPath ? [entry.path] : [])) : [];
}
