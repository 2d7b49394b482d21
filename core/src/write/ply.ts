/**
 * Writes all triangles of a scene as one binary PLY (polygon file format): points with normals, texture coordinates and colours. The
 * colours of materials are painted onto the points, as the format has no materials. Clouds of points are a file of their own, as readers
 * take points that no face has for what was left over.
 */
import { memorySpool } from '../content.ts';
import type { Content, Spool } from '../content.ts';
import { srgbFromLinear } from '../finish/colour.ts';
import type { PlacedMesh } from '../mesh/placed.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Material, Scene, SceneNode } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { bodiesOf } from './bodies.ts';
import { WrittenFile } from './writer.ts';
import type { WriteOptions, Writer } from './writer.ts';

export const plyWriter: Writer = {
  target: 'ply',
  title: 'PLY',
  ending: 'ply',
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['z', 'y'],
  states: { unit: false, up: false },
  structure: 'body',
  places: 'baked',
  precision: 'single',
  perTriangle: 27,
  levels: 255,
  paintsPoints: true,
  carries: { meshes: true, instances: 'written out each', pivots: 'written into the points', points: 'as one cloud, beside triangles in a file of its own', normals: true, uvs: true, colours: true, baseColor: 'painted onto the points', opacity: 'painted onto the points' },
  write: writePly,
  async rows(files, told) {
    const { openSource } = await import('../transmit/read/source.ts');
    const rows = await Promise.all(files.map((file) => openSource([file], told)));
    return rows.flat();
  },
}; // prettier-ignore

/** Ending of the name of the file that has the clouds, where there are triangles too. */
const CLOUDS = '_points';

const [FLOAT, DOUBLE, TRIANGLE] = [4, 8, 13];
/** Farther out, in units of the file, points are in double precision. */
const FAR = 4096;

async function writePly(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', up = 'z', spool = memorySpool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  // The head says what all points have, and how many there are: once through for it, and once more to write.
  const all: Layout = { points: 0, triangles: 0, isFar: false, hasUvs: false, hasNormals: true };
  const clouds: Layout = { points: 0, triangles: 0, isFar: false, hasUvs: false, hasNormals: false };
  for await (const { mesh } of bodiesOf(scene, blobs)) {
    const layout = isCloud(mesh) ? clouds : all;
    layout.isFar ||= mesh.positions.some((value) => Math.abs(value) > FAR);
    if (isCloud(mesh)) {
      clouds.points += mesh.positions.length / 3;
      continue;
    }
    all.hasUvs ||= mesh.uvs !== undefined;
    for (const run of runsOf(mesh)) {
      all.points += run.points.length;
      all.triangles += run.corners.length / 3;
    }
  }
  const comments = [`Noble Prism; unit ${unit}; ${up} up`, title.replace(/[\r\n]+/g, ' ')];
  const file = (called: string, content: Content) => new WrittenFile(`${called}.ply`, 'model/ply', content);
  const written: WrittenFile[] = [];
  if (all.points > 0 || clouds.points === 0)
    written.push(file(name, await trianglesOf(scene, blobs, all, comments, spool)));
  if (clouds.points > 0) written.push(file(all.points > 0 ? name + CLOUDS : name, await cloudsOf(scene, blobs, clouds, comments, spool))); // prettier-ignore
  return written;
}

const isCloud = ({ positions, indices }: PlacedMesh) => positions.length > 0 && indices.length === 0;

async function cloudsOf(
  scene: Scene,
  blobs: BlobStore,
  layout: Layout,
  comments: readonly string[],
  spool: Spool,
): Promise<Content> {
  const file = spool.open();
  file.write(headOf(layout, comments));
  for await (const { node, mesh } of bodiesOf(scene, blobs)) {
    if (!isCloud(mesh)) continue;
    const points = Uint32Array.from({ length: mesh.positions.length / 3 }, (_, i) => i);
    file.write(pointsOf({ points }, mesh, paintOf(scene, node, 0, mesh), layout));
  }
  return file.end();
}

type Paint = Pick<Material, 'baseColor' | 'opacity'>;

/** What has colours and no material shows its colours as they are. */
function paintOf({ materials }: Scene, node: SceneNode, slot: number, { colours }: PlacedMesh): Paint {
  const material = materials[materialOfSlot(node, slot)] ?? NO_MATERIAL;
  return colours && material.id === NO_MATERIAL.id ? { baseColor: [1, 1, 1], opacity: 1 } : material;
}

async function trianglesOf(
  scene: Scene,
  blobs: BlobStore,
  layout: Layout,
  comments: readonly string[],
  spool: Spool,
): Promise<Content> {
  const file = spool.open();
  file.write(headOf(layout, comments));
  const faces = spool.open();
  let points = 0;
  for await (const { node, mesh } of bodiesOf(scene, blobs)) {
    if (mesh.indices.length === 0) continue;
    for (const run of runsOf(mesh)) {
      file.write(pointsOf(run, mesh, paintOf(scene, node, run.slot, mesh), layout));
      faces.write(facesOf(run, points));
      points += run.points.length;
    }
  }
  for (const piece of faces.end().pieces()) file.write(piece);
  return file.end();
}

interface Layout {
  points: number;
  triangles: number;
  isFar: boolean;
  hasUvs: boolean;
  hasNormals: boolean;
}

function headOf({ points, triangles, isFar, hasUvs, hasNormals }: Layout, comments: readonly string[]): Uint8Array {
  const lines = [
    'ply',
    'format binary_little_endian 1.0',
    ...comments.map((comment) => `comment ${comment}`),
    `element vertex ${points}`,
    ...['x', 'y', 'z'].map((axis) => `property ${isFar ? 'double' : 'float'} ${axis}`),
    ...[...(hasNormals ? ['nx', 'ny', 'nz'] : []), ...(hasUvs ? ['s', 't'] : [])].map(
      (value) => `property float ${value}`,
    ),
    ...['red', 'green', 'blue', 'alpha'].map((value) => `property uchar ${value}`),
    ...(triangles > 0 ? [`element face ${triangles}`, 'property list uchar int vertex_indices'] : []),
    'end_header\n',
  ];
  return new TextEncoder().encode(lines.join('\n'));
}

/** A run of points that show one material, and the triangles between them: another run would paint them otherwise. */
interface Run {
  slot: number;
  /** Numbers of its points in the mesh. */
  points: Uint32Array;
  /** Corners of its triangles, as numbers of its points. */
  corners: Uint32Array;
}

function* runsOf({ groups, indices, positions }: PlacedMesh): Iterable<Run> {
  // The number that a point has in the run, plus one; none yet where that is of another run.
  const numbers = new Uint32Array(positions.length / 3);
  for (const { slot, start, count } of groups) {
    if (count === 0) continue;
    numbers.fill(0);
    const points = new Uint32Array(Math.min(count, numbers.length));
    const corners = new Uint32Array(count);
    let next = 0;
    for (let i = 0; i < count; i++) {
      const index = indices[start + i];
      if (numbers[index] === 0) {
        points[next++] = index;
        numbers[index] = next;
      }
      corners[i] = numbers[index] - 1;
    }
    yield { slot, points: points.subarray(0, next), corners };
  }
}

function pointsOf(
  { points }: Pick<Run, 'points'>,
  { positions, normals, uvs, colours }: PlacedMesh,
  { baseColor, opacity }: Paint,
  { isFar, hasUvs, hasNormals }: Layout,
): Uint8Array {
  const bytes = new Uint8Array(points.length * (3 * (isFar ? DOUBLE : FLOAT) + (hasNormals ? 3 * FLOAT : 0) + (hasUvs ? 2 * FLOAT : 0) + 4));
  const view = new DataView(bytes.buffer);
  let at = 0;
  const float = (value: number) => {
    view.setFloat32(at, value, true);
    at += FLOAT;
  };
  for (const index of points) {
    for (let k = 0; k < 3; k++) {
      if (!isFar) {
        float(positions[index * 3 + k]);
        continue;
      }
      view.setFloat64(at, positions[index * 3 + k], true);
      at += DOUBLE;
    }
    for (let k = 0; hasNormals && k < 3; k++) float(normals[index * 3 + k]);
    // The origin of pictures is lower left there.
    if (hasUvs) float(uvs?.[0][index * 2] ?? 0);
    if (hasUvs) float(1 - (uvs?.[0][index * 2 + 1] ?? 0));
    for (let k = 0; k < 4; k++) {
      const painted = (colours?.[index * 4 + k] ?? 1) * (k < 3 ? baseColor[k] : opacity);
      view.setUint8(at++, Math.round((k < 3 ? srgbFromLinear(painted) : painted) * 255));
    }
  }
  return bytes;
} // prettier-ignore

/** @param from number of the first point of the run in the file */
function facesOf({ corners }: Run, from: number): Uint8Array {
  const bytes = new Uint8Array((corners.length / 3) * TRIANGLE);
  const view = new DataView(bytes.buffer);
  for (let i = 0, at = 0; i < corners.length; i += 3, at += TRIANGLE) {
    view.setUint8(at, 3);
    for (let k = 0; k < 3; k++) view.setInt32(at + 1 + k * 4, from + corners[i + k], true);
  }
  return bytes;
}
