/** Makes one vertex of all corners that agree in everything: position, texture coordinates, normal, colour. */
import { HashTable } from '../mesh/hashTable.ts';
import { NumberList } from '../mesh/numberList.ts';
import type { BareMesh } from '../mesh/normals.ts';
import type { MeshGroup } from '../mesh/mesh.ts';

/** Values that corners refer to by number. `lists` of texture coordinates have two values each, colours four. */
export interface CornerValues {
  positions: ArrayLike<number>;
  normals?: ArrayLike<number>;
  uvs?: ArrayLike<number>[];
  colours?: ArrayLike<number>;
}

/** Triangles of one slot: for each corner the numbers of its values, -1 where it has none. */
export interface CornerRun {
  slot: number;
  position: ArrayLike<number>;
  normal?: ArrayLike<number>;
  uvs?: (ArrayLike<number> | undefined)[];
  colour?: ArrayLike<number>;
}

export function meshOfCorners(values: CornerValues, runs: readonly CornerRun[]): BareMesh {
  const sorted = [...runs].sort((a, b) => a.slot - b.slot);
  const total = sorted.reduce((sum, run) => sum + run.position.length, 0);
  const sets = values.uvs?.length ?? 0;
  const width = 3 + sets;
  const indices = new Uint32Array(total);
  const table = new HashTable(total);
  const made = new NumberList(Int32Array, 1024);
  const key = new Int32Array(width);
  const groups: MeshGroup[] = [];
  let at = 0;
  for (const run of sorted) {
    const start = at;
    for (let i = 0; i < run.position.length; i++) {
      key[0] = run.position[i];
      key[1] = run.normal?.[i] ?? -1;
      key[2] = run.colour?.[i] ?? -1;
      for (let set = 0; set < sets; set++) key[3 + set] = run.uvs?.[set]?.[i] ?? -1;
      const place = table.placeOf(key[0], key[1], key[2] ^ (sets ? Math.imul(key[3], 31) : 0));
      let found = table.heads[place];
      for (; found >= 0; found = table.next[found]) if (same(made, found * width, key)) break;
      if (found < 0) {
        found = made.length / width;
        for (let k = 0; k < width; k++) made.push(key[k]);
        table.add(found, place);
      }
      indices[at++] = found;
    }
    const last = groups.at(-1);
    if (last?.slot === run.slot) last.count += at - start;
    else if (at > start) groups.push({ slot: run.slot, start, count: at - start });
  }
  const count = made.length / width;
  const take = (list: ArrayLike<number>, size: number, column: number, empty: number) => {
    const out = new Float32Array(count * size).fill(empty);
    for (let v = 0; v < count; v++) {
      const from = made.at(v * width + column);
      if (from >= 0 && from * size + size <= list.length)
        for (let k = 0; k < size; k++) out[v * size + k] = list[from * size + k];
    }
    return out;
  };
  const positions = new Float64Array(count * 3);
  for (let v = 0; v < count; v++)
    for (let k = 0; k < 3; k++) positions[v * 3 + k] = values.positions[made.at(v * width) * 3 + k] ?? NaN;
  const hasNormals = values.normals && total > 0 && sorted.every((run) => run.normal);
  return {
    positions,
    indices,
    groups,
    ...(hasNormals ? { normals: take(values.normals ?? [], 3, 1, 0) } : {}),
    ...(values.uvs && sets > 0 ? { uvs: values.uvs.map((list, set) => take(list, 2, 3 + set, 0)) } : {}),
    ...(values.colours ? { colours: take(values.colours, 4, 2, 1) } : {}),
  };
}

function same(made: NumberList<Int32Array>, at: number, key: Int32Array): boolean {
  for (let k = 0; k < key.length; k++) if (made.at(at + k) !== key[k]) return false;
  return true;
}
