/**
 * Writes all triangles of a scene as one binary PLY (polygon file format): points with normals, texture coordinates and colours. The
 * colours of materials are painted onto the points, as the format has no materials.
 */
import { srgbFromLinear } from '../finish/colour.ts';
import type { PlacedMesh } from '../mesh/placed.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene, SceneNode } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { bodiesOf } from './bodies.ts';
import type { WriteOptions, Writer, WrittenFile } from './writer.ts';

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
  carries: { meshes: true, instances: 'written out each', pivots: 'written into the points', normals: true, uvs: true, colours: true, baseColor: 'painted onto the points', opacity: 'painted onto the points' },
  write: writePly,
  rows: async (files, told) => (await import('../transmit/read/source.ts')).openSource(files, told),
}; // prettier-ignore

/** A run of points that show one material, and the triangles between them. */
interface Run {
  points: number;
  triangles: number;
  write(view: DataView, at: Place): void;
}

/** Where the next point and the next triangle are written, and which number the next point has. */
interface Place {
  point: number;
  triangle: number;
  number: number;
}

const [FLOAT, DOUBLE, TRIANGLE] = [4, 8, 13];
/** Farther out, in units of the file, points are in double precision. */
const FAR = 4096;

async function writePly(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', up = 'z' }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const parts: { node: SceneNode; mesh: PlacedMesh }[] = [];
  let isFar = false;
  let hasUvs = false;
  for await (const part of bodiesOf(scene, blobs)) {
    if (part.mesh.indices.length === 0) continue;
    parts.push(part);
    hasUvs ||= part.mesh.uvs !== undefined;
    isFar ||= part.mesh.positions.some((value) => Math.abs(value) > FAR);
  }
  const size = isFar ? DOUBLE : FLOAT;
  const stride = 3 * size + 3 * FLOAT + (hasUvs ? 2 * FLOAT : 0) + 4;
  const runs = parts.flatMap(({ node, mesh }) =>
    mesh.groups.flatMap(({ slot, start, count }) =>
      count === 0 ? [] : [runOf(scene, node, mesh, slot, start, count, { size, hasUvs, stride })],
    ),
  );
  const points = runs.reduce((sum, run) => sum + run.points, 0);
  const triangles = runs.reduce((sum, run) => sum + run.triangles, 0);
  const head = new TextEncoder().encode(
    [
      'ply',
      'format binary_little_endian 1.0',
      `comment Noble Prism; unit ${unit}; ${up} up`,
      `comment ${title.replace(/[\r\n]+/g, ' ')}`,
      `element vertex ${points}`,
      ...['x', 'y', 'z'].map((axis) => `property ${isFar ? 'double' : 'float'} ${axis}`),
      ...['nx', 'ny', 'nz', ...(hasUvs ? ['s', 't'] : [])].map((value) => `property float ${value}`),
      ...['red', 'green', 'blue', 'alpha'].map((value) => `property uchar ${value}`),
      `element face ${triangles}`,
      'property list uchar int vertex_indices',
      'end_header\n',
    ].join('\n'),
  );
  const bytes = new Uint8Array(head.length + points * stride + triangles * TRIANGLE);
  bytes.set(head);
  const place = { point: head.length, triangle: head.length + points * stride, number: 0 };
  const view = new DataView(bytes.buffer);
  for (const run of runs) run.write(view, place);
  return [{ name: `${name}.ply`, mime: 'model/ply', bytes }];
}

interface Layout {
  /** Bytes of a coordinate, and of a point. */
  size: number;
  stride: number;
  hasUvs: boolean;
}

function runOf(
  scene: Scene,
  node: SceneNode,
  { positions, normals, uvs, colours, indices }: PlacedMesh,
  slot: number,
  start: number,
  count: number,
  { size, hasUvs }: Layout,
): Run {
  // Points of a group get numbers of their own: another group would paint them otherwise.
  const numbers = new Map<number, number>();
  const own = new Uint32Array(count);
  for (let i = 0; i < count; i++) {
    const index = indices[start + i];
    let number = numbers.get(index);
    if (number === undefined) numbers.set(index, (number = numbers.size));
    own[i] = number;
  }
  const { baseColor, opacity } = scene.materials[materialOfSlot(node, slot)] ?? NO_MATERIAL;
  const write = (view: DataView, place: Place) => {
    let at = place.point;
    const float = (value: number) => {
      view.setFloat32(at, value, true);
      at += FLOAT;
    };
    const coordinate = (value: number) => {
      if (size === FLOAT) view.setFloat32(at, value, true);
      else view.setFloat64(at, value, true);
      at += size;
    };
    for (const index of numbers.keys()) {
      for (let k = 0; k < 3; k++) coordinate(positions[index * 3 + k]);
      for (let k = 0; k < 3; k++) float(normals[index * 3 + k]);
      // The origin of pictures is lower left there.
      if (hasUvs) float(uvs?.[0][index * 2] ?? 0);
      if (hasUvs) float(1 - (uvs?.[0][index * 2 + 1] ?? 0));
      for (let k = 0; k < 4; k++) {
        const painted = (colours?.[index * 4 + k] ?? 1) * (k < 3 ? baseColor[k] : opacity);
        view.setUint8(at++, Math.round((k < 3 ? srgbFromLinear(painted) : painted) * 255));
      }
    }
    let next = place.triangle;
    for (let i = 0; i < count; i += 3, next += TRIANGLE) {
      view.setUint8(next, 3);
      for (let k = 0; k < 3; k++) view.setInt32(next + 1 + k * 4, place.number + own[i + k], true);
    }
    place.point = at;
    place.triangle = next;
    place.number += numbers.size;
  };
  return { points: numbers.size, triangles: count / 3, write };
}
