/** Shapes of X3D that are given by a rule rather than by faces: swept outlines and grids of heights (ISO/IEC 19775-1, 13.3.5 and 13.3.4). */
import type { BareMesh } from '../../mesh/normals.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { triangulate } from '../../mesh/polygons.ts';
import { cross, dot, normalize } from '../../scene/matrix.ts';
import type { Vector } from '../../scene/matrix.ts';
import { numbersOf } from '../xml.ts';

/** Points that one shape may unfold to. */
const MOST_POINTS = 4_000_000;

type Attributes = Record<string, string>;

/** An outline along a line, turned and scaled at each of its points; undefined where it has none. */
export function extrusion(a: Attributes): BareMesh | undefined {
  const outline = pairs(a.crossSection ?? '1 1 1 -1 -1 -1 -1 1 1 1');
  const spine = triples(a.spine ?? '0 0 0 0 1 0');
  if (outline.length < 2 || spine.length < 2 || outline.length * spine.length > MOST_POINTS) return undefined;
  const scales = pairs(a.scale ?? '1 1');
  const turns = quadruples(a.orientation ?? '0 0 1 0');
  const frames = framesAlong(spine);
  const positions = new NumberList(Float64Array);
  spine.forEach((at, s) => {
    const [sx, sz] = scales[Math.min(s, scales.length - 1)] ?? [1, 1];
    const turn = turns[Math.min(s, turns.length - 1)] ?? [0, 0, 1, 0];
    const [x, y, z] = frames[s];
    for (const [u, w] of outline) {
      const [px, py, pz] = turned([u * sx, 0, w * sz], turn);
      positions.push3(
        at[0] + px * x[0] + py * y[0] + pz * z[0],
        at[1] + px * x[1] + py * y[1] + pz * z[1],
        at[2] + px * x[2] + py * y[2] + pz * z[2],
      );
    }
  });
  const width = outline.length;
  const indices = new NumberList(Uint32Array);
  const isTurned = a.ccw === 'false';
  const triangle = (i: number, j: number, k: number) => (isTurned ? indices.push3(i, k, j) : indices.push3(i, j, k));
  for (let s = 0; s + 1 < spine.length; s++)
    for (let k = 0; k + 1 < width; k++) {
      const [p, q] = [s * width + k, (s + 1) * width + k];
      triangle(p, p + 1, q + 1);
      triangle(p, q + 1, q);
    }
  // The last point of a closed outline is its first again.
  const isClosed = Math.hypot(outline[0][0] - outline[width - 1][0], outline[0][1] - outline[width - 1][1]) < 1e-9;
  const rim = isClosed ? width - 1 : width;
  const cap = (start: number, isEnd: boolean) => {
    const corner = (i: number) => {
      const p = (start + i) * 3;
      return [positions.at(p), positions.at(p + 1), positions.at(p + 2)] as const;
    };
    const list = triangulate(corner, rim);
    for (let i = 0; i < list.length; i += 3) {
      const [b, c] = isEnd ? [list[i + 1], list[i + 2]] : [list[i + 2], list[i + 1]];
      triangle(start + list[i], start + b, start + c);
    }
  };
  if (rim >= 3 && a.beginCap !== 'false') cap(0, false);
  if (rim >= 3 && a.endCap !== 'false') cap((spine.length - 1) * width, true);
  return { positions: positions.values.slice(), indices: indices.values.slice(), groups: wholeGroup(indices.length) };
}

/** Axes x, y, z at each point of a spine: y along it, z to the inside of its bend. */
function framesAlong(spine: readonly Vector[]): [Vector, Vector, Vector][] {
  const last = spine.length - 1;
  const isClosed = lengthOf(minus(spine[0], spine[last])) < 1e-9 && last > 1;
  const before = (i: number) => spine[i > 0 ? i - 1 : isClosed ? last - 1 : 0];
  const after = (i: number) => spine[i < last ? i + 1 : isClosed ? 1 : last];
  const ys = spine.map((_, i) => normalize(minus(after(i), before(i))));
  const bends = spine.map((at, i) => cross(minus(after(i), at), minus(before(i), at)));
  const first = bends.find((bend) => lengthOf(bend) > 1e-12);
  let z = first ? normalize(first) : acrossStraight(ys[0]);
  return ys.map((y, i) => {
    if (lengthOf(bends[i]) > 1e-12) {
      const next = normalize(bends[i]);
      // Where the bend changes sides the outline must not turn round.
      z = dot(next, z) < 0 ? [-next[0], -next[1], -next[2]] : next;
    }
    return [cross(y, z), y, z];
  });
}

/** The z axis, turned as the y axis has to be turned to lie along a straight spine. */
function acrossStraight(y: Vector): Vector {
  const axis = cross([0, 1, 0], y);
  const sine = lengthOf(axis);
  if (sine < 1e-9) return y[1] < 0 ? [0, 0, -1] : [0, 0, 1];
  return turned([0, 0, 1], [...axis, Math.atan2(sine, y[1])]);
}

/** Heights over a grid in x and z; undefined where it has no cell. */
export function elevationGrid(a: Attributes): BareMesh | undefined {
  const [nx, nz] = [Number(a.xDimension ?? 0), Number(a.zDimension ?? 0)];
  const [dx, dz] = [Number(a.xSpacing ?? 1), Number(a.zSpacing ?? 1)];
  const heights = numbersOf(a.height);
  if (!(nx >= 2 && nz >= 2 && nx * nz <= MOST_POINTS && dx > 0 && dz > 0)) return undefined;
  const positions = new Float64Array(nx * nz * 3);
  const uvs = new Float32Array(nx * nz * 2);
  for (let j = 0; j < nz; j++)
    for (let i = 0; i < nx; i++) {
      const p = j * nx + i;
      positions.set([i * dx, heights[p] ?? NaN, j * dz], p * 3);
      // The origin of the picture is lower left there, upper left in the scene.
      uvs.set([i / (nx - 1), 1 - j / (nz - 1)], p * 2);
    }
  const indices = new NumberList(Uint32Array);
  const isTurned = a.ccw === 'false';
  for (let j = 0; j + 1 < nz; j++)
    for (let i = 0; i + 1 < nx; i++) {
      const p = j * nx + i;
      const [b, c, d] = isTurned ? [p + 1, p + nx + 1, p + nx] : [p + nx, p + nx + 1, p + 1];
      indices.push3(p, b, c);
      indices.push3(p, c, d);
    }
  return { positions, uvs: [uvs], indices: indices.values.slice(), groups: wholeGroup(indices.length) };
}

const wholeGroup = (count: number) => [{ slot: 0, start: 0, count }];
const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const lengthOf = (a: Vector) => Math.hypot(...a);

/** A vector turned about an axis by an angle (Rodrigues). */
function turned(v: Vector, [ax, ay, az, angle]: readonly number[]): Vector {
  const length = Math.hypot(ax, ay, az);
  if (!(length > 0) || !angle) return v;
  const k: Vector = [ax / length, ay / length, az / length];
  const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
  const across = cross(k, v);
  const along = dot(k, v) * (1 - cosine);
  return [0, 1, 2].map((i) => v[i] * cosine + across[i] * sine + k[i] * along) as unknown as Vector;
}

function rows<T>(text: string, width: number): T[] {
  const values = numbersOf(text);
  return Array.from(
    { length: Math.floor(values.length / width) },
    (_, i) => values.slice(i * width, i * width + width) as T,
  ).filter((row) => (row as number[]).every(Number.isFinite));
}
const pairs = (text: string) => rows<[number, number]>(text, 2);
const triples = (text: string) => rows<[number, number, number]>(text, 3);
const quadruples = (text: string) => rows<[number, number, number, number]>(text, 4);
