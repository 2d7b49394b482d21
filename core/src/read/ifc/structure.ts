/**
 * Structure of an IFC file (ISO 16739-1; 2x3, 4, 4.3) from its text: spatial tree, elements with class, name and GlobalId, types,
 * layers, materials, property sets, units, placements. No geometry.
 */
import { cross, IDENTITY, multiply, normalize } from '../../scene/matrix.ts';
import type { Matrix, Vector } from '../../scene/matrix.ts';
import { Enumeration, Ref, Typed } from '../step/values.ts';
import type { Part21 } from '../step/part21.ts';
import type { Value } from '../step/values.ts';
import { siLength } from '../step/units.ts';
import { className } from './classes.ts';

/** One row of the tree, as it is handed over. */
export interface IfcElement {
  /** Express id. */
  id: number;
  name: string;
  class: string;
  /** Place in the world, unit of the file. */
  world: Matrix;
  hasShape: boolean;
  layer: string | null;
  properties: Record<string, string>;
}

/** Takes an element under the row of its parent, and says its own row. */
export type TakeElement = (element: IfcElement, parent: number | undefined) => number;

export interface IfcStructure {
  unit: { name: string; metres: number; declared: boolean };
  /** Names of surface styles by the item that they colour. */
  styles: Map<number, string>;
  layers: { name: string; description?: string }[];
  openings: number;
  annotations: number;
  /** Hands over the tree, parents before their children. @returns elements that no storey, building or assembly holds */
  walk(take: TakeElement): number;
}

/** Properties of one element that are kept. */
const MAX_PROPERTIES = 300;
/** Letters of all properties together that are kept. */
const MAX_LETTERS = 40_000_000;
const MAX_DEPTH = 2000;

/** Products that are no bodies: they cut, name or describe others. */
const NOT_BUILT = /^IFC(OPENING|VIRTUALELEMENT|ANNOTATION|GRID$)/;

const SURFACE_MODEL = /^IFC(FACE|SHELL)BASEDSURFACEMODEL$/;

export function readIfcStructure(file: Part21): IfcStructure {
  return new Structure(file).read();
}

class Structure {
  readonly #children = new Map<number, number[]>();
  readonly #parentOf = new Map<number, number>();
  readonly #layerOf = new Map<number, string>();
  readonly #typeOf = new Map<number, number>();
  readonly #materialsOf = new Map<number, string[]>();
  readonly #propertiesOf = new Map<number, number[]>();
  readonly #placements = new Map<number, Matrix>();
  readonly #sets = new Map<number, [string, string][]>();
  readonly #layers: { name: string; description?: string }[] = [];
  readonly #damaged = new Set<number>();
  #letters = 0;

  constructor(readonly file: Part21) {}

  read(): IfcStructure {
    this.#relations();
    const openings = this.file.ofType('IFCOPENINGELEMENT').length;
    const annotations = this.file.ofType('IFCANNOTATION').length + this.file.ofType('IFCGRID').length;
    const [unit, styles, layers] = [this.#unit(), this.#styles(), this.#layers];
    return { unit, styles, layers, openings, annotations, walk: (take) => this.#walk(take) };
  }

  #walk(take: TakeElement): number {
    const done = new Set<number>();
    let root: number | undefined;
    for (const index of this.file.ofType('IFCPROJECT')) {
      const id = this.file.ids[index];
      if (this.#parentOf.has(id)) continue;
      const row = this.#hand(id, undefined, take, done, 0);
      root ??= row;
    }
    let orphans = 0;
    for (const id of this.#products()) {
      // A branch that hangs on nothing comes in by its top.
      if (done.has(id) || this.#parentOf.has(id)) continue;
      orphans++;
      const row = this.#hand(id, root, take, done, 0);
      root ??= row;
    }
    return orphans;
  }

  /** Hands over an element and what is below it. */
  #hand(id: number, parent: number | undefined, take: TakeElement, done: Set<number>, depth: number): number {
    done.add(id);
    const row = take(this.#element(id), parent);
    if (depth > MAX_DEPTH) return row;
    for (const child of this.#children.get(id) ?? []) {
      const isBuilt = !NOT_BUILT.test(this.#type(child)) && this.#args(child).length >= 5;
      if (isBuilt && !done.has(child)) this.#hand(child, row, take, done, depth + 1);
    }
    return row;
  }

  #args(id: number): Value[] {
    const index = this.file.indexOf(id);
    return index < 0 ? [] : this.#argsAt(index);
  }

  /** None where an entity is damaged: it is missed, and the rest of the file goes on. */
  #argsAt(index: number): Value[] {
    try {
      return this.file.args(index);
    } catch (error) {
      if (!this.#damaged.has(index)) {
        this.#damaged.add(index);
        const { warnings } = this.file;
        if (warnings.length < 200)
          warnings.push({ code: 'malformed', message: (error as Error).message, where: this.file.where(index) });
      }
      return [];
    }
  }

  #type(id: number): string {
    const index = this.file.indexOf(id);
    return index < 0 ? '' : this.file.typeNames[this.file.types[index]];
  }

  #relations(): void {
    const { file } = this;
    const each = (type: string, use: (args: Value[]) => void) => {
      for (const index of file.ofType(type)) use(this.#argsAt(index));
    };
    const hang = (parent: Value, children: Value) => {
      if (!(parent instanceof Ref)) return;
      for (const child of refs(children)) {
        if (this.#parentOf.has(child)) continue;
        this.#parentOf.set(child, parent.id);
        push(this.#children, parent.id, child);
      }
    };
    each('IFCRELAGGREGATES', (args) => hang(args[4], args[5]));
    each('IFCRELNESTS', (args) => hang(args[4], args[5]));
    each('IFCRELCONTAINEDINSPATIALSTRUCTURE', (args) => hang(args[5], args[4]));
    each('IFCRELDEFINESBYTYPE', (args) => {
      if (args[5] instanceof Ref) for (const id of refs(args[4])) this.#typeOf.set(id, args[5].id);
    });
    each('IFCRELDEFINESBYPROPERTIES', (args) => {
      if (args[5] instanceof Ref) for (const id of refs(args[4])) push(this.#propertiesOf, id, args[5].id);
    });
    each('IFCRELASSOCIATESMATERIAL', (args) => {
      if (!(args[5] instanceof Ref)) return;
      const names = this.#materialNames(args[5].id, 0);
      for (const id of refs(args[4])) this.#materialsOf.set(id, names);
    });
    for (const type of ['IFCPRESENTATIONLAYERASSIGNMENT', 'IFCPRESENTATIONLAYERWITHSTYLE'])
      each(type, ([name, description, items]) => {
        if (typeof name !== 'string' || !name) return;
        this.#layers.push({ name, ...(typeof description === 'string' && description ? { description } : {}) });
        for (const id of refs(items)) this.#layerOf.set(id, name);
      });
  }

  /** Everything with a GlobalId, a place and a shape, openings apart. */
  #products(): number[] {
    const { file } = this;
    const out: number[] = [];
    for (const type of file.typeNames) {
      if (!type.startsWith('IFC') || NOT_BUILT.test(type) || /^IFCREL|TYPE$|STYLE$|^IFCPROP/.test(type)) continue;
      const members = file.ofType(type);
      const isProduct = members.slice(0, 20).some((index) => {
        const args = this.#argsAt(index);
        return args.length >= 7 && typeof args[0] === 'string' && args[0].length === 22 && this.#isShape(args[6]);
      });
      if (isProduct) for (const index of members) out.push(file.ids[index]);
    }
    return out;
  }

  #isShape(value: Value | undefined): boolean {
    return value instanceof Ref && this.#type(value.id).startsWith('IFCPRODUCTDEFINITIONSHAPE');
  }

  #element(id: number): IfcElement {
    const args = this.#args(id);
    const type = this.#type(id);
    const isProject = type === 'IFCPROJECT';
    const typeId = this.#typeOf.get(id);
    const [globalId, , name] = args;
    const longName = isProject ? args[5] : args[7];
    const isSpatial = /^IFC(SITE|BUILDING|BUILDINGSTOREY|SPACE|FACILITY|FACILITYPART)$/.test(type);
    const text = (value: Value | undefined) => (typeof value === 'string' ? value.trim() : '');
    const label = [text(name), isSpatial || isProject ? text(longName) : ''].filter(Boolean);
    const materials = this.#materialsOf.get(id) ?? (typeId === undefined ? [] : (this.#materialsOf.get(typeId) ?? []));
    return {
      id,
      name:
        [...new Set(label)].join(' ') ||
        (typeId === undefined ? '' : text(this.#args(typeId)[2])) ||
        className(type).slice(3),
      class: className(type),
      world: isProject || !(args[5] instanceof Ref) ? IDENTITY : this.#placement(args[5].id, 0),
      hasShape: !isProject && this.#isShape(args[6]) && type !== 'IFCSPACE',
      layer: isProject ? null : this.#layer(args[6]),
      properties: this.#properties(id, typeId, {
        GlobalId: text(globalId),
        ...(text(args[3]) ? { Description: text(args[3]) } : {}),
        ...(materials.length ? { Material: materials.join(', ') } : {}),
        ...(typeId === undefined ? {} : { Type: text(this.#args(typeId)[2]) }),
        ...(type === 'IFCBUILDINGSTOREY' && typeof args[9] === 'number'
          ? { Elevation: `${round(args[9] * this.#unit().metres)} m` }
          : {}),
        ...(isProject ? this.#mapConversion() : {}),
      }),
    };
  }

  #layer(shape: Value | undefined): string | null {
    if (!(shape instanceof Ref)) return null;
    for (const representation of refs(this.#args(shape.id)[2])) {
      const known = this.#layerOf.get(representation);
      if (known) return known;
      for (const item of refs(this.#args(representation)[3])) {
        const layer = this.#layerOf.get(item);
        if (layer) return layer;
      }
    }
    return null;
  }

  #materialNames(id: number, depth: number): string[] {
    if (depth > 6) return [];
    const type = this.#type(id);
    const args = this.#args(id);
    if (type === 'IFCMATERIAL') return typeof args[0] === 'string' ? [args[0]] : [];
    // Layers, constituents, profiles and lists hold materials at one place or another: the names in the order of the text.
    const inner = args.flatMap(refs).filter((ref) => this.#type(ref).startsWith('IFCMATERIAL'));
    return [...new Set(inner.flatMap((ref) => this.#materialNames(ref, depth + 1)))];
  }

  #properties(id: number, typeId: number | undefined, first: Record<string, string>): Record<string, string> {
    const out = { ...first };
    let count = 0;
    const sets = [...(typeId === undefined ? [] : refs(this.#args(typeId)[5])), ...(this.#propertiesOf.get(id) ?? [])];
    for (const set of sets) {
      for (const [name, value] of this.#set(set)) {
        if (++count > MAX_PROPERTIES || this.#letters > MAX_LETTERS) return out;
        this.#letters += name.length + value.length;
        out[name] = value;
      }
    }
    return out;
  }

  #set(id: number): [string, string][] {
    let known = this.#sets.get(id);
    if (known) return known;
    known = [];
    this.#sets.set(id, known);
    const args = this.#args(id);
    const isQuantity = this.#type(id) === 'IFCELEMENTQUANTITY';
    for (const member of refs(args[isQuantity ? 5 : 4])) {
      const [name, , value, quantity] = this.#args(member);
      const shown = this.#type(member).startsWith('IFCQUANTITY') ? textOf(quantity) : textOf(value);
      if (typeof name === 'string' && shown) known.push([`${String(args[2] ?? '')}.${name}`, shown]);
    }
    return known;
  }

  #mapConversion(): Record<string, string> {
    const [index] = this.file.ofType('IFCMAPCONVERSION');
    if (index === undefined) return {};
    const [, target, east, north, height] = this.#argsAt(index);
    const name = target instanceof Ref ? textOf(this.#args(target.id)[0]) : '';
    return {
      'Map conversion.System': name,
      'Map conversion.Eastings': textOf(east),
      'Map conversion.Northings': textOf(north),
      'Map conversion.Height': textOf(height),
    };
  }

  #placement(id: number, depth: number): Matrix {
    const known = this.#placements.get(id);
    if (known || depth > 200) return known ?? IDENTITY;
    const [relativeTo, relative] = this.#args(id);
    const own = relative instanceof Ref ? this.#axes(relative.id) : IDENTITY;
    const out = relativeTo instanceof Ref ? multiply(this.#placement(relativeTo.id, depth + 1), own) : own;
    this.#placements.set(id, out);
    return out;
  }

  #axes(id: number): Matrix {
    const [location, axis, direction] = this.#args(id);
    const at = this.#vector(location) ?? [0, 0, 0];
    const is2d = this.#type(id) === 'IFCAXIS2PLACEMENT2D';
    const z: Vector = is2d ? [0, 0, 1] : normalize(this.#vector(axis) ?? [0, 0, 1]);
    const wish = this.#vector(is2d ? axis : direction) ?? (Math.abs(z[0]) > 0.99 ? [0, 1, 0] : [1, 0, 0]);
    const along = wish[0] * z[0] + wish[1] * z[1] + wish[2] * z[2];
    const x = normalize([wish[0] - along * z[0], wish[1] - along * z[1], wish[2] - along * z[2]]);
    return [...x, 0, ...cross(z, x), 0, ...z, 0, ...at, 1];
  }

  #vector(value: Value | undefined): Vector | undefined {
    if (!(value instanceof Ref)) return undefined;
    const [list] = this.#args(value.id);
    if (!Array.isArray(list)) return undefined;
    const [x, y, z = 0] = list;
    return typeof x === 'number' && typeof y === 'number' && typeof z === 'number' ? [x, y, z] : undefined;
  }

  #knownUnit: IfcStructure['unit'] | undefined;
  #unit(): IfcStructure['unit'] {
    return (this.#knownUnit ??= this.#findUnit());
  }

  #findUnit(): IfcStructure['unit'] {
    for (const assignment of this.file.ofType('IFCUNITASSIGNMENT')) {
      for (const id of refs(this.#argsAt(assignment)[0])) {
        const args = this.#args(id);
        if (!(args[1] instanceof Enumeration) || args[1].name !== 'LENGTHUNIT') continue;
        if (this.#type(id) === 'IFCSIUNIT') return siLength(args[2] instanceof Enumeration ? args[2].name : undefined);
        if (this.#type(id).startsWith('IFCCONVERSIONBASEDUNIT') && args[3] instanceof Ref) {
          const [value, base] = this.#args(args[3].id);
          const number = value instanceof Typed ? value.args[0] : value;
          const prefix = base instanceof Ref ? this.#args(base.id)[2] : null;
          const unit = siLength(prefix instanceof Enumeration ? prefix.name : undefined);
          if (typeof number === 'number' && number > 0)
            return { name: textOf(args[2]).toLowerCase() || 'unit', metres: number * unit.metres, declared: true };
        }
      }
    }
    return { name: 'm', metres: 1, declared: false };
  }

  #styles(): Map<number, string> {
    const out = new Map<number, string>();
    for (const index of this.file.ofType('IFCSTYLEDITEM')) {
      const [item, styles] = this.#argsAt(index);
      if (!(item instanceof Ref)) continue;
      const name = refs(styles)
        .flatMap((id) => (this.#type(id) === 'IFCPRESENTATIONSTYLEASSIGNMENT' ? refs(this.#args(id)[0]) : [id]))
        .filter((id) => this.#type(id) === 'IFCSURFACESTYLE')
        .map((id) => this.#args(id)[0])[0];
      if (typeof name !== 'string' || !name) continue;
      out.set(item.id, name);
      // What is drawn of a model of faces are its sets of faces.
      if (SURFACE_MODEL.test(this.#type(item.id))) for (const set of refs(this.#args(item.id)[0])) out.set(set, name);
    }
    return out;
  }
}

function refs(value: Value | undefined): number[] {
  if (value instanceof Ref) return [value.id];
  return Array.isArray(value) ? value.flatMap((item) => (item instanceof Ref ? [item.id] : [])) : [];
}

function push(map: Map<number, number[]>, key: number, value: number): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

function round(value: number): number {
  return Math.round(value * 1e6) / 1e6;
}

function textOf(value: Value | undefined): string {
  if (value instanceof Typed) return textOf(value.args[0]);
  if (value instanceof Enumeration) return value.name === 'T' ? 'true' : value.name === 'F' ? 'false' : value.name;
  if (typeof value === 'number') return String(round(value));
  if (Array.isArray(value)) return value.map(textOf).filter(Boolean).join(', ');
  return typeof value === 'string' ? value : '';
}
