/**
 * Writes parts as OBJ with its materials (MTL) and pictures beside it: an object for each part, every point where it stands in the world.
 * Colours of points follow their positions, and materials have the physically based keys, both in common use though in no standard.
 */
import type { PlacedMesh } from '../../mesh/placed.ts';
import { srgbFromLinear } from '../../finish/colour.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { bodiesOf } from '../bodies.ts';
import { PictureFiles } from '../pictureFiles.ts';
import { decimalsFor, NEWLINE, Pieces } from '../pieces.ts';
import { WrittenFile } from '../writer.ts';
import type { WriteOptions, Writer } from '../writer.ts';
import { writeMtl } from './mtl.ts';

export const objWriter: Writer = {
  target: 'obj',
  title: 'OBJ with materials',
  ending: 'obj',
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['y', 'z'],
  states: { unit: false, up: false },
  structure: 'parts',
  places: 'baked',
  precision: 'double',
  perTriangle: 70,
  uniqueNames: true,
  joinsSlots: true,
  // Signs that would end a name, or begin a comment.
  cleanName: (name) =>
    name
      .replace(/[\u0000-\u001f#\\]+/g, '_')
      .replace(/\s+/g, ' ')
      .trim() || 'Part',
  carries: { meshes: true,
    names: 'equal ones numbered', instances: 'written out each', pivots: 'written into the points', lines: 'without their materials', points: 'without their materials', normals: true, uvs: true, colours: 'without opacity', materials: true,
    baseColor: true, opacity: true, metalRough: true, emission: 'up to full brightness', sides: 'not said', colourPictures: true,
    surfacePictures: 'roughness and metalness apart, as grey pictures; no occlusion', picturePlaces: 'scale and offset, no turn',
  }, // prettier-ignore
  write: writeObj,
  rows: async (files, told) => (await import('../../transmit/read/source.ts')).openSource(files, told),
};

async function writeObj(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', up = 'y', pictures, spool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const text = new Pieces(spool);
  text.text(`# ${title.replace(/\s+/g, ' ')}\n# Noble Prism; unit ${unit}, ${up} up\nmtllib ${name}.mtl\n`);
  const writer = new ObjBodies(text, scene);
  for await (const { node, mesh } of bodiesOf(scene, blobs)) writer.write(node, mesh);
  const files = new PictureFiles(scene, blobs, { codec: pictures });
  const materials = [...writer.materials].map((id) => scene.materials[id] ?? NO_MATERIAL);
  const mtl = await writeMtl(materials, files);
  return [
    new WrittenFile(`${name}.obj`, 'model/obj', text.content()),
    new WrittenFile(`${name}.mtl`, 'model/mtl', mtl),
    ...files.files,
  ];
}

const [SLASH, BLANK] = [47, 32];
/** Decimals of normals, of texture coordinates and of colours. */
const [NORMAL, UV, COLOUR] = [6, 7, 6];

class ObjBodies {
  /** Ids of the materials that are used, in their order. */
  readonly materials = new Set<string>();
  /** Points, texture coordinates and normals so far: they are numbered through the whole file. */
  #points = 0;
  #uvs = 0;
  #normals = 0;

  constructor(
    readonly text: Pieces,
    readonly scene: Scene,
  ) {}

  write(node: SceneNode, mesh: PlacedMesh): void {
    const { text } = this;
    text.text(`o ${node.name}\n`);
    if (mesh.positions.length === 0) return this.#lines(mesh.edges);
    this.#positions(mesh.positions, mesh.colours);
    const count = mesh.positions.length / 3;
    if (mesh.indices.length === 0) {
      for (let i = 1; i <= count; i++)
        text
          .text('p ')
          .whole(this.#points + i)
          .sign(NEWLINE);
      this.#points += count;
      return;
    }
    const [uvs] = mesh.uvs ?? [];
    // The origin of pictures is lower left there.
    if (uvs)
      for (let i = 0; i < uvs.length; i += 2)
        text.text('vt ').number(uvs[i], UV).sign(BLANK).number(1 - uvs[i + 1], UV).sign(NEWLINE); // prettier-ignore
    for (let i = 0; i < mesh.normals.length; i += 3) text.text('vn ').numbers(mesh.normals, i, 3, NORMAL).sign(NEWLINE);
    this.#faces(node, mesh, uvs !== undefined);
    this.#points += count;
    this.#normals += mesh.normals.length / 3;
    this.#uvs += (uvs?.length ?? 0) / 2;
  }

  #positions(positions: ArrayLike<number>, colours?: Float32Array): void {
    const { text } = this;
    const decimals = decimalsOf(positions);
    for (let i = 0; i < positions.length; i += 3) {
      text.text('v ').numbers(positions, i, 3, decimals);
      const at = (i / 3) * 4;
      for (let k = 0; colours && k < 3; k++) text.sign(BLANK).number(srgbFromLinear(colours[at + k]), COLOUR);
      text.sign(NEWLINE);
    }
  }

  #faces(node: SceneNode, { groups, indices }: PlacedMesh, hasUvs: boolean): void {
    const { text } = this;
    for (const { slot, start, count } of groups) {
      if (count === 0) continue;
      const id = materialOfSlot(node, slot);
      this.materials.add(id);
      text.text(`usemtl ${(this.scene.materials[id] ?? NO_MATERIAL).name}\n`);
      for (let i = start; i < start + count; i += 3) {
        text.sign(F);
        for (let k = 0; k < 3; k++) {
          const corner = indices[i + k] + 1;
          text
            .sign(BLANK)
            .whole(this.#points + corner)
            .sign(SLASH);
          if (hasUvs) text.whole(this.#uvs + corner);
          text.sign(SLASH).whole(this.#normals + corner);
        }
        text.sign(NEWLINE);
      }
    }
  }

  #lines(points: ArrayLike<number>): void {
    const { text } = this;
    this.#positions(points);
    for (let i = 1; i <= points.length / 3; i += 2)
      text.text('l ').whole(this.#points + i).sign(BLANK).whole(this.#points + i + 1).sign(NEWLINE); // prettier-ignore
    this.#points += points.length / 3;
  }
}

const F = 102;

/** Decimals for the size of what is written, not for where it stands: digits before the point are not counted. */
function decimalsOf(positions: ArrayLike<number>): number {
  let reach = 0;
  for (let i = 3; i < positions.length; i++) reach = Math.max(reach, Math.abs(positions[i] - positions[i % 3]));
  return Math.min(9, decimalsFor(reach));
}
