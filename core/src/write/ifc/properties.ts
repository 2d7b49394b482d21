/** What is said of rows of IFC beside their shape: property sets, types, materials, layers; each set once, with all whom it concerns. */
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import { list, real, string } from '../step/text.ts';
import type { StepFile } from '../step/text.ts';
import type { Schema } from './entities.ts';
import type { GlobalIds } from './globalId.ts';
import { push } from './lists.ts';

/** Properties that are said elsewhere: as identity, description, type, material and elevation of the row. */
const ELSEWHERE = new Set(['GlobalId', 'Description', 'Type', 'Material', 'Elevation']);
/** Set of properties that came without one. */
const NO_SET = 'Properties';
/** Longest text that is a label (ISO 16739-1, IfcLabel). */
const LABEL = 255;

export class IfcRelations {
  readonly #sets = new Map<string, number[]>();
  readonly #types = new Map<string, number[]>();
  readonly #materials = new Map<string, { ids: string[]; rows: number[] }>();
  readonly #layers = new Map<string, number[]>();

  constructor(
    readonly file: StepFile,
    readonly scene: Scene,
    readonly ids: GlobalIds,
    /** Who made it. */
    readonly history: number,
    readonly schema: Schema,
  ) {}

  /**
   * @param product number of the row in the file
   * @param representation of its shape, where it has one
   */
  take({ properties = {}, mesh, materials, layer }: SceneNode, product: number, representation?: number): void {
    const sets = new Map<string, [string, string][]>();
    for (const [name, value] of Object.entries(properties)) {
      if (ELSEWHERE.has(name)) continue;
      const point = name.indexOf('.');
      const set = point > 0 ? name.slice(0, point) : NO_SET;
      sets.set(set, [...(sets.get(set) ?? []), [point > 0 ? name.slice(point + 1) : name, value]]);
    }
    for (const [set, entries] of sets) push(this.#sets, JSON.stringify([set, entries]), product);
    if (properties.Type) push(this.#types, properties.Type, product);
    const used = mesh ? [...new Set(materials)].filter((id) => id !== NO_MATERIAL.id) : [];
    if (used.length > 0) {
      const known = this.#materials.get(used.join(' ')) ?? { ids: used, rows: [] };
      known.rows.push(product);
      this.#materials.set(used.join(' '), known);
    }
    if (layer !== null && representation !== undefined) push(this.#layers, layer, representation);
  }

  finish(): void {
    const { file } = this;
    for (const [key, products] of this.#sets) {
      const [name, entries] = JSON.parse(key) as [string, [string, string][]];
      const members = entries.map(([property, value]) => file.add(`IFCPROPERTYSINGLEVALUE(${string(property)},$,${valueOf(value)},$)`)); // prettier-ignore
      const set = file.add(
        `IFCPROPERTYSET(${this.#id('set', key)},#${this.history},${string(name)},$,${list(members)})`,
      );
      this.#relate('IFCRELDEFINESBYPROPERTIES', key, products, set);
    }
    for (const [name, products] of this.#types) {
      const type = file.add(`IFCTYPEPRODUCT(${this.#id('type', name)},#${this.history},${string(name)},$,$,$,$,$)`);
      this.#relate('IFCRELDEFINESBYTYPE', name, products, type);
    }
    const materials = new Map<string, number>();
    for (const [key, { ids, rows }] of this.#materials) {
      const made = ids.map((id) => {
        const name = this.scene.materials[id]?.name ?? id;
        return materials.get(name) ?? materials.set(name, this.#material(name)).get(name)!;
      });
      const whole = made.length > 1 ? this.#several(made) : made[0];
      this.#relate('IFCRELASSOCIATESMATERIAL', key, rows, whole);
    }
    for (const [name, representations] of this.#layers)
      file.add(`IFCPRESENTATIONLAYERASSIGNMENT(${string(name)},$,${list(representations)},$)`);
  }

  #material(name: string): number {
    return this.file.add(`IFCMATERIAL(${string(name)}${this.schema === 'IFC2X3' ? '' : ',$,$'})`);
  }

  #several(materials: readonly number[]): number {
    const { file } = this;
    if (this.schema === 'IFC2X3') return file.add(`IFCMATERIALLIST(${list(materials)})`);
    const parts = materials.map((material) => file.add(`IFCMATERIALCONSTITUENT($,$,#${material},$,$)`));
    return file.add(`IFCMATERIALCONSTITUENTSET($,$,${list(parts)})`);
  }

  #id(kind: string, of: string): string {
    return string(this.ids.next(`${kind} ${of}`));
  }

  #relate(relation: string, of: string, products: readonly number[], to: number): void {
    this.file.add(`${relation}(${this.#id(relation, of)},#${this.history},$,$,${list(products)},#${to})`);
  }
}

/** Numbers and truth as such, where they read back as the same text; text otherwise. */
function valueOf(value: string): string {
  if (value === 'true' || value === 'false') return `IFCBOOLEAN(.${value === 'true' ? 'T' : 'F'}.)`;
  const number = Number(value);
  if (value !== '' && String(number) === value && Math.round(number * 1e6) / 1e6 === number)
    return Number.isSafeInteger(number) ? `IFCINTEGER(${value})` : `IFCREAL(${real(number)})`;
  return `${value.length > LABEL ? 'IFCTEXT' : 'IFCLABEL'}(${string(value)})`;
}
