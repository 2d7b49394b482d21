/** Connected patches of a mesh of about one size: what takes more than its share of time on a whole mesh is done on them one by one. */
import { neighboursOf } from './region.ts';
import type { Mesh } from './mesh.ts';

/** A patch smaller than this share of the largest goes to one beside it, where there is one. */
const SMALL = 1 / 16;

/**
 * Patches grow from their seeds ring by ring, so that they are about as long as wide; what is left between them is given to neighbours.
 * @param most triangles of a patch; a little more where leavings were given to it
 * @returns triangles of each, rising
 */
export function patchesOf(mesh: Pick<Mesh, 'positions' | 'indices'>, most: number): Uint32Array[] {
  const triangles = mesh.indices.length / 3;
  if (triangles <= most) return [Uint32Array.from({ length: triangles }, (_, i) => i)];
  const neighbours = neighboursOf(mesh);
  const patchOf = new Int32Array(triangles).fill(-1);
  const patches: number[][] = [];
  for (let seed = 0; seed < triangles; seed++) {
    if (patchOf[seed] >= 0) continue;
    const patch = [seed];
    patchOf[seed] = patches.length;
    for (let i = 0; i < patch.length && patch.length < most; i++)
      for (let half = patch[i] * 3; half < patch[i] * 3 + 3 && patch.length < most; half++) {
        const other = neighbours[half];
        if (other < 0 || patchOf[other] >= 0) continue;
        patchOf[other] = patches.length;
        patch.push(other);
      }
    patches.push(patch);
  }
  // Later ones are leavings of earlier ones.
  for (let own = patches.length - 1; own >= 0; own--) {
    const patch = patches[own];
    if (patch.length >= most * SMALL) continue;
    const beside = besideOf(patch, own);
    if (beside === undefined) continue;
    for (const triangle of patch) patchOf[triangle] = beside;
    patches[beside].push(...patch);
    patches[own] = [];
  }
  return patches.filter((patch) => patch.length > 0).map((patch) => Uint32Array.from(patch).sort());

  /** The patch with which another one has the most sides in common. */
  function besideOf(patch: readonly number[], own: number): number | undefined {
    const sides = new Map<number, number>();
    for (const triangle of patch)
      for (let half = triangle * 3; half < triangle * 3 + 3; half++) {
        const other = neighbours[half] < 0 ? own : patchOf[neighbours[half]];
        if (other !== own) sides.set(other, (sides.get(other) ?? 0) + 1);
      }
    return [...sides].sort((a, b) => b[1] - a[1])[0]?.[0];
  }
}
