/** A mesh as 3MF has it: points at the same place are one, and triangles between fewer than three of them are none. */
import type { PlacedMesh } from '../../mesh/placed.ts';
import { NEWLINE } from '../pieces.ts';
import type { XmlText } from '../xml.ts';
import type { ObjectType } from './objects.ts';

/** What each triangle of a slot is given. */
export interface SlotProperties {
  /** Group of properties. */
  pid: number;
  /** The same for all corners; absent where each corner has its own, numbered as the points of the mesh. */
  index?: number;
}

/** Positions are in single precision: nine digits tell each from its neighbours. */
const DIGITS = 9;

/** @returns whether it is closed */
export function writeMesh(xml: XmlText, about: { id: number; name: string; partnumber?: string }, mesh: PlacedMesh, slots: ReadonlyMap<number, SlotProperties>): ObjectType {
  const { positions, indices, groups } = mesh;
  const { numbers, firsts } = welded(positions);
  const type = isClosed(indices, numbers, firsts.length) ? 'model' : 'surface';
  xml.begin('object', { ...about, type }).begin('mesh').begin('vertices');
  const { pieces } = xml;
  const axis = (value: number) => String(Number(Math.fround(value).toPrecision(DIGITS)) + 0);
  for (const at of firsts)
    pieces.text(`<vertex x="${axis(positions[at])}" y="${axis(positions[at + 1])}" z="${axis(positions[at + 2])}"/>\n`);
  xml.end().begin('triangles');
  for (const { slot, start, count } of groups) {
    const properties = slots.get(slot);
    for (let i = start; i < start + count; i += 3) {
      const [a, b, c] = [numbers[indices[i]], numbers[indices[i + 1]], numbers[indices[i + 2]]];
      if (a === b || b === c || a === c) continue;
      pieces.text('<triangle v1="').whole(a).text('" v2="').whole(b).text('" v3="').whole(c).text('"');
      if (properties) {
        const { pid, index } = properties;
        pieces.text(' pid="').whole(pid).text('" p1="').whole(index ?? indices[i]).text('"');
        if (index === undefined) pieces.text(' p2="').whole(indices[i + 1]).text('" p3="').whole(indices[i + 2]).text('"');
      }
      pieces.text('/>').sign(NEWLINE);
    }
  }
  xml.end().end().end();
  return type;
} // prettier-ignore

/** Number of the place of each point, and where the first point of each place stands in the list. */
function welded(positions: ArrayLike<number>): { numbers: Uint32Array; firsts: number[] } {
  const numbers = new Uint32Array(positions.length / 3);
  const firsts: number[] = [];
  const known = new Map<string, number>();
  for (let i = 0; i < numbers.length; i++) {
    const at = i * 3;
    const key = `${positions[at]} ${positions[at + 1]} ${positions[at + 2]}`;
    let number = known.get(key);
    if (number === undefined) {
      known.set(key, (number = firsts.length));
      firsts.push(at);
    }
    numbers[i] = number;
  }
  return { numbers, firsts };
}

/** Every edge is met twice, once in each direction. */
function isClosed(indices: Uint32Array, numbers: Uint32Array, points: number): boolean {
  const open = new Set<number>();
  const seen = new Set<number>();
  for (let i = 0; i < indices.length; i += 3) {
    const corners = [numbers[indices[i]], numbers[indices[i + 1]], numbers[indices[i + 2]]];
    if (corners[0] === corners[1] || corners[1] === corners[2] || corners[0] === corners[2]) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k], corners[(k + 1) % 3]];
      const edge = a * points + b;
      if (seen.has(edge)) return false;
      seen.add(edge);
      if (!open.delete(b * points + a)) open.add(edge);
    }
  }
  return open.size === 0 && seen.size > 0;
}
