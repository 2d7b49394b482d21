/**
 * The exact surface of a face: how far a point lies from it, where a parameter lies on it, and how long its parameters are.
 * Planes, cylinders, cones, spheres and tori are recognised by the kernel and then computed here by their formulas, their
 * frames found from a few points of the surface; of all others the kernel is asked.
 */
import type { BRepAdaptor_Surface } from 'replicad-opencascadejs';
import type { Vector } from '../scene/matrix.ts';

/** Lengths in millimetres, as the kernel has them; angles in radians. */
export interface ExactSurface {
  kind: 'plane' | 'cylinder' | 'cone' | 'sphere' | 'torus' | 'other';
  /** A point of the surface. */
  at(u: number, v: number): Vector;
  /** Distance of a point from the surface, which goes on beyond the face; absent where only the kernel knows it. */
  distance?(x: number, y: number, z: number): number;
  /** Parameters of a point, where they are plain lengths (planes). */
  parameters?(x: number, y: number, z: number): [u: number, v: number];
  /** Of surfaces of revolution about an axis with a round or straight profile. */
  round?: Round;
  /** What it is made of; absent where only the kernel knows. */
  form?: Form;
  /** Millimetres per unit of u and of v in the middle of the ranges given. */
  lengths(u: readonly [number, number], v: readonly [number, number]): [u: number, v: number];
}

/** What rows of triangles along the parallels of a surface of revolution need to know. */
export interface Round {
  /** Radius of the parallel at v; 0 at an apex or a pole. */
  radius(v: number): number;
  /** Share of the curvature of the parallel that is curvature of the surface: the cosine between its normal and the surface's. */
  facing(v: number): number;
  /** Unit normal, up to its sign. */
  normal(u: number, v: number): Vector;
  /** True where the surface bends along v too. */
  bentAlongV: boolean;
}

/** A plane, or a surface about an axis; millimetres, directions of length one. */
export interface Form {
  kind: Exclude<ExactSurface['kind'], 'other'>;
  point: Vector;
  axis: Vector;
  /** Of a cylinder, a sphere, the ring of a torus, a cone at the point; 0 of a plane. */
  radius: number;
  /** How much a cone widens per millimetre along its axis; 0 of all others. */
  slope: number;
  /** Radius of the tube of a torus; 0 of all others. */
  minor: number;
  /** True where its parameters run so that its normal looks inwards. */
  isMirrored: boolean;
}

const HALF_TURN = Math.PI;

export function exactSurface(adaptor: BRepAdaptor_Surface): ExactSurface {
  const at = (u: number, v: number): Vector => {
    const point = adaptor.EvalD0(u, v);
    const found: Vector = [point.X(), point.Y(), point.Z()];
    point.delete();
    return found;
  };
  // The declared type has names; the kernel gives them as strings.
  switch (String(adaptor.GetType())) {
    case 'GeomAbs_Plane':
      return plane(at);
    case 'GeomAbs_Cylinder':
      return cone('cylinder', at);
    case 'GeomAbs_Cone':
      return cone('cone', at);
    case 'GeomAbs_Sphere':
      return torus('sphere', at);
    case 'GeomAbs_Torus':
      return torus('torus', at);
    default:
      return { kind: 'other', at, lengths: (u, v) => isoLengths(at, u, v) };
  }
}

type At = ExactSurface['at'];

function plane(at: At): ExactSurface {
  const origin = at(0, 0);
  const x = minus(at(1, 0), origin);
  const y = minus(at(0, 1), origin);
  const normal = cross(x, y);
  return {
    kind: 'plane',
    form: { kind: 'plane', point: origin, axis: unit(normal), radius: 0, slope: 0, minor: 0, isMirrored: false },
    at: (u, v) => place(origin, x, y, [0, 0, 0], u, v, 0),
    distance: (px, py, pz) => Math.abs(dot(minus([px, py, pz], origin), normal)),
    parameters: (px, py, pz) => {
      const from = minus([px, py, pz], origin);
      return [dot(from, x), dot(from, y)];
    },
    lengths: () => [1, 1],
  };
}

/** `O + (R + v sin a)(X cos u + Y sin u) + v cos a Z`, with a = 0 for a cylinder (ISO 10303-42). */
function cone(kind: 'cylinder' | 'cone', at: At): ExactSurface {
  // The frame is found where the radius is not nought.
  let from = 0;
  let [a, b] = [at(0, from), at(HALF_TURN, from)];
  if (distanceOf(a, b) < 1e-7) {
    from = 1;
    [a, b] = [at(0, from), at(HALF_TURN, from)];
  }
  const centre = middle(a, b);
  const x = unit(minus(a, centre));
  const y = unit(minus(at(HALF_TURN / 2, from), centre));
  const along = minus(at(0, from + 1), a);
  const sine = dot(along, x);
  const rise = minus(along, scaled(x, sine));
  const cosine = length(rise);
  const z = unit(rise);
  const middleRadius = distanceOf(a, centre);
  const radius = (v: number) => middleRadius + (v - from) * sine;
  const tangent = sine / cosine;
  const isMirrored = dot(cross(x, y), z) < 0;
  return {
    kind,
    form: { kind, point: centre, axis: z, radius: middleRadius, slope: tangent, minor: 0, isMirrored },
    at: (u, v) => place(centre, x, y, z, radius(v) * Math.cos(u), radius(v) * Math.sin(u), (v - from) * cosine),
    distance(px, py, pz) {
      const p = minus([px, py, pz], centre);
      const height = dot(p, z);
      const away = Math.hypot(dot(p, x), dot(p, y));
      const wall = middleRadius + height * tangent;
      // Beyond the apex the other half of the cone goes on.
      return Math.min(Math.abs(away - wall), Math.abs(away + wall)) * cosine;
    },
    round: {
      radius: (v) => Math.abs(radius(v)),
      facing: () => cosine,
      // The same on both halves, up to the sign that the face decides: at the apex the radius has none.
      normal: (u) => place([0, 0, 0], x, y, z, cosine * Math.cos(u), cosine * Math.sin(u), -sine),
      bentAlongV: false,
    },
    lengths: (_, [low, high]) => [Math.abs(radius((low + high) / 2)), 1],
  };
}

/** `O + (R + r cos v)(X cos u + Y sin u) + r sin v Z`, with R = 0 for a sphere (ISO 10303-42). */
function torus(kind: 'sphere' | 'torus', at: At): ExactSurface {
  const [outer, opposite, inner] = [at(0, 0), at(HALF_TURN, 0), at(0, HALF_TURN)];
  const centre = middle(outer, opposite);
  const x = unit(minus(outer, centre));
  const sum = distanceOf(outer, centre);
  const difference = dot(minus(inner, centre), x);
  const [major, minor] = kind === 'sphere' ? [0, sum] : [(sum + difference) / 2, (sum - difference) / 2];
  const y = unit(minus(at(HALF_TURN / 2, 0), centre));
  const top = at(0, HALF_TURN / 2);
  const z = unit(minus(top, place(centre, x, y, [0, 0, 0], major, 0, 0)));
  const radius = (v: number) => major + minor * Math.cos(v);
  const isMirrored = dot(cross(x, y), z) < 0;
  const sizes = kind === 'sphere' ? { radius: minor, minor: 0 } : { radius: major, minor };
  return {
    kind,
    form: { kind, point: centre, axis: z, ...sizes, slope: 0, isMirrored },
    at: (u, v) => place(centre, x, y, z, radius(v) * Math.cos(u), radius(v) * Math.sin(u), minor * Math.sin(v)),
    distance(px, py, pz) {
      const p = minus([px, py, pz], centre);
      const height = dot(p, z);
      const away = Math.hypot(dot(p, x), dot(p, y));
      const near = Math.abs(minor - Math.hypot(away - major, height));
      // A tube thicker than its ring crosses the axis and has two sheets.
      return minor > major ? Math.min(near, Math.abs(minor - Math.hypot(away + major, height))) : near;
    },
    round: {
      radius: (v) => Math.abs(radius(v)),
      facing: (v) => Math.abs(Math.cos(v)),
      normal: (u, v) => place([0, 0, 0], x, y, z, Math.cos(v) * Math.cos(u), Math.cos(v) * Math.sin(u), Math.sin(v)),
      bentAlongV: true,
    },
    lengths: (_, [low, high]) => [Math.abs(radius((low + high) / 2)), minor],
  };
}

/** Length of the two middle lines of a patch over its parameters. */
function isoLengths(at: At, u: readonly [number, number], v: readonly [number, number]): [number, number] {
  const STEPS = 8;
  const along = (point: (t: number) => Vector, [low, high]: readonly [number, number]) => {
    if (!(high > low)) return 1;
    let before = point(low);
    let total = 0;
    for (let step = 1; step <= STEPS; step++) {
      const here = point(low + ((high - low) * step) / STEPS);
      total += distanceOf(before, here);
      before = here;
    }
    return total > 0 ? total / (high - low) : 1;
  };
  const [midU, midV] = [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2];
  return [along((t) => at(t, midV), u), along((t) => at(midU, t), v)];
}

const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const scaled = (a: Vector, by: number): Vector => [a[0] * by, a[1] * by, a[2] * by];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const length = (a: Vector) => Math.hypot(a[0], a[1], a[2]);
const unit = (a: Vector): Vector => scaled(a, 1 / (length(a) || 1));
const middle = (a: Vector, b: Vector): Vector => scaled([a[0] + b[0], a[1] + b[1], a[2] + b[2]], 0.5);
const distanceOf = (a: Vector, b: Vector) => length(minus(a, b));
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const place = (o: Vector, x: Vector, y: Vector, z: Vector, a: number, b: number, c: number): Vector => [
  o[0] + a * x[0] + b * y[0] + c * z[0],
  o[1] + a * x[1] + b * y[1] + c * z[1],
  o[2] + a * x[2] + b * y[2] + c * z[2],
];
