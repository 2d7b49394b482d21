/**
 * Writes a scene as X3D (ISO/IEC 19775-1, in XML by 19776-1): transforms below transforms, shapes that are used again, materials with
 * pictures beside the file, viewpoints, lights, and a clock for each movement. Version 4.0 has physical materials; older readers know
 * those of 3.3, which have a colour, a highlight and one picture.
 */
import type { Content, Spool } from '../../content.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { keysOf } from '../../scene/motion.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import { PictureFiles } from '../pictureFiles.ts';
import { walkRows } from '../walk.ts';
import { XmlIds, XmlText } from '../xml.ts';
import { WrittenFile } from '../writer.ts';
import type { FileUnit, WriteOptions, Writer } from '../writer.ts';
import { writeAnimations } from './animations.ts';
import { X3dGeometries } from './geometry.ts';
import { X3dClassicMaterials } from './classicMaterials.ts';
import { X3dMaterials } from './materials.ts';
import { writeOptics } from './optics.ts';
import { placeOf } from './placing.ts';

type Version = '4.0' | '3.3';

const common: Omit<Writer, 'target' | 'title' | 'write'> = {
  ending: 'x3d',
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['y'],
  states: { unit: true, up: true },
  structure: 'tree',
  places: 'own',
  precision: 'single',
  perTriangle: 45,
  carries: { meshes: true,
    tree: true, names: true, instances: true, layers: 'as data of the row (metadata)', pivots: true, empties: true, lines: true,
    points: 'without their materials', normals: true, uvs: true, colours: true, materials: true, baseColor: true, opacity: true,
    metalRough: true, emission: 'up to full brightness', glass: 'what goes through is opacity', sides: 'said of the geometry',
    colourPictures: true, surfacePictures: true, picturePlaces: 'scale and offset, no turn', cameras: true, lights: true, movements: true,
    metadata: 'class as data of the row (metadata)',
  }, // prettier-ignore
  notes: { names: 'in full as data of the row, in letters and digits as its DEF' },
  rows: async (files) => (await import('../../transmit/read/x3d.ts')).openX3d(files),
};

export const x3dWriter: Writer = {
  ...common,
  target: 'x3d',
  title: 'X3D 4.0',
  write: (scene, blobs, name, options) => writeX3d(scene, blobs, name, options, '4.0'),
};

const { surfacePictures: _, ...carriedByAll } = common.carries;

/** For older tools: a surface is a colour with a highlight. */
export const x3d33Writer: Writer = {
  ...common,
  target: 'x3d33',
  title: 'X3D 3.3',
  carries: {
    ...carriedByAll,
    baseColor: 'a picture stands instead of it',
    metalRough: 'width and colour of the highlight',
  },
  write: (scene, blobs, name, options) => writeX3d(scene, blobs, name, options, '3.3'),
};

const UNITS: Record<FileUnit, string> = { m: 'metre', cm: 'centimetre', mm: 'millimetre', in: 'inch', ft: 'foot' };

async function writeX3d(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', pictures, spool }: WriteOptions = {},
  version: Version,
): Promise<WrittenFile[]> {
  const files = new PictureFiles(scene, blobs, { codec: pictures });
  const content = await new X3dText(scene, blobs, files, version, spool).write(title, unit);
  return [new WrittenFile(`${name}.x3d`, 'model/x3d+xml', content), ...files.files];
}

class X3dText {
  readonly #xml: XmlText;
  readonly #ids = new XmlIds();
  readonly #names = new Map<number, string>();
  readonly #geometries: X3dGeometries;
  readonly #materials: X3dMaterials;

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    files: PictureFiles,
    readonly version: Version,
    spool?: Spool,
  ) {
    this.#xml = new XmlText(spool);
    this.#geometries = new X3dGeometries(this.#xml, this.#ids);
    const Materials = version === '4.0' ? X3dMaterials : X3dClassicMaterials;
    this.#materials = new Materials(this.#xml, scene, files, this.#ids);
  }

  async write(title: string, unit: FileUnit): Promise<Content> {
    const { scene } = this;
    const xml = this.#xml;
    const facts = factsOf(scene);
    for (const row of facts.order) this.#names.set(row, this.#ids.next(scene.nodes.text('name', row)));
    xml.begin('X3D', { profile: 'Full', version: this.version });
    xml.within('head', {}, () => {
      // The only element whose order matters: units come before what is said of the file.
      if (unit !== 'm') xml.leaf('unit', { category: 'length', name: UNITS[unit], conversionFactor: LENGTH_UNITS[unit] });
      xml.leaf('meta', { name: 'title', content: title }).leaf('meta', { name: 'generator', content: 'Noble Prism' });
    });
    xml.begin('Scene');
    await walkRows(scene, (node) => this.#begin(node), () => xml.end()); // prettier-ignore
    writeAnimations(xml, scene, await keysOf(scene, this.blobs), this.#names, this.#ids);
    return xml.end().end().content();
  } // prettier-ignore

  async #begin(node: SceneNode): Promise<void> {
    const xml = this.#xml;
    const { name, layer, class: type, mesh } = node;
    const own = this.#names.get(node.id) as string;
    xml.begin('Transform', { DEF: own, ...placeOf(node.transform) });
    const data = Object.entries({ name: name === own ? undefined : name, layer, class: type }).filter(([, value]) => value); // prettier-ignore
    // A row has one piece of data; several are a set.
    if (data.length > 1) xml.begin('MetadataSet', { name: 'row', containerField: 'metadata' });
    for (const [key, value] of data)
      xml.leaf('MetadataString', { name: key, value: quoted(String(value)), containerField: data.length > 1 ? 'value' : 'metadata' }); // prettier-ignore
    if (data.length > 1) xml.end();
    writeOptics(xml, node);
    if (mesh) await this.#shapes(node, mesh);
  }

  async #shapes(node: SceneNode, hash: string): Promise<void> {
    const key = `${hash} ${node.offset?.join(' ') ?? ''}`;
    const known = this.#geometries.known(key);
    const load = async () => placedMesh(unpackMesh(await this.blobs.get(hash)), node.offset ?? IDENTITY);
    let mesh = known ? undefined : await load();
    const slots = known ?? this.#geometries.enter(key, mesh!, node.name);
    for (const slot of slots) {
      const id = materialOfSlot(node, slot);
      await this.#materials.prepare(id);
      this.#xml.begin('Shape');
      if (node.materials.length > 0 && id !== 'none') this.#materials.write(id);
      const isDouble = this.#materials.isDoubleSided(id);
      if (!this.#geometries.isWritten(key, slot, isDouble)) mesh ??= await load();
      this.#geometries.write(key, slot, mesh, isDouble);
      this.#xml.end();
    }
  }
}

/** A value of a list of texts. */
const quoted = (text: string) => `"${text.replace(/[\\"]/g, '\\$&')}"`;
