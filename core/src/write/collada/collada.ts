/**
 * Writes a scene as COLLADA 1.4.1 (ISO/PAS 17506): nodes with their places as matrices, shared geometry, materials of the common profile
 * with pictures beside the file, cameras, lights, and a clip for each movement.
 */
import { IN_COORDINATES } from '../placedUvs.ts';
import { ColladaSets } from './sets.ts';
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
import { slotsOf, symbolOf, writeGeometry } from './geometry.ts';
import { ColladaMaterials } from './materials.ts';
import { writeCamera, writeLight } from './optics.ts';
import { matrixText, PLACE } from './placing.ts';

export const colladaWriter: Writer = {
  target: 'dae',
  title: 'COLLADA 1.4.1',
  ending: 'dae',
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['y', 'z'],
  states: { unit: true, up: true },
  structure: 'tree',
  places: 'own',
  precision: 'single',
  perTriangle: 45,
  cleanName: ncName,
  carries: { meshes: true,
    tree: true, names: 'blanks and signs become _', instances: true, layers: 'by names of letters and digits', pivots: true, empties: true, lines: true, normals: true, uvs: true,
    moreUvs: true, colours: true, materials: true, baseColor: 'a picture stands instead of it', opacity: true,
    metalRough: 'roughness as the width of a highlight, no metalness', emission: 'up to full brightness', glass: 'what goes through is opacity',
    colourPictures: true, surfacePictures: 'those of normals only', picturePlaces: IN_COORDINATES,
    cameras: true, lights: 'brightness in the colour', movements: true,
  }, // prettier-ignore
  write: writeCollada,
  rows: async (files) => (await import('../../transmit/read/collada.ts')).openCollada(files),
};

/** A name as the schema takes it: letters of any writing, digits, points, hyphens and underscores, beginning with a letter. */
function ncName(name: string): string {
  const clean = name.replace(/[^\p{L}\p{N}._-]/gu, '_');
  return /^[\p{L}_]/u.test(clean) ? clean : `_${clean}`;
}

const NAMES: Record<FileUnit, string> = { m: 'meter', cm: 'centimeter', mm: 'millimeter', in: 'inch', ft: 'foot' };

async function writeCollada(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', up = 'y', pictures, spool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const files = new PictureFiles(scene, blobs, { codec: pictures });
  const document = new ColladaText(scene, blobs, files, spool);
  const content = await document.write(title, unit, up);
  return [new WrittenFile(`${name}.dae`, 'model/vnd.collada+xml', content), ...files.files];
}

/** The same content is the same file: no time of making stands in it. */
const STAMP = '1980-01-01T00:00:00Z';

class ColladaText {
  readonly #xml: XmlText;
  readonly #ids = new XmlIds();
  readonly #materials: ColladaMaterials;
  /** Ids of geometries, by mesh and offset. */
  readonly #geometries = new Map<string, { id: string; slots: number[]; sets: number }>();
  #sets = new ColladaSets([], keyOf, () => []);
  readonly #nodes = new Map<number, string>();
  readonly #optics = new Map<number, string>();

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    files: PictureFiles,
    spool?: Spool,
  ) {
    this.#xml = new XmlText(spool);
    this.#materials = new ColladaMaterials(this.#xml, scene, files, this.#ids);
  }

  async write(title: string, unit: FileUnit, up: 'y' | 'z'): Promise<Content> {
    const { scene } = this;
    const xml = this.#xml;
    const nodes = [...factsOf(scene).order].map((row) => scene.nodes.row(row));
    for (const node of nodes) this.#nodes.set(node.id, this.#ids.next(node.name));
    xml.begin('COLLADA', { xmlns: 'http://www.collada.org/2005/11/COLLADASchema', version: '1.4.1' });
    xml.within('asset', {}, () => {
      xml.within('contributor', {}, () => xml.leaf('authoring_tool', {}, 'Noble Prism'));
      xml.leaf('created', {}, STAMP).leaf('modified', {}, STAMP).leaf('title', {}, title);
      xml.leaf('unit', { name: NAMES[unit], meter: LENGTH_UNITS[unit] }).leaf('up_axis', {}, `${up.toUpperCase()}_UP`);
    });
    this.#writeOptics(nodes);
    await this.#materials.write(nodes);
    this.#sets = new ColladaSets(nodes, keyOf, (id) => this.#materials.idOf(id)?.uses ?? []);
    await this.#writeGeometries(nodes);
    const keys = await keysOf(scene, this.blobs);
    writeAnimations(xml, scene, nodes, keys, this.#nodes, this.#ids);
    const id = this.#ids.next('Scene');
    xml.begin('library_visual_scenes').begin('visual_scene', { id, name: ncName(title) });
    await walkRows(
      scene,
      (node) => this.#begin(node),
      () => xml.end(),
    );
    xml.end().end();
    xml.within('scene', {}, () => xml.leaf('instance_visual_scene', { url: `#${id}` })).end();
    return xml.content();
  }

  #writeOptics(nodes: readonly SceneNode[]): void {
    const xml = this.#xml;
    const write = (library: string, of: (node: SceneNode) => boolean, one: (node: SceneNode, id: string) => void) => {
      const own = nodes.filter(of);
      if (own.length === 0) return;
      xml.within(library, {}, () => {
        for (const node of own) {
          const id = this.#ids.next(`${node.name}_optics`);
          this.#optics.set(node.id, id);
          one(node, id);
        }
      });
    };
    write('library_cameras', (node) => node.camera !== undefined, ({ camera, name }, id) => camera && writeCamera(xml, camera, id, name)); // prettier-ignore
    write('library_lights', hasLight, ({ light, name }, id) => light && writeLight(xml, light, id, name));
  }

  async #writeGeometries(nodes: readonly SceneNode[]): Promise<void> {
    const xml = this.#xml;
    if (!nodes.some(({ mesh }) => mesh)) return;
    xml.begin('library_geometries');
    for (const node of nodes) {
      if (!node.mesh || this.#geometries.has(keyOf(node))) continue;
      const mesh = placedMesh(unpackMesh(await this.blobs.get(node.mesh)), node.offset ?? IDENTITY);
      const id = this.#ids.next(`${node.name}_shape`);
      const uvs = mesh.uvs ?? [];
      writeGeometry(xml, { ...mesh, uvs: this.#sets.written(keyOf(node), uvs) }, id, node.name);
      this.#geometries.set(keyOf(node), { id, slots: slotsOf(mesh), sets: uvs.length });
    }
    xml.end();
  }

  #begin(node: SceneNode): void {
    const xml = this.#xml;
    const { layer, name } = node;
    const about = { id: this.#nodes.get(node.id), name, type: 'NODE', layer: layer === null ? undefined : layerName(layer) }; // prettier-ignore
    xml.begin('node', about);
    xml.leaf('matrix', { sid: PLACE }, matrixText(node.transform));
    const optics = this.#optics.get(node.id);
    if (node.camera && optics) xml.leaf('instance_camera', { url: `#${optics}` });
    if (node.mesh) this.#writeInstance(node);
    if (hasLight(node) && optics) xml.leaf('instance_light', { url: `#${optics}` });
  }

  #writeInstance(node: SceneNode): void {
    const xml = this.#xml;
    const { id, slots, sets } = this.#geometries.get(keyOf(node)) ?? { id: '', slots: [], sets: 0 };
    const bound = slots.flatMap((slot) => {
      const material = this.#materials.idOf(materialOfSlot(node, slot));
      return material === undefined ? [] : [{ symbol: symbolOf(slot), material }];
    });
    xml.begin('instance_geometry', { url: `#${id}` });
    if (bound.length > 0) {
      xml.begin('bind_material').begin('technique_common');
      for (const { symbol, material } of bound) {
        xml.begin('instance_material', { symbol, target: `#${material.id}` });
        for (const [i, use] of material.uses.entries())
          xml.leaf('bind_vertex_input', { semantic: `UV${i}`, input_semantic: 'TEXCOORD', input_set: this.#sets.setOf(keyOf(node), use, sets) }); // prettier-ignore
        xml.end();
      }
      xml.end().end();
    }
    xml.end();
  }
}

const hasLight = ({ light }: SceneNode) => light !== undefined && light.type !== 'ambient';
const keyOf = ({ mesh, offset }: SceneNode) => `${mesh} ${offset?.join(' ') ?? ''}`;
const layerName = (layer: string) => layer.normalize('NFKD').replace(/[^A-Za-z0-9_.-]+/g, '_').replace(/^([^A-Za-z_])/, '_$1'); // prettier-ignore
