/**
 * Meshes a face that is a rectangle in the parameters of a cone, sphere or torus by rows along its parallels. The kernel's
 * borders stay, so that neighbouring faces still meet; inside, it takes several times more triangles than the chord
 * deviation asks for (rings on cones, which are straight), and these rows take only what the sagitta formula does.
 */
import type { ExactSurface, Round } from './exactSurface.ts';

/** A face as the kernel meshed it. */
export interface FaceMesh {
  /** u, v per vertex. */
  parameters: Float64Array;
  /** Three vertices of this face per triangle. */
  triangles: Uint32Array;
}

export interface Rows extends FaceMesh {
  /** Number of the vertex in the face as it was, or -1 for a new one. */
  kept: Int32Array;
}

export interface RowLimits {
  /** Largest sagitta that is allowed along a row, millimetres. */
  sagitta: number;
  /** Largest turn between neighbouring triangles, radians. */
  angle: number;
}

/** A vertex of a row: its place along it, and the vertex of the kernel's that it is. */
interface RowVertex {
  u: number;
  kept: number;
}

/** Shares of the parameter range that count as the same place. */
const SAME = 1e-6;
const FULL_TURN = 2 * Math.PI;
/** A parallel shorter than this share of the longest is a point. */
const POINT = 1e-7;
/** However flat, no segment spans more of the circle than this. */
const WIDEST = Math.PI / 3;

/** The face in rows; undefined where it is no such rectangle, or where rows would not take fewer triangles. */
export function rowsOf(surface: ExactSurface, face: FaceMesh, limits: RowLimits): Rows | undefined {
  const { round } = surface;
  if (!round || surface.kind === 'cylinder') return undefined;
  const border = bordersOf(face);
  if (!border) return undefined;
  const { bottom, top, turned } = border;
  const { parameters } = face;
  const span = parameters[bottom[bottom.length - 1] * 2] - parameters[bottom[0] * 2];
  // A cone is straight along v: what the kernel put between the ends of its seam belongs to no other face and is left out.
  const isSeam = !round.bentAlongV && span > FULL_TURN - SAME;
  const [left, right] = isSeam ? [ends(border.left), ends(border.right)] : [border.left, border.right];
  const levels = left.map((vertex) => parameters[vertex * 2 + 1]);
  const rows: RowVertex[][] = [];
  const largest = Math.max(...levels.map(round.radius));
  if (!(largest > 0)) return undefined;
  const isPoint = levels.map((v) => round.radius(v) < largest * POINT);
  const vertexAt = (kept: number): RowVertex => ({ u: parameters[kept * 2], kept });
  for (let row = 0; row < levels.length; row++) {
    if (row === 0) rows.push(bottom.map(vertexAt));
    else if (row === levels.length - 1) rows.push(top.map(vertexAt));
    else {
      const [first, last] = [vertexAt(left[row]), vertexAt(right[row])];
      const count = segmentsAlong(round, levels, row, last.u - first.u, limits);
      const inner = Array.from({ length: count - 1 }, (_, i) => ({
        u: first.u + ((last.u - first.u) * (i + 1)) / count,
        kept: -1,
      }));
      rows.push([first, ...inner, last]);
    }
  }
  const made = stitch(rows, levels, isPoint);
  if (made.triangles.length >= face.triangles.length) return undefined;
  if (turned) for (let i = 0; i < made.triangles.length; i += 3) swap(made.triangles, i + 1, i + 2);
  return made;
}

/** Fewest segments of a row: by the sagitta of a chord on the curvature that the surface has along it, and by the angle. */
function segmentsAlong(
  round: Round,
  levels: readonly number[],
  row: number,
  span: number,
  { sagitta, angle }: RowLimits,
): number {
  const radius = round.radius(levels[row]);
  // Triangles reach into the neighbouring rows, where the surface may face the parallel more squarely.
  const facing = Math.max(0.1, ...[row - 1, row, row + 1].map((i) => round.facing(levels[i])));
  const bySagitta = 2 * Math.acos(Math.max(-1, 1 - sagitta / (radius * facing)));
  const step = Math.min(bySagitta, angle / facing, WIDEST);
  return Math.max(1, Math.ceil(span / step - 1e-9));
}

/** Joins each row with the next, always closing the gap at the end that lies behind. */
function stitch(rows: RowVertex[][], levels: readonly number[], isPoint: readonly boolean[]): Rows {
  const parameters: number[] = [];
  const kept: number[] = [];
  const triangles: number[] = [];
  const add = (u: number, v: number, from: number) => {
    parameters.push(u, v);
    return kept.push(from) - 1;
  };
  const numbers = rows.map((row, r) => (isPoint[r] ? [] : row.map(({ u, kept: from }) => add(u, levels[r], from))));
  for (let r = 0; r + 1 < rows.length; r++) {
    const [low, high] = [rows[r], rows[r + 1]];
    if (isPoint[r] && isPoint[r + 1]) continue;
    if (isPoint[r] || isPoint[r + 1]) {
      // A pole or an apex has a vertex of its own for each triangle, with the normal and the texture of its middle.
      const [open, level] = isPoint[r] ? [r + 1, levels[r]] : [r, levels[r + 1]];
      const pole = rows[isPoint[r] ? r : r + 1][0].kept;
      for (let i = 0; i + 1 < rows[open].length; i++) {
        const tip = add((rows[open][i].u + rows[open][i + 1].u) / 2, level, pole);
        const [a, b] = [numbers[open][i], numbers[open][i + 1]];
        triangles.push(...(isPoint[r] ? [tip, b, a] : [a, b, tip]));
      }
      continue;
    }
    let [i, j] = [0, 0];
    while (i + 1 < low.length || j + 1 < high.length) {
      const lower =
        j + 1 >= high.length || (i + 1 < low.length && low[i].u + low[i + 1].u <= high[j].u + high[j + 1].u);
      if (lower) triangles.push(numbers[r][i], numbers[r][++i], numbers[r + 1][j]);
      else triangles.push(numbers[r][i], numbers[r + 1][j + 1], numbers[r + 1][j++]);
    }
  }
  return {
    parameters: Float64Array.from(parameters),
    triangles: Uint32Array.from(triangles),
    kept: Int32Array.from(kept),
  };
}

interface Borders {
  /** Vertices on the four sides, sorted along them. */
  left: number[];
  right: number[];
  bottom: number[];
  top: number[];
  /** True where the triangles run clockwise in the parameters. */
  turned: boolean;
}

/** The four sides of a face that is a rectangle in its parameters; undefined for every other face. */
function bordersOf({ parameters, triangles }: FaceMesh): Borders | undefined {
  const vertices = parameters.length / 2;
  const once = new Set<number>();
  let area = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const corners = [triangles[i], triangles[i + 1], triangles[i + 2]];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k], corners[(k + 1) % 3]];
      const key = Math.min(a, b) * vertices + Math.max(a, b);
      if (!once.delete(key)) once.add(key);
      area += parameters[a * 2] * parameters[b * 2 + 1] - parameters[b * 2] * parameters[a * 2 + 1];
    }
  }
  const border = new Set<number>();
  for (const key of once) {
    border.add(key % vertices);
    border.add(Math.floor(key / vertices));
  }
  // One closed line has as many corners as segments.
  if (border.size !== once.size || border.size < 4) return undefined;
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const vertex of border) {
    const [u, v] = [parameters[vertex * 2], parameters[vertex * 2 + 1]];
    if (u < u0) u0 = u;
    if (u > u1) u1 = u;
    if (v < v0) v0 = v;
    if (v > v1) v1 = v;
  }
  const [closeU, closeV] = [(u1 - u0) * SAME, (v1 - v0) * SAME];
  const u = (vertex: number) => parameters[vertex * 2];
  const v = (vertex: number) => parameters[vertex * 2 + 1];
  const all = [...border];
  const left = all.filter((vertex) => u(vertex) - u0 <= closeU).sort((a, b) => v(a) - v(b));
  const right = all.filter((vertex) => u1 - u(vertex) <= closeU).sort((a, b) => v(a) - v(b));
  const bottom = all.filter((vertex) => v(vertex) - v0 <= closeV).sort((a, b) => u(a) - u(b));
  const top = all.filter((vertex) => v1 - v(vertex) <= closeV).sort((a, b) => u(a) - u(b));
  const isRectangle =
    left.length >= 2 &&
    bottom.length >= 2 &&
    top.length >= 2 &&
    left.length === right.length &&
    left.length + right.length + bottom.length + top.length - 4 === border.size &&
    left.every((vertex, i) => Math.abs(v(vertex) - v(right[i])) <= closeV) &&
    left[0] === bottom[0] &&
    right[0] === bottom.at(-1) &&
    left.at(-1) === top[0] &&
    right.at(-1) === top.at(-1);
  return isRectangle ? { left, right, bottom, top, turned: area < 0 } : undefined;
}

function ends(list: readonly number[]): number[] {
  return [list[0], list[list.length - 1]];
}

function swap(list: Uint32Array, a: number, b: number): void {
  [list[a], list[b]] = [list[b], list[a]];
}
