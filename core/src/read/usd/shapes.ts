/** Geometry of USD prims: polygon meshes with their subsets, points, curves, and the bodies given by a formula. */
import { BoxGeometry, CapsuleGeometry, ConeGeometry, CylinderGeometry, PlaneGeometry, SphereGeometry } from 'three';
import type { BufferGeometry } from 'three';
import type { BareMesh } from '../../mesh/normals.ts';
import { triangulate } from '../../mesh/polygons.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { bodyOf as bareBody } from '../bodies.ts';
import { meshOfCorners } from '../corners.ts';
import type { CornerRun } from '../corners.ts';
import { numbersIn, stringIn, stringsIn } from './layer.ts';
import type { Numbers } from './layer.ts';
import type { ComposedPrim, ComposedProperty } from './stage.ts';

/** Sides of a round body; the standard leaves the number to whoever draws it. */
const ROUND = 32;

/** Value of a property: what holds always, or at the earliest time. */
export function valueOf(prim: ComposedPrim, name: string): Numbers {
  const property = prim.property(name);
  return numbersIn(property?.value ?? property?.first);
}

export function tokenOf(prim: ComposedPrim, name: string): string | undefined {
  const property = prim.property(name);
  return stringIn(property?.value ?? property?.first);
}

/** Faces of a mesh that have a material of their own. */
export interface FaceSubset {
  faces: Numbers;
  slot: number;
}

export interface MeshReading {
  mesh: BareMesh;
  /** Faces that name points that are not there. */
  skipped: number;
}

/**
 * Polygons into triangles, in the unit of the file.
 * @param uvNames sets of texture coordinates in the order of the scene; those that the mesh has not are left out
 */
export function meshOf(prim: ComposedPrim, subsets: readonly FaceSubset[], uvNames: readonly string[]): MeshReading {
  const points = valueOf(prim, 'points');
  const counts = valueOf(prim, 'faceVertexCounts');
  const indices = valueOf(prim, 'faceVertexIndices');
  const holes = new Set<number>(valueOf(prim, 'holeIndices'));
  const isLeft = tokenOf(prim, 'orientation') === 'leftHanded';
  const pointCount = Math.floor(points.length / 3);
  const slotOf = new Uint16Array(counts.length);
  for (const { faces, slot } of subsets) for (const face of faces) if (face < slotOf.length) slotOf[face] = slot;
  const slots = subsets.reduce((most, { slot }) => Math.max(most, slot), 0) + 1;
  const uvs = uvNames.map((name) => primvar(prim, name, 2));
  const normals = primvar(prim, 'normals', 3, prim.property('primvars:normals') ?? prim.property('normals'));
  const colours = primvar(prim, 'displayColor', 3);
  const hasColours = colours !== undefined && colours.by !== 'constant';
  const runs = Array.from({ length: slots }, () => ({
    position: new NumberList(Int32Array),
    normal: new NumberList(Int32Array),
    colour: new NumberList(Int32Array),
    uvs: uvNames.map(() => new NumberList(Int32Array)),
  }));
  let skipped = 0;
  let at = 0;
  for (let face = 0; face < counts.length; face++) {
    const count = counts[face];
    const start = at;
    at += count > 0 ? count : 0;
    if (at > indices.length) {
      skipped += counts.length - face;
      break;
    }
    if (count < 3 || holes.has(face)) continue;
    let isSound = true;
    for (let k = start; k < at; k++) if (!(indices[k] >= 0 && indices[k] < pointCount)) isSound = false;
    if (!isSound) {
      skipped++;
      continue;
    }
    const corner = (i: number) => {
      const p = indices[start + i] * 3;
      return [points[p], points[p + 1], points[p + 2]] as const;
    };
    const list = triangulate(corner, count);
    const run = runs[slotOf[face]];
    for (let i = 0; i < list.length; i += 3) {
      for (const k of isLeft ? [i, i + 2, i + 1] : [i, i + 1, i + 2]) {
        const where = { vertex: indices[start + list[k]], corner: start + list[k], face };
        run.position.push(where.vertex);
        if (normals) run.normal.push(normals.at(where));
        if (hasColours) run.colour.push(colours.at(where));
        uvs.forEach((set, s) => run.uvs[s].push(set ? set.at(where) : -1));
      }
    }
  }
  const turned = isLeft && normals ? Float32Array.from(normals.values, (value) => -value) : normals?.values;
  const mesh = meshOfCorners(
    {
      positions: points,
      ...(turned ? { normals: turned } : {}),
      ...(uvs.some(Boolean)
        ? // Their origin is lower left, that of the scene upper left.
          { uvs: uvs.map((set) => Float32Array.from(set?.values ?? [], (value, i) => (i % 2 ? 1 - value : value))) }
        : {}),
      ...(hasColours ? { colours: withOpacity(colours.values, valueOf(prim, 'primvars:displayOpacity')) } : {}),
    },
    runs.map((run, slot): CornerRun => ({
      slot,
      position: run.position.values,
      ...(normals ? { normal: run.normal.values } : {}),
      ...(hasColours ? { colour: run.colour.values } : {}),
      uvs: run.uvs.map((list) => list.values),
    })),
  );
  return { mesh, skipped };
}

interface Primvar {
  values: Numbers;
  by: string;
  /** Number of the value of one corner. */
  at(where: { vertex: number; corner: number; face: number }): number;
}

/** A value over the surface: for all, for each face, vertex or corner, directly or by numbers. */
function primvar(
  prim: ComposedPrim,
  name: string,
  width: number,
  property: ComposedProperty | undefined = prim.property(`primvars:${name}`),
): Primvar | undefined {
  const values = numbersIn(property?.value ?? property?.first);
  if (values.length < width) return undefined;
  const count = Math.floor(values.length / width);
  const numbers = valueOf(prim, `primvars:${name}:indices`);
  const standard = count === 1 ? 'constant' : name === 'normals' ? 'vertex' : 'constant';
  const by = property?.interpolation ?? standard;
  const pick = (i: number) => {
    const at = numbers.length > 0 ? (numbers[i] ?? -1) : i;
    return at >= 0 && at < count ? at : -1;
  };
  return {
    values,
    by,
    at: ({ vertex, corner, face }) =>
      by === 'constant' ? pick(0) : by === 'uniform' ? pick(face) : by === 'faceVarying' ? pick(corner) : pick(vertex),
  };
}

/** Red, green, blue and opacity; opaque where there is not one opacity for each colour. */
function withOpacity(colours: Numbers, opacities: Numbers): Float32Array {
  const within = (value: number) => Math.min(1, Math.max(0, value));
  const out = new Float32Array(Math.floor(colours.length / 3) * 4).fill(1);
  for (let i = 0; i * 3 + 2 < colours.length; i++) {
    for (let k = 0; k < 3; k++) out[i * 4 + k] = within(colours[i * 3 + k]);
    if (opacities.length * 3 === colours.length) out[i * 4 + 3] = within(opacities[i]);
  }
  return out;
}

/** Names of the sets of texture coordinates that a mesh has. */
export function uvNamesOf(prim: ComposedPrim): string[] {
  const names: string[] = [];
  for (const key of prim.properties()) {
    const property = prim.property(key);
    if (key.startsWith('primvars:') && /^(texCoord2|float2|double2|half2)/.test(property?.type ?? ''))
      names.push(key.slice(9));
  }
  return names;
}

/** A cloud of points, or the points of curves as line segments. */
export function pointsOf(prim: ComposedPrim): BareMesh {
  const positions = Float64Array.from(valueOf(prim, 'points'));
  const colours = valueOf(prim, 'primvars:displayColor');
  return {
    positions,
    indices: new Uint32Array(),
    groups: [],
    ...(positions.length > 0 && colours.length === positions.length
      ? { colours: withOpacity(colours, valueOf(prim, 'primvars:displayOpacity')) }
      : {}),
  };
}

export function curvesOf(prim: ComposedPrim): BareMesh | undefined {
  if (tokenOf(prim, 'type') !== 'linear') return undefined;
  const points = valueOf(prim, 'points');
  const isClosed = tokenOf(prim, 'wrap') === 'periodic';
  const lines = new NumberList(Float64Array);
  let at = 0;
  const add = (p: number) => lines.push3(points[p * 3], points[p * 3 + 1], points[p * 3 + 2]);
  for (const count of valueOf(prim, 'curveVertexCounts')) {
    if (!(count > 0) || (at + count) * 3 > points.length) break;
    for (let i = 0; i + 1 < count + (isClosed && count > 2 ? 1 : 0); i++) {
      add(at + i);
      add(at + ((i + 1) % count));
    }
    at += count;
  }
  return lines.length === 0
    ? undefined
    : { positions: new Float64Array(), indices: new Uint32Array(), groups: [], lines: lines.values.slice() };
}

/** A body given by a formula; undefined for every other type. Sizes as the standard has them where none are written. */
export function bodyOf(prim: ComposedPrim): BareMesh | undefined {
  const size = (name: string, standard: number) => {
    const [value] = valueOf(prim, name);
    return value > 0 && Number.isFinite(value) ? value : standard;
  };
  const radius = size('radius', prim.type === 'Capsule' ? 0.5 : 1);
  const height = size('height', prim.type === 'Capsule' ? 1 : 2);
  switch (prim.type) {
    case 'Cube':
      return bareBody(new BoxGeometry(...([size('size', 2), size('size', 2), size('size', 2)] as const)));
    case 'Sphere':
      return bareBody(new SphereGeometry(radius, ROUND, ROUND / 2));
    case 'Cylinder':
      return bareBody(turned(new CylinderGeometry(radius, radius, height, ROUND), prim));
    case 'Cone':
      return bareBody(turned(new ConeGeometry(radius, height, ROUND), prim));
    case 'Capsule':
      return bareBody(turned(new CapsuleGeometry(radius, height, ROUND / 4, ROUND), prim));
    case 'Plane':
      return bareBody(turned(new PlaneGeometry(size('width', 2), size('length', 2)).rotateX(-Math.PI / 2), prim));
    default:
      return undefined;
  }
}

/** From the y axis of the library to the axis of the prim, z where none is written. */
function turned(geometry: BufferGeometry, prim: ComposedPrim): BufferGeometry {
  const axis = tokenOf(prim, 'axis') ?? 'Z';
  if (axis === 'X') return geometry.rotateZ(-Math.PI / 2);
  return axis === 'Z' ? geometry.rotateX(Math.PI / 2) : geometry;
}

/** Names in a list of tokens. */
export function tokensOf(prim: ComposedPrim, name: string): string[] {
  return stringsIn(prim.property(name)?.value);
}
