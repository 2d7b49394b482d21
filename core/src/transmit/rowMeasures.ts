/** What rows of two trees are told apart and measured by. */
import { hexFromLinear } from '../finish/colour.ts';
import type { ExpectedRow } from './expected.ts';
import type { FoundGeometry, FoundRow } from './found.ts';

export function distinct(rows: readonly { bodies: { geometry: FoundGeometry }[] }[]): number {
  return new Set(rows.flatMap(({ bodies }) => bodies.map(({ geometry }) => geometry.points))).size;
}

export function triangles(rows: readonly { bodies: { geometry: FoundGeometry }[] }[]): number {
  let sum = 0;
  for (const { bodies } of rows)
    for (const { geometry } of bodies)
      if (geometry.mode === 'triangles') sum += (geometry.corners?.length ?? geometry.positions.length / 3) / 3;
  return sum;
}

/** Names from the root down, told apart by an ordinal among equal siblings. */
export function pathsOf(rows: readonly { parent: number | null; name: string }[]): string[] {
  const seen = new Map<string, number>();
  const out: string[] = [];
  for (const { parent, name } of rows) {
    const path = `${parent === null ? '' : out[parent]} › ${name}`;
    const ordinal = (seen.get(path) ?? 0) + 1;
    seen.set(path, ordinal);
    out.push(ordinal > 1 ? `${path} (${ordinal})` : path);
  }
  return out;
}

export function opticsOf({ camera, light }: FoundRow | ExpectedRow): string {
  if (camera)
    return 'angle' in camera ? `camera ${camera.angle.toFixed(4)} rad` : `camera ${camera.height.toFixed(4)} m high`;
  return light ? `${light.type} light ${light.intensity.toFixed(3)} ${hexFromLinear(light.color)}` : '';
}

const boxes = new WeakMap<object, { min: number[]; max: number[] }>();

/** Box of all bodies of a row in its own frame. */
export function boxOf({ bodies }: ExpectedRow): { min: number[]; max: number[] } {
  const key = bodies[0]?.geometry.positions as object | undefined;
  const known = key && boxes.get(key);
  if (known) return known;
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const { positions } of new Set(bodies.map(({ geometry }) => geometry)))
    for (let i = 0; i < positions.length; i++) {
      if (positions[i] < min[i % 3]) min[i % 3] = positions[i];
      if (positions[i] > max[i % 3]) max[i % 3] = positions[i];
    }
  const box = min[0] <= max[0] ? { min, max } : { min: [0, 0, 0], max: [0, 0, 0] };
  if (key) boxes.set(key, box);
  return box;
}

/** How far the part reaches from its own origin, metres; never nothing. */
export function reachOf(row: ExpectedRow): number {
  const { min, max } = boxOf(row);
  return Math.max(0.001, ...[...min, ...max].map(Math.abs));
}

/** How large the part is, metres. */
export function sizeOf(row: ExpectedRow): number {
  const { min, max } = boxOf(row);
  return Math.hypot(...max.map((high, axis) => high - min[axis]));
}

export function largestOf(values: ArrayLike<number>): number {
  let most = 0;
  for (let i = 0; i < values.length; i++) most = Math.max(most, Math.abs(values[i]));
  return most;
}
