/**
 * Texture coordinates by projection, in metres: a picture that repeats every metre has its true size. Vertices at which the projection
 * changes (an edge of the box, the seam of a cylinder) are doubled, and nothing else is.
 */
import type { Vector } from '../scene/matrix.ts';
import type { MeshFigures } from '../scene/types.ts';
import { boundsOf, figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { gather } from './normals.ts';

/** `given` are those that are there: the parameters of the surfaces of a solid, or what a file brought. */
export type Projection = 'box' | 'plane' | 'cylinder' | 'sphere' | 'given';

export interface ProjectOptions {
  projection: Projection;
  /** Twelve numbers: the frame in which it is projected, of the frame of the geometry; columns x, y, z, place. Up is y. */
  frame: readonly number[];
  /** Direction from which a plane is looked at. */
  from: 'x' | 'y' | 'z';
  /** Radians, counter-clockwise; metres; how much larger than they are pictures lie on it. */
  turn: number;
  offset: readonly [number, number];
  scale: number;
}

export interface ProjectInput extends ProjectOptions {
  /** Packed mesh. */
  mesh: Uint8Array;
}

export interface ProjectOutput {
  blob: Uint8Array;
  figures: MeshFigures;
}

export async function project({ mesh, ...options }: ProjectInput): Promise<ProjectOutput> {
  const made = projected(unpackMesh(mesh), options);
  const blob = packMesh(made);
  return { blob, figures: figuresOf(made, blob.length) };
}

/** Ways of looking at a vertex: sides of a box, or turns about an axis. */
const SIDES = 6;

export function projected(mesh: Mesh, options: ProjectOptions): Mesh {
  const { indices } = mesh;
  const placed = inFrame(mesh.positions, options.frame);
  const vertices = mesh.positions.length / 3;
  const side =
    options.projection === 'given'
      ? new Uint8Array(indices.length)
      : SIDE_OF[options.projection](placed, indices, options);
  // (1) A vertex for each side that it is seen from; most are seen from one.
  const number = new Int32Array(vertices * SIDES).fill(-1);
  const made = new Uint32Array(indices.length);
  const most = Math.min(indices.length, number.length);
  const [all, sides] = [new Uint32Array(most), new Uint8Array(most)];
  let count = 0;
  for (let i = 0; i < indices.length; i++) {
    const key = indices[i] * SIDES + side[i];
    if (number[key] < 0) {
      all[count] = indices[i];
      sides[count] = side[i];
      number[key] = count++;
    }
    made[i] = number[key];
  }
  const of = all.subarray(0, count);
  // (2) Where each lies on the picture.
  const uv = new Float32Array(of.length * 2);
  const put = options.projection === 'given' ? asGiven(mesh) : UV_OF[options.projection](placed, options);
  const [c, s] = [Math.cos(options.turn), Math.sin(options.turn)];
  for (let i = 0; i < count; i++) {
    put(of[i], sides[i]);
    const [u, v] = [AT.u, AT.v];
    // Rows of a picture go down: what is turned counter-clockwise turns the other way there.
    uv[i * 2] = (c * u + s * v - options.offset[0]) / options.scale;
    uv[i * 2 + 1] = (-s * u + c * v - options.offset[1]) / options.scale;
  }
  const more = mesh.uvs?.slice(1).map((set) => gather(set, 2, of)) ?? [];
  return {
    ...mesh,
    positions: gather(mesh.positions, 3, of),
    normals: gather(mesh.normals, 3, of),
    indices: made,
    uvs: [uv, ...more],
    ...(options.projection === 'given' && !mesh.trueSize ? {} : { trueSize: true }),
    ...(mesh.colours ? { colours: gather(mesh.colours, 4, of) } : {}),
  };
}

function inFrame(positions: Float32Array, [a, b, c, d, e, f, g, h, i, x, y, z]: readonly number[]): Float64Array {
  const out = new Float64Array(positions.length);
  for (let at = 0; at < positions.length; at += 3) {
    const [p, q, r] = [positions[at], positions[at + 1], positions[at + 2]];
    out[at] = a * p + d * q + g * r + x;
    out[at + 1] = b * p + e * q + h * r + y;
    out[at + 2] = c * p + f * q + i * r + z;
  }
  return out;
}

type Sides = (placed: Float64Array, indices: Uint32Array, options: ProjectOptions) => Uint8Array;
type Place = (placed: Float64Array, options: ProjectOptions) => (vertex: number, side: number) => void; // prettier-ignore

/** Where a vertex lies on the picture, metres: written by the way that is used. */
const AT = { u: 0, v: 0 };
function at(u: number, v: number): void {
  AT.u = u;
  AT.v = v;
}

const AXES = { x: 0, y: 1, z: 2 } as const;

/** Side of each corner: that towards which its triangle looks most; +x, -x, +y, -y, +z, -z. */
const sidesOfBox: Sides = (p, indices) => {
  const out = new Uint8Array(indices.length);
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const [ax, ay, az] = [Math.abs(x), Math.abs(y), Math.abs(z)];
    // A hair in favour of one, so that what looks between two sides does not change with rounding.
    const side = ax * 1.0001 >= ay && ax * 1.0001 >= az ? (x < 0 ? 1 : 0) : az >= ay ? (z < 0 ? 5 : 4) : y < 0 ? 3 : 2;
    out[i] = out[i + 1] = out[i + 2] = side;
  }
  return out;
};

/** Corners of triangles that lie across the seam, at half a turn, are taken a whole turn further. */
const sidesAround: Sides = (p, indices) => {
  const out = new Uint8Array(indices.length);
  const middle = middleOf(p);
  const angle = (vertex: number) => Math.atan2(p[vertex * 3] - middle[0], p[vertex * 3 + 2] - middle[2]);
  for (let i = 0; i < indices.length; i += 3) {
    const angles = [angle(indices[i]), angle(indices[i + 1]), angle(indices[i + 2])];
    if (Math.max(...angles) - Math.min(...angles) <= Math.PI) continue;
    for (let k = 0; k < 3; k++) if (angles[k] < 0) out[i + k] = 1;
  }
  return out;
};

const SIDE_OF: Record<Exclude<Projection, 'given'>, Sides> = {
  box: sidesOfBox,
  plane: (_p, indices, { from }) => new Uint8Array(indices.length).fill(AXES[from] * 2),
  cylinder: sidesAround,
  sphere: sidesAround,
};

/** As one looks at a side, u goes to the right and v down, so that writing can be read on each. */
const placeOnSide: Place = (p) => (vertex, side) => {
  const [x, y, z] = [p[vertex * 3], p[vertex * 3 + 1], p[vertex * 3 + 2]];
  switch (side) {
    case 0:
      return at(-z, -y);
    case 1:
      return at(z, -y);
    case 2:
      return at(x, z);
    case 3:
      return at(x, -z);
    case 4:
      return at(x, -y);
    default:
      return at(-x, -y);
  }
};

/** Where the first set has it. */
function asGiven({ uvs: [set] = [] }: Mesh): (vertex: number) => void {
  return (vertex) => at(set?.[vertex * 2] ?? 0, set?.[vertex * 2 + 1] ?? 0);
}

function middleOf(p: Float64Array): Vector {
  const { min, max } = boundsOf(p as unknown as Float32Array);
  return [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
}

/** The largest distance from the axis, or from the middle, metres: there pictures have their true size. */
function radiusOf(p: Float64Array, [x, y, z]: Vector, around: boolean): number {
  let radius = 0;
  for (let i = 0; i < p.length; i += 3)
    radius = Math.max(radius, Math.hypot(p[i] - x, around ? 0 : p[i + 1] - y, p[i + 2] - z));
  return radius;
}

const UV_OF: Record<Exclude<Projection, 'given'>, Place> = {
  box: placeOnSide,
  plane: placeOnSide,
  cylinder(p) {
    const middle = middleOf(p);
    const radius = radiusOf(p, middle, true);
    return (vertex, turn) => {
      const angle = Math.atan2(p[vertex * 3] - middle[0], p[vertex * 3 + 2] - middle[2]) + turn * 2 * Math.PI;
      at(angle * radius, -p[vertex * 3 + 1]);
    };
  },
  sphere(p) {
    const middle = middleOf(p);
    const radius = radiusOf(p, middle, false);
    return (vertex, turn) => {
      const [x, y, z] = [0, 1, 2].map((k) => p[vertex * 3 + k] - middle[k]);
      const angle = Math.atan2(x, z) + turn * 2 * Math.PI;
      at(angle * radius, -Math.atan2(y, Math.hypot(x, z)) * radius);
    };
  },
};
