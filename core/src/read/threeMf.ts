/** Reader of 3MF packages (3D Manufacturing Format): units, components, build items, base materials, colour and texture groups. */
import { linearFromSrgb } from '../finish/colour.ts';
import { NumberList } from '../mesh/numberList.ts';
import { PrismError } from '../errors.ts';
import type { Material } from '../scene/types.ts';
import { SceneBuilder } from './builder.ts';
import type { Companions } from './companions.ts';
import { meshOfCorners } from './corners.ts';
import type { CornerRun } from './corners.ts';
import { isZip, openPackage } from './zip.ts';
import { baseName } from './paths.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { referredTexture } from './referredTexture.ts';
import { child, childrenNamed, everything, numbersOf, parseXml } from './xml.ts';
import type { XmlElement } from './xml.ts';

export const threeMfReader: Reader = {
  format: '3MF',
  endings: ['3mf'],
  recognises: ({ name, bytes }) => isZip(bytes) && (name.toLowerCase().endsWith('.3mf') || directoryNames3d(bytes)),
  read: async (file, sourceId) => readThreeMf(file, sourceId),
};

/** Units of the core specification, metres. */
const UNITS: Record<string, number> = {
  micron: 1e-6,
  millimeter: 0.001,
  centimeter: 0.01,
  inch: 0.0254,
  foot: 0.3048,
  meter: 1,
};

/** The directory of a zip stands at its end. */
function directoryNames3d(bytes: Uint8Array): boolean {
  return new TextDecoder('latin1').decode(bytes.subarray(-65_536)).includes('3D/3dmodel.model');
}

interface MeshLists {
  positions: NumberList<Float64Array>;
  /** v1, v2, v3 of each triangle. */
  triangles: NumberList<Int32Array>;
  /** pid, p1, p2, p3 of each triangle; -1 where not stated. */
  properties: NumberList<Int32Array>;
}

type PropertyGroup =
  | { kind: 'materials'; ids: string[] }
  | { kind: 'colours'; values: number[] }
  | { kind: 'texture'; material: string; values: number[] };

interface ObjectResource {
  element: XmlElement;
  path: string;
  lists?: MeshLists;
  geometry?: { id: number; materials: string[] };
}

function readThreeMf(file: SourceFile, sourceId: string): Reading {
  const inner = openPackage(file);
  const models = inner ? [...inner.files.keys()].filter((path) => path.toLowerCase().endsWith('.model')) : [];
  if (!inner || models.length === 0)
    throw new PrismError('not-readable', `${file.name} holds no 3D model part. Ask for it again.`, { file: file.name });
  const root = rootPath(inner, models);
  const lists = new Map<XmlElement, MeshLists>();
  const parts = models.map((path) => ({ path, ...parsePart(inner.bytes(path), `${file.name}: ${path}`, lists) }));
  const main = parts.find(({ path }) => path === root) ?? parts[0];
  const unit = main.root.attributes.unit ?? 'millimeter';
  const metadata = (name: string) =>
    childrenNamed(main.root, 'metadata')
      .find(({ attributes }) => attributes.name === name)
      ?.text.trim();
  const builder = new SceneBuilder({ ...file, beside: inner }, sourceId, {
    format: '3MF',
    schema: main.root.attributes.requiredextensions ?? '',
    producer: [metadata('Application'), metadata('Designer'), metadata('CreationDate')].filter(Boolean).join(', '),
    unit: { name: unit, metres: UNITS[unit] ?? 0.001, declared: main.root.attributes.unit !== undefined },
    upAxis: { axis: 'z', by: 'file' },
  });
  for (const { path, broken } of parts)
    if (broken) builder.warn('truncated', `${path} is cut off or damaged; what stands before is kept.`, broken);
  new Package(builder, parts, lists, main.path).place(main.root);
  return builder.reading();
}

/** The part that the package opens with. */
function rootPath(inner: Companions, models: string[]): string {
  const path = inner.find('_rels/.rels');
  const text = path ? new TextDecoder().decode(inner.bytes(path)) : '';
  const target = text
    .match(/<Relationship\b[^>]*3dmodel[^>]*>/i)?.[0]
    .match(/Target\s*=\s*"([^"]*)"/i)?.[1]
    .replace(/^\//, '');
  return (target && models.find((model) => model.toLowerCase() === target.toLowerCase())) || models[0];
}

function parsePart(bytes: Uint8Array, name: string, lists: Map<XmlElement, MeshLists>) {
  const listsOf = (mesh: XmlElement | undefined): MeshLists | undefined => {
    if (!mesh) return undefined;
    let made = lists.get(mesh);
    if (!made) {
      made = {
        positions: new NumberList(Float64Array),
        triangles: new NumberList(Int32Array),
        properties: new NumberList(Int32Array),
      };
      lists.set(mesh, made);
    }
    return made;
  };
  const number = (text: string | undefined) => (text === undefined ? -1 : Number.parseInt(text));
  return parseXml(bytes, name, {
    take(element, a, parent) {
      if (element === 'vertex' && parent.name === 'vertices') {
        listsOf(parent.parent)?.positions.push3(Number(a.x), Number(a.y), Number(a.z));
        return true;
      }
      if (element === 'triangle' && parent.name === 'triangles') {
        const made = listsOf(parent.parent);
        made?.triangles.push3(number(a.v1), number(a.v2), number(a.v3));
        made?.properties.push3(number(a.pid), number(a.p1), number(a.p2 ?? a.p1));
        made?.properties.push(number(a.p3 ?? a.p1));
        return true;
      }
      return false;
    },
  });
}

/** Deepest nesting of components. */
const MAX_DEPTH = 100;

class Package {
  readonly #groups = new Map<string, PropertyGroup>();
  readonly #objects = new Map<string, ObjectResource>();
  #outOfRange = 0;

  constructor(
    readonly builder: SceneBuilder,
    parts: { path: string; root: XmlElement }[],
    lists: Map<XmlElement, MeshLists>,
    readonly main: string,
  ) {
    for (const { path, root } of parts) {
      const resources = child(root, 'resources');
      for (const element of resources?.children ?? []) this.#resource(element, path);
      for (const element of childrenNamed(resources, 'object')) {
        const mesh = child(element, 'mesh');
        const found = mesh && lists.get(mesh);
        this.#objects.set(`${path}#${element.attributes.id}`, { element, path, ...(found ? { lists: found } : {}) });
      }
      if (
        root.children.length > 0 &&
        [...everything(root)].some(({ name }) => name === 'beamlattice' || name === 'slicestack')
      )
        builder.notRead.add('Beam lattices and slices are not read.');
    }
  }

  #resource(element: XmlElement, path: string): void {
    const id = `${path}#${element.attributes.id}`;
    const { name } = element;
    if (name === 'basematerials') {
      const ids = childrenNamed(element, 'base').map(({ attributes }) =>
        this.builder.material({ name: attributes.name || 'Material', ...appearance(attributes.displaycolor) }),
      );
      this.#groups.set(id, { kind: 'materials', ids });
    } else if (name === 'colorgroup') {
      const values = childrenNamed(element, 'color').flatMap(({ attributes }) => {
        const { baseColor, opacity } = appearance(attributes.color);
        return [...baseColor, opacity];
      });
      this.#groups.set(id, { kind: 'colours', values });
    } else if (name === 'texture2dgroup') {
      const texture = childrenNamed(element.parent, 'texture2d').find(
        ({ attributes }) => attributes.id === element.attributes.texid,
      );
      const picture = texture?.attributes.path ?? '';
      const use = { texture: referredTexture(this.builder, picture.replace(/^\//, '')), uv: 0 };
      const wrap = texture?.attributes.tilestyleu;
      const material = this.builder.material({
        name: baseName(picture),
        ...appearance('#ffffff'),
        textures: { baseColor: { ...use, ...(wrap === 'clamp' || wrap === 'mirror' ? { wrap } : {}) } },
      });
      // The origin of the picture is lower left here, upper left in the scene.
      const values = childrenNamed(element, 'tex2coord').flatMap(({ attributes }) => [
        Number(attributes.u),
        1 - Number(attributes.v),
      ]);
      this.#groups.set(id, { kind: 'texture', material, values });
    } else if (
      name === 'compositematerials' ||
      name === 'multiproperties' ||
      name === 'pbspecular' ||
      name === 'pbmetallic'
    )
      this.builder.notRead.add('Mixed materials and several properties on one face are not read; the plain ones are.');
  }

  place(root: XmlElement): void {
    const items = childrenNamed(child(root, 'build'), 'item');
    for (const { attributes } of items)
      this.#object(this.#key(attributes, this.main), undefined, attributes.transform, 0, attributes.partnumber);
    const isPlaced = items.length > 0;
    if (!isPlaced) for (const key of this.#objects.keys()) this.#object(key, undefined, undefined, 0);
    if (!isPlaced && this.#objects.size > 0)
      this.builder.warn('nothing-built', 'The build list is empty: all objects are shown where they stand.');
    if (this.#outOfRange > 0)
      this.builder.warn(
        'bad-indices',
        `${this.#outOfRange} triangles name vertices that are not there; they are left out.`,
      );
  }

  #key({ path, objectid }: Record<string, string>, from: string): string {
    return `${path ? path.replace(/^\//, '') : from}#${objectid}`;
  }

  #object(
    key: string,
    parent: number | undefined,
    transform: string | undefined,
    depth: number,
    partNumber?: string,
  ): void {
    const object = this.#objects.get(key);
    if (!object) return this.builder.warn('dangling', `Object ${key.split('#')[1]} is placed and not there.`);
    if (depth > MAX_DEPTH)
      return this.builder.warn(
        'cyclic',
        `Object ${key.split('#')[1]} contains itself, or nests deeper than ${MAX_DEPTH}.`,
      );
    const { attributes } = object.element;
    const geometry = object.lists ? (object.geometry ??= this.#geometry(object, object.lists)) : undefined;
    const more = partNumber ?? attributes.partnumber;
    const id = this.builder.node({
      ...(parent === undefined ? {} : { parent }),
      name: attributes.name || attributes.partnumber || partNumber || `Object ${attributes.id}`,
      transform: matrixOf(transform),
      more: { entity: `object ${attributes.id}`, ...(more ? { properties: { 'Part number': more } } : {}) },
      ...(geometry ? { geometry: geometry.id, materials: geometry.materials } : {}),
    });
    for (const component of childrenNamed(child(object.element, 'components'), 'component'))
      this.#object(this.#key(component.attributes, object.path), id, component.attributes.transform, depth + 1);
  }

  #geometry({ element, path }: ObjectResource, { positions, triangles, properties }: MeshLists) {
    const count = positions.length / 3;
    const own = {
      group: this.#groups.get(`${path}#${element.attributes.pid}`),
      index: Number(element.attributes.pindex ?? 0),
    };
    const colours: number[] = [];
    const uvs: number[] = [];
    const bases = new Map<PropertyGroup, number>();
    const materials: string[] = [];
    const slotOf = (material: string) => {
      const slot = materials.indexOf(material);
      return slot >= 0 ? slot : materials.push(material) - 1;
    };
    const baseOf = (group: PropertyGroup, list: number[], size: number) => {
      let base = bases.get(group);
      if (base === undefined && group.kind !== 'materials') {
        base = list.length / size;
        list.push(...group.values);
        bases.set(group, base);
      }
      return base ?? 0;
    };
    const runs = new Map<number, { slot: number; position: number[]; colour: number[]; uv: number[] }>();
    for (let t = 0; t < triangles.length / 3; t++) {
      const corners = [0, 1, 2].map((i) => triangles.at(t * 3 + i));
      if (!corners.every((corner) => corner >= 0 && corner < count)) {
        this.#outOfRange++;
        continue;
      }
      const pid = properties.at(t * 4);
      const stated = properties.at(t * 4 + 1) >= 0;
      const group = pid >= 0 ? this.#groups.get(`${path}#${pid}`) : own.group;
      const indices = [1, 2, 3].map((i) => (stated ? properties.at(t * 4 + i) : own.index));
      const material =
        group?.kind === 'materials'
          ? (group.ids[indices[0]] ?? 'none')
          : group?.kind === 'texture'
            ? group.material
            : group
              ? this.#coloured()
              : 'none';
      const slot = slotOf(material);
      let run = runs.get(slot);
      if (!run) runs.set(slot, (run = { slot, position: [], colour: [], uv: [] }));
      for (let i = 0; i < 3; i++) {
        run.position.push(corners[i]);
        run.colour.push(group?.kind === 'colours' ? baseOf(group, colours, 4) + indices[i] : -1);
        run.uv.push(group?.kind === 'texture' ? baseOf(group, uvs, 2) + indices[i] : -1);
      }
    }
    const list: CornerRun[] = [...runs.values()].map(({ slot, position, colour, uv }) => ({
      slot,
      position,
      colour,
      uvs: [uv],
    }));
    const mesh = meshOfCorners(
      { positions: positions.values, ...(uvs.length ? { uvs: [uvs] } : {}), ...(colours.length ? { colours } : {}) },
      list,
    );
    return { id: this.builder.mesh(mesh), materials };
  }

  #coloured(): string {
    return this.builder.material({ name: 'Coloured', ...appearance('#ffffff') });
  }
}

/** Colour of the specification, `#RRGGBB` or `#RRGGBBAA`, sRGB. */
function appearance(text: string | undefined): Pick<Material, 'baseColor' | 'opacity' | 'metallic' | 'roughness'> {
  const hex = /^#[0-9a-f]{6}([0-9a-f]{2})?$/i.test(text ?? '') ? (text ?? '') : '#a0a0a0';
  const part = (at: number) => Number.parseInt(hex.slice(at, at + 2), 16) / 255;
  const baseColor = [1, 3, 5].map((at) => linearFromSrgb(part(at))) as [number, number, number];
  return { baseColor, opacity: hex.length > 7 ? part(7) : 1, metallic: 0, roughness: 0.6 };
}

/** Twelve numbers, rows of three, for points as rows: the same order as our columns. */
function matrixOf(text: string | undefined): number[] {
  const n = numbersOf(text);
  if (n.length !== 12 || !n.every(Number.isFinite)) return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
  return [n[0], n[1], n[2], 0, n[3], n[4], n[5], 0, n[6], n[7], n[8], 0, n[9], n[10], n[11], 1];
}
