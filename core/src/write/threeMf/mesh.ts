/** A mesh as 3MF has it: points at the same place are one, and triangles between fewer than three of them are none. */
import type { PlacedMesh } from '../../mesh/placed.ts';
import { HashTable } from '../../mesh/hashTable.ts';
import { decimalsFor, NEWLINE } from '../pieces.ts';
import type { XmlText } from '../xml.ts';
import type { ObjectType } from './objects.ts';

/** What each triangle of a slot is given. */
export interface SlotProperties {
  /** Group of properties. */
  pid: number;
  /** The same for all corners; absent where each corner has its own, numbered as the points of the mesh. */
  index?: number;
}

/** @returns whether it is closed */
export function writeMesh(xml: XmlText, about: { id: number; name: string; partnumber?: string }, mesh: PlacedMesh, slots: ReadonlyMap<number, SlotProperties>): ObjectType {
  const { positions, indices, groups } = mesh;
  const { numbers, firsts } = welded(positions);
  const type = isClosed(indices, numbers, firsts.length) ? 'model' : 'surface';
  xml.begin('object', { ...about, type }).begin('mesh').begin('vertices');
  const { pieces } = xml;
  const decimals = decimalsOf(positions);
  for (const at of firsts) {
    pieces.text('<vertex x="').number(positions[at], decimals).text('" y="').number(positions[at + 1], decimals);
    pieces.text('" z="').number(positions[at + 2], decimals).text('"/>\n');
  }
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

function decimalsOf(positions: ArrayLike<number>): number {
  let reach = 0;
  for (let i = 0; i < positions.length; i++) reach = Math.max(reach, Math.abs(positions[i]));
  return decimalsFor(reach) + 1;
}

/** Number of the place of each point, and where the first point of each place stands in the list. */
function welded(positions: Float32Array | Float64Array): { numbers: Uint32Array; firsts: number[] } {
  const count = positions.length / 3;
  const numbers = new Uint32Array(count);
  const firsts: number[] = [];
  const table = new HashTable(count);
  const exact = new Float64Array(3);
  const bits = new Int32Array(exact.buffer);
  for (let i = 0; i < count; i++) {
    // Adding zero turns -0 into 0: two names for one place.
    for (let k = 0; k < 3; k++) exact[k] = positions[i * 3 + k] + 0;
    const place = table.placeOf(bits[0] ^ bits[1], bits[2] ^ bits[3], bits[4] ^ bits[5]);
    let other = table.heads[place];
    while (other >= 0 && !isAt(positions, firsts[other], exact)) other = table.next[other];
    if (other < 0) {
      other = firsts.push(i * 3) - 1;
      table.add(other, place);
    }
    numbers[i] = other;
  }
  return { numbers, firsts };
}

const isAt = (positions: ArrayLike<number>, at: number, [x, y, z]: Float64Array) =>
  positions[at] === x && positions[at + 1] === y && positions[at + 2] === z;

/** Every edge is met twice, once in each direction. */
function isClosed(indices: Uint32Array, numbers: Uint32Array, points: number): boolean {
  // Edges by their lower end: how many go up and how many come down.
  const table = new HashTable(indices.length);
  const ends = new Uint32Array(indices.length * 2);
  const ways = new Int8Array(indices.length * 2);
  let count = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const corners = [numbers[indices[i]], numbers[indices[i + 1]], numbers[indices[i + 2]]];
    if (corners[0] === corners[1] || corners[1] === corners[2] || corners[0] === corners[2]) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k], corners[(k + 1) % 3]];
      const [low, high] = a < b ? [a, b] : [b, a];
      const place = table.placeOf(low, high, 0);
      let edge = table.heads[place];
      while (edge >= 0 && (ends[edge * 2] !== low || ends[edge * 2 + 1] !== high)) edge = table.next[edge];
      if (edge < 0) {
        edge = count++;
        ends[edge * 2] = low;
        ends[edge * 2 + 1] = high;
        table.add(edge, place);
      }
      const way = edge * 2 + (a < b ? 0 : 1);
      if (ways[way]++ > 0) return false;
    }
  }
  for (let edge = 0; edge < count; edge++) if (ways[edge * 2] !== 1 || ways[edge * 2 + 1] !== 1) return false;
  return count > 0 && points > 0;
}
