/**
 * Writes a scene as 3MF (3D Manufacturing Format, core 1.3 with materials and properties 1.2): rows as objects with components, parts
 * that show the same shape as one object, base materials, pictures, colours of points.
 */
import { IN_COORDINATES } from '../placedUvs.ts';
import { MemoryContent } from '../../content.ts';
import type { Spool, Spooling } from '../../content.ts';
import { factsOf } from '../../scene/facts.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { isIdentity } from '../../scene/matrix.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { bodiesOf } from '../bodies.ts';
import { PictureFiles } from '../pictureFiles.ts';
import { XmlText } from '../xml.ts';
import { platformPacker, zipOf } from '../zip.ts';
import { WrittenFile } from '../writer.ts';
import type { FileUnit, WriteOptions, Writer } from '../writer.ts';
import { ThreeMfMaterials } from './materials.ts';
import { writeMesh } from './mesh.ts';
import { SHAPE } from './objects.ts';
import type { ObjectType } from './objects.ts';

export const threeMfWriter: Writer = {
  target: '3mf',
  title: '3MF',
  ending: '3mf',
  units: ['mm', 'm', 'cm', 'in', 'ft'],
  ups: ['z'],
  states: { unit: true, up: true },
  structure: 'tree',
  places: 'own',
  precision: 'single',
  perTriangle: 6,
  levels: 255,
  weldsPoints: true,
  joinsSlots: true,
  carries: { meshes: true,
    tree: true, names: true, instances: 'where their materials are the same too', pivots: true, materials: 'by name and colour; those with a picture by it',
    baseColor: 'in 256 steps; a picture stands instead of it', opacity: 'in 256 steps; a picture stands instead of it',
    uvs: 'of what has a picture', colours: 'where there is no material', colourPictures: true, picturePlaces: IN_COORDINATES,
  }, // prettier-ignore
  write: writeThreeMf,
  rows: async (files) => (await import('../../transmit/read/threeMf.ts')).openThreeMf(files),
};

/** Names of the units there (core specification, 3.1). */
const UNITS: Record<FileUnit, string> = { mm: 'millimeter', m: 'meter', cm: 'centimeter', in: 'inch', ft: 'foot' };

const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02';
const MATERIAL = 'http://schemas.microsoft.com/3dmanufacturing/material/2015/02';
const RELATED = 'http://schemas.microsoft.com/3dmanufacturing/2013/01';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const MODEL = '3D/3dmodel.model';

async function writeThreeMf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'mm', pictures, packer = platformPacker, spool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const files = new PictureFiles(scene, blobs, { codec: pictures, folder: '3D/Textures/' });
  const written = new Written();
  const xml = new XmlText(written);
  xml.begin('model', { unit: UNITS[unit], 'xml:lang': 'en-US', xmlns: CORE, 'xmlns:m': MATERIAL });
  xml.leaf('metadata', { name: 'Title' }, title).leaf('metadata', { name: 'Application' }, 'Noble Prism');
  xml.begin('resources');
  const packing = packer.open();
  const pack = async () => {
    for (const piece of written.taken()) await packing.add(piece);
  };
  const objects = await new Objects(xml, scene, blobs, files, pack).write();
  xml.end();
  xml.within('build', {}, () => {
    for (const { id, transform } of objects)
      xml.leaf('item', { objectid: id, ...placeOf(transform) });
  });
  xml.end();
  xml.content();
  await pack();
  const related = files.files.map((file) => ({ type: `${RELATED}/3dtexture`, target: `/${file.name}` }));
  const entries = [
    { name: '[Content_Types].xml', content: contentTypes().content() },
    { name: '_rels/.rels', content: relationships([{ type: `${RELATED}/3dmodel`, target: `/${MODEL}` }]).content() },
    { name: MODEL, content: await packing.end() },
    ...(related.length > 0 ? [{ name: '3D/_rels/3dmodel.model.rels', content: relationships(related).content() }] : []),
    // Pictures are packed already.
    ...files.files,
  ];
  return [new WrittenFile(`${name}.3mf`, 'model/3mf', zipOf(entries, { spool }))];
} // prettier-ignore

/** What was written and is to be packed. */
class Written implements Spool {
  #pieces: Uint8Array[] = [];

  open(): Spooling {
    return { write: (bytes) => void this.#pieces.push(bytes.slice()), end: () => new MemoryContent() };
  }

  taken(): Uint8Array[] {
    return this.#pieces.splice(0);
  }
}

function contentTypes(): XmlText {
  const xml = new XmlText();
  return xml.within('Types', { xmlns: `${PACKAGE}/content-types` }, () => {
    const types = { rels: `application/vnd.openxmlformats-package.relationships+xml`, model: 'application/vnd.ms-package.3dmanufacturing-3dmodel+xml', png: 'image/png', jpg: 'image/jpeg' }; // prettier-ignore
    for (const [Extension, ContentType] of Object.entries(types)) xml.leaf('Default', { Extension, ContentType });
  });
}

function relationships(list: readonly { type: string; target: string }[]): XmlText {
  const xml = new XmlText();
  return xml.within('Relationships', { xmlns: `${PACKAGE}/relationships` }, () => {
    for (const [i, { type, target }] of list.entries())
      xml.leaf('Relationship', { Id: `rel${i + 1}`, Type: type, Target: target });
  });
}

/** Twelve numbers, rows of three, for points as rows: the same order as our columns. */
function placeOf(transform: Matrix): { transform?: string } {
  if (isIdentity(transform, 0)) return {};
  return { transform: transform.filter((_, i) => i % 4 < 3).map((value) => String(value + 0)).join(' ') };
} // prettier-ignore

/** An object as another one, or the build, places it. */
interface Placed {
  id: number;
  transform: Matrix;
}

class Objects {
  #next = 1;
  /** Shapes by mesh, offset and materials. */
  readonly #shapes = new Map<string, { id: number; type: ObjectType; count: number }>();
  readonly #materials: ThreeMfMaterials;

  constructor(
    readonly xml: XmlText,
    readonly scene: Scene,
    readonly blobs: BlobStore,
    files: PictureFiles,
    /** Packs what is written so far. */
    readonly pack: () => Promise<void>,
  ) {
    this.#materials = new ThreeMfMaterials(xml, scene, files, () => this.#next++);
  }

  /** Writes materials, shapes and rows, what is referred to first. @returns the topmost */
  async write(): Promise<Placed[]> {
    const { scene, xml, blobs } = this;
    const { order } = factsOf(scene);
    const nodes = [...order].map((row) => scene.nodes.row(row));
    await this.#materials.write(nodes);
    const facts = factsOf(scene);
    for (const node of nodes) {
      if (!node.mesh) continue;
      const key = keyOf(node);
      const known = this.#shapes.get(key);
      if (known) known.count++;
      else this.#shapes.set(key, { id: 0, type: 'model', count: 1 });
    }
    // A row without others below it, whose shape nobody else shows, is its shape.
    const isShape = (node: SceneNode) => this.#shapes.get(keyOf(node))?.count === 1 && facts.childrenOf(node.id).length === 0; // prettier-ignore
    for await (const { node, mesh } of bodiesOf(scene, blobs)) {
      const shape = this.#shapes.get(keyOf(node));
      if (!shape || shape.id > 0 || mesh.indices.length === 0) continue;
      const properties = this.#materials.propertiesOf(node, mesh);
      shape.id = this.#next++;
      const about = { id: shape.id, name: node.name, ...(isShape(node) ? {} : { partnumber: SHAPE }) };
      shape.type = writeMesh(xml, about, mesh, properties);
      await this.pack();
    }
    const made = new Map<number, Placed & { type: ObjectType }>();
    const tops: Placed[] = [];
    // What is below comes first: an object may only name those that stand before it.
    for (const node of nodes.reverse()) {
      const placed = this.#row(node, [...facts.childrenOf(node.id)].flatMap((child) => made.get(child) ?? []), isShape(node));
      if (!placed) continue;
      made.set(node.id, placed);
      if (node.parent === null) tops.unshift(placed);
    }
    return tops;
  } // prettier-ignore

  #row(node: SceneNode, below: readonly (Placed & { type: ObjectType })[], isShape: boolean): (Placed & { type: ObjectType }) | undefined {
    const { transform } = node;
    const shape = node.mesh ? this.#shapes.get(keyOf(node)) : undefined;
    if (shape && isShape) return { id: shape.id, type: shape.type, transform };
    const components = [...(shape && shape.id > 0 ? [{ id: shape.id, type: shape.type, transform: undefined }] : []), ...below];
    if (components.length === 0) return undefined;
    const id = this.#next++;
    const type = components.every((component) => component.type === 'model') ? 'model' : 'surface';
    this.xml.begin('object', { id, name: node.name, type }).begin('components');
    for (const component of components)
      this.xml.leaf('component', { objectid: component.id, ...(component.transform ? placeOf(component.transform) : {}) });
    this.xml.end().end();
    return { id, type, transform };
  } // prettier-ignore
}

const keyOf = ({ mesh, offset, materials }: SceneNode) => `${mesh} ${offset?.join(' ') ?? ''} ${materials.join(' ')}`;
