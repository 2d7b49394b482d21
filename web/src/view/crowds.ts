/**
 * Crowds: small parts that each are placed once, many of them, drawn together as one. A building has ten thousand shapes of its own;
 * as many draw calls would take the page longer than a frame may last.
 */
import { BufferAttribute, BufferGeometry } from 'three';
import { multiplyAt, STRIDE } from '@noble-prism/core/scene/places';
import type { Scene } from '@noble-prism/core/scene/types';
import type { ViewGeometry } from './geometry.ts';

/** Shapes of a scene from which on parts are drawn in crowds: fewer are drawn one by one. */
export const LEAST = 400;
/** Parts that may be in one crowd are neighbours in the tree: by their rows. */
const NEIGHBOURS = 512;
/** Larger ones are drawn by themselves: they are few, and dear to be written anew. */
const MOST_POINTS = 3000;

/** One part of a crowd. */
export interface Member {
  row: number;
  geometry: ViewGeometry;
}

export interface Crowd {
  key: string;
  material: string;
  members: Member[];
}

/** True for a geometry that can be written together with others: triangles of one material, no colours of its own. */
export function canJoin({ shape, coloured, slots, positions, surface }: ViewGeometry): boolean {
  return (
    shape === 'triangles' &&
    !coloured &&
    slots.length === 1 &&
    positions.length <= MOST_POINTS * 3 &&
    surface.getAttribute('uv1') === undefined
  );
}

const LATE = 'late';
export const isLate = (key: string): boolean => key.startsWith(LATE);

/** Parts after which others may have their turn. */
const TURN = 2000;

/**
 * The crowds among parts with their materials, with texture coordinates or without. Stops now and then, so that others can have their turn.
 * @param by neighbours are those that stand near each other in the tree; late ones are together because they arrived together
 */
export function* crowdsOf(
  parts: readonly (Member & { material: string })[],
  edges: string,
  by: 'neighbours' | 'late',
): Generator<void, Crowd[]> {
  const crowds = new Map<string, Crowd>();
  const arrival = parts.length > 0 ? `${LATE} ${parts[0].row} ${parts.length}` : '';
  let turn = 0;
  for (const { row, geometry, material } of parts) {
    if (++turn % TURN === 0) yield;
    const uvs = geometry.surface.getAttribute('uv') ? 'uv' : '';
    const backs = geometry.backs ? 'backs' : '';
    const which = by === 'late' ? arrival : `crowd ${Math.floor(row / NEIGHBOURS)}`;
    const key = `${which} ${material} ${uvs} ${backs} ${edges}`;
    let crowd = crowds.get(key);
    if (!crowd) crowds.set(key, (crowd = { key, material, members: [] }));
    crowd.members.push({ row, geometry });
  }
  for (const { members } of crowds.values()) members.sort((a, b) => a.row - b.row);
  return [...crowds.values()];
}

/** Places of the members in the world, twelve doubles each. */
export function placesOf({ members }: Crowd, { nodes }: Scene, worlds: Float64Array): Float64Array {
  const out = new Float64Array(members.length * STRIDE);
  const { offset } = nodes.columns;
  members.forEach(({ row }, i) => {
    if (offset[row] === 0) out.set(worlds.subarray(row * STRIDE, row * STRIDE + STRIDE), i * STRIDE);
    else {
      const { values, at } = nodes.tables.places.locate(offset[row]);
      multiplyAt(worlds, row * STRIDE, values, at, out, i * STRIDE);
    }
  });
  return out;
}

/**
 * The members as one geometry, around the place of the first: single precision is enough there.
 * @param places as `placesOf` gives them
 */
export function joined({ members }: Crowd, places: Float64Array): ViewGeometry {
  const count = (of: (geometry: ViewGeometry) => number) =>
    members.reduce((sum, { geometry }) => sum + of(geometry), 0);
  const points = count(({ positions }) => positions.length / 3);
  const positions = new Float32Array(points * 3);
  const normals = new Float32Array(points * 3);
  const withUvs = members[0].geometry.surface.getAttribute('uv') !== undefined;
  const uvs = withUvs ? new Float32Array(points * 2) : undefined;
  const indices = new Uint32Array(count(({ surface }) => surface.index?.count ?? 0));
  const lines = new Float32Array(count(({ edges }) => edges.getAttribute('position').count * 3));
  const [ox, oy, oz] = places.subarray(9, 12);
  let point = 0;
  let index = 0;
  let line = 0;
  members.forEach(({ geometry: { surface, edges } }, i) => {
    const m = places.subarray(i * STRIDE, i * STRIDE + STRIDE);
    const place = (from: ArrayLike<number>, to: Float32Array, at: number) => {
      for (let k = 0; k < from.length; k += 3) {
        const [x, y, z] = [from[k], from[k + 1], from[k + 2]];
        to[at + k] = m[0] * x + m[3] * y + m[6] * z + (m[9] - ox);
        to[at + k + 1] = m[1] * x + m[4] * y + m[7] * z + (m[10] - oy);
        to[at + k + 2] = m[2] * x + m[5] * y + m[8] * z + (m[11] - oz);
      }
    };
    const from = surface.getAttribute('position').array;
    place(from, positions, point * 3);
    const mirrored = turnNormals(surface.getAttribute('normal').array, m, normals, point * 3);
    if (uvs) uvs.set(surface.getAttribute('uv').array as Float32Array, point * 2);
    const list = surface.index?.array ?? [];
    for (let k = 0; k < list.length; k += 3) {
      // A mirrored part is seen from its other side.
      const [b, c] = mirrored ? [2, 1] : [1, 2];
      indices[index + k] = list[k] + point;
      indices[index + k + 1] = list[k + b] + point;
      indices[index + k + 2] = list[k + c] + point;
    }
    place(edges.getAttribute('position').array, lines, line);
    point += from.length / 3;
    index += list.length;
    line += edges.getAttribute('position').array.length;
  });
  const surface = new BufferGeometry();
  surface.setAttribute('position', new BufferAttribute(positions, 3));
  surface.setAttribute('normal', new BufferAttribute(normals, 3));
  if (uvs) surface.setAttribute('uv', new BufferAttribute(uvs, 2));
  surface.setIndex(new BufferAttribute(indices, 1));
  surface.addGroup(0, indices.length, 0);
  surface.computeBoundingSphere();
  const edges = new BufferGeometry();
  edges.setAttribute('position', new BufferAttribute(lines, 3));
  const { backs } = members[0].geometry;
  return { surface, edges, positions, slots: [0], shape: 'triangles', coloured: false, ...(backs ? { backs } : {}) };
}

/** Normals by the cofactors of the place, which are right for shear and mirror too. Returns whether it mirrors. */
function turnNormals(from: ArrayLike<number>, m: Float64Array, to: Float32Array, at: number): boolean {
  const [a, b, c, d, e, f, g, h, i] = m;
  const [ca, cb, cc] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const [cd, ce, cf] = [c * h - b * i, a * i - c * g, b * g - a * h];
  const [cg, ch, ci] = [b * f - c * e, c * d - a * f, a * e - b * d];
  const mirrored = a * ca + b * cb + c * cc < 0;
  const sign = mirrored ? -1 : 1;
  for (let k = 0; k < from.length; k += 3) {
    const [x, y, z] = [from[k], from[k + 1], from[k + 2]];
    const nx = sign * (ca * x + cd * y + cg * z);
    const ny = sign * (cb * x + ce * y + ch * z);
    const nz = sign * (cc * x + cf * y + ci * z);
    const length = Math.hypot(nx, ny, nz) || 1;
    to[at + k] = nx / length;
    to[at + k + 1] = ny / length;
    to[at + k + 2] = nz / length;
  }
  return mirrored;
}
