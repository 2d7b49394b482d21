/** Whether a mesh is a closed surface, its vertices joined where they lie on one point. */
import { samePosition } from '../mesh/weld.ts';

/** Edges that have not exactly two triangles; triangles without area are passed over. */
export function openEdges({ positions, indices }: { positions: Float32Array; indices: Uint32Array }): number {
  const point = samePosition(positions);
  const uses = new Map<string, number>();
  for (let i = 0; i < indices.length; i += 3) {
    const corners = [0, 1, 2].map((k) => point[indices[i + k]]);
    if (new Set(corners).size < 3) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k], corners[(k + 1) % 3]];
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      uses.set(key, (uses.get(key) ?? 0) + 1);
    }
  }
  return [...uses.values()].filter((count) => count !== 2).length;
}
