/** Whether a scene has more feature edges than the processor draws in a moment. */
import type { Rows } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';

/** Line segments that are drawn as feature edges where the processor draws. */
const ECONOMY_EDGES = 400_000;

export class EdgeCount {
  #of: unknown[] = [];
  #areMany = false;

  /** Counted from the figures, whether or not the geometry has arrived; once for the same rows and meshes. */
  areMany(scene: Scene, shown: Rows): boolean {
    const of = [shown, scene.nodes.columns.mesh];
    if (of.every((one, i) => one === this.#of[i])) return this.#areMany;
    this.#of = of;
    return (this.#areMany = counted(scene, shown) > ECONOMY_EDGES);
  }
}

/** Segments, or some number beyond what is drawn. */
function counted({ nodes, meshes }: Scene, { mask }: Rows): number {
  const { mesh } = nodes.columns;
  const known: number[] = [];
  let sum = 0;
  for (let row = 0; row < mesh.length && sum <= ECONOMY_EDGES; row++)
    if (mask[row] === 1) sum += known[mesh[row]] ??= meshes[nodes.word('mesh', row)].edges;
  return sum;
}
