/** Writes all triangles of a scene as one binary STL (stereolithography). The unit, which the format does not know, stands in the head of the file. */
import { memorySpool } from '../content.ts';
import { PrismError } from '../errors.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { bodiesOf, trianglesIn } from './bodies.ts';
import { WrittenFile } from './writer.ts';
import type { WriteOptions, Writer } from './writer.ts';

export const stlWriter: Writer = {
  target: 'stl',
  title: 'STL',
  ending: 'stl',
  units: ['mm', 'm', 'cm', 'in', 'ft'],
  ups: ['z', 'y'],
  states: { unit: false, up: false },
  structure: 'body',
  places: 'baked',
  precision: 'single',
  perTriangle: 50,
  carries: {
    meshes: true,
    instances: 'written out each',
    pivots: 'written into the points',
    normals: 'those of the triangles themselves',
  },
  write: writeStl,
  rows: async (files, told) => (await import('../transmit/read/source.ts')).openSource(files, told),
};

/** Bytes of the head, of the number of triangles, and of each of these. */
const [HEAD, COUNT, TRIANGLE] = [80, 4, 50];
/** The number of triangles has 32 bits. */
const MOST = 0xffffffff;

/** @throws PrismError `too-large` for more triangles than the format can count */
async function writeStl(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'mm', up = 'z', spool = memorySpool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const count = trianglesIn(scene);
  if (count > MOST) throw new PrismError('too-large', `STL counts ${MOST} triangles at most; there are ${count}.`);
  const head = new Uint8Array(HEAD + COUNT);
  // A head that begins with “solid” would say that it is a text.
  const words = `Noble Prism; unit ${unit}; ${up} up; ${title.normalize('NFKD').replace(/[^ -~]/g, '')}`;
  head.set(new TextEncoder().encode(words.slice(0, HEAD).padEnd(HEAD)), 0);
  new DataView(head.buffer).setUint32(HEAD, count, true);
  const file = spool.open();
  file.write(head);
  for await (const { mesh } of bodiesOf(scene, blobs)) {
    const { positions: p, indices } = mesh;
    const bytes = new Uint8Array((indices.length / 3) * TRIANGLE);
    const view = new DataView(bytes.buffer);
    for (let i = 0, at = 0; i < indices.length; i += 3, at += TRIANGLE) {
      const [a, b, c] = [indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3];
      writeNormal(view, at, p, a, b, c);
      for (let k = 0; k < 3; k++) {
        view.setFloat32(at + 12 + k * 4, p[a + k], true);
        view.setFloat32(at + 24 + k * 4, p[b + k], true);
        view.setFloat32(at + 36 + k * 4, p[c + k], true);
      }
    }
    file.write(bytes);
  }
  return [new WrittenFile(`${name}.stl`, 'model/stl', file.end())];
}

/** Of the triangle itself, by its corners counter-clockwise; none of one without area. */
function writeNormal(view: DataView, at: number, p: ArrayLike<number>, a: number, b: number, c: number): void {
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(x, y, z) || 1;
  view.setFloat32(at, x / length, true);
  view.setFloat32(at + 4, y / length, true);
  view.setFloat32(at + 8, z / length, true);
}
