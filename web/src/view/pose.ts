/** Places in the world of a scene of which some nodes are where an animation has them. */
import { factsOf } from '@noble-prism/core/scene/facts';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { multiplyAt, putMatrix, STRIDE } from '@noble-prism/core/scene/places';
import type { Scene } from '@noble-prism/core/scene/types';

/** @param places in their parents, by row. @returns twelve numbers for each row, as the facts of a scene have them */
export function posedWorlds(scene: Scene, places: ReadonlyMap<number, Matrix>): Float64Array {
  const facts = factsOf(scene);
  const { parent, place } = scene.nodes.columns;
  const out = facts.worlds.slice();
  const moved = new Uint8Array(scene.nodes.rows);
  const own = new Float64Array(STRIDE);
  for (const row of facts.order) {
    const given = places.get(row);
    if (!given && (parent[row] < 0 || moved[parent[row]] === 0)) continue;
    moved[row] = 1;
    if (given) putMatrix(given, own, 0);
    const { values, at } = given ? { values: own, at: 0 } : scene.nodes.tables.places.locate(place[row]);
    if (parent[row] < 0) out.set(values.subarray(at, at + STRIDE), row * STRIDE);
    else multiplyAt(out, parent[row] * STRIDE, values, at, out, row * STRIDE);
  }
  return out;
}
