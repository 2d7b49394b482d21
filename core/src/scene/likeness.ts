/**
 * Which branches of the tree are equal: same name, geometry, layer and materials, and the same below, in the same order. Two numbers of
 * 32 bits for each row; branches whose numbers and names agree are taken for equal.
 */
import type { NodeTable } from './nodes.ts';

export interface Likeness {
  a: Int32Array;
  b: Int32Array;
}

/** @param order rows, each after the one above it */
export function likenessOf(nodes: NodeTable, order: Int32Array): Likeness {
  const { parent, name, mesh, solid, layer, materials } = nodes.columns;
  const { hashes } = nodes.tables.texts;
  const a = new Int32Array(nodes.rows);
  const b = new Int32Array(nodes.rows);
  // Children first: what is below goes into the numbers of what is above.
  for (let i = order.length - 1; i >= 0; i--) {
    const row = order[i];
    const own = mixed(mixed(mixed(hashes[name[row]], mesh[row] || -solid[row]), layer[row]), materials[row]);
    a[row] = mixed(a[row], own);
    b[row] = mixed(mixed(b[row] ^ 0x5bd1e995, own), 0x27d4eb2f);
    const above = parent[row];
    if (above < 0) continue;
    a[above] = mixed(a[above], a[row]);
    b[above] = mixed(b[above], b[row]);
  }
  return { a, b };
}

/** A step of MurmurHash3, 32 bits (Appleby, public domain). */
function mixed(hash: number, value: number): number {
  let k = Math.imul(value, 0xcc9e2d51);
  k = Math.imul((k << 15) | (k >>> 17), 0x1b873593);
  hash ^= k;
  hash = (hash << 13) | (hash >>> 19);
  return (Math.imul(hash, 5) + 0xe6546b64) | 0;
}
