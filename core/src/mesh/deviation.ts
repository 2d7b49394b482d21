/**
 * Distance between two surfaces, measured from samples in both directions: the largest found and the mean over the area
 * (two-sided Hausdorff and mean distance as in Cignoni, Rocchini and Scopigno, "Metro", 1998).
 */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { CENTER, MeshBVH } from 'three-mesh-bvh';
import type { Mesh } from './mesh.ts';

type Surface = Pick<Mesh, 'positions' | 'indices'>;

export interface DeviationOptions {
  /** Points spread evenly over the area of each surface. Vertices (at most as many again) are measured besides. */
  samples: number;
}

export const DEVIATION_DEFAULTS: DeviationOptions = { samples: 2500 };

/** Golden ratio's fraction and the plastic number's: steps of low-discrepancy sequences, so that the result is the same each time. */
const STEP_1 = 0.6180339887498949;
const STEP_2 = [0.7548776662466927, 0.5698402909980532];

/**
 * @returns largest and mean distance, metres. The maximum is that of the samples: the true one is never smaller.
 */
export function measureDeviation(
  a: Surface,
  b: Surface,
  options: Partial<DeviationOptions> = {},
): { max: number; mean: number } {
  const { samples } = { ...DEVIATION_DEFAULTS, ...options };
  if (a.indices.length === 0 || b.indices.length === 0) return { max: 0, mean: 0 };
  const forth = oneSided(a, searchTree(b), samples);
  const back = oneSided(b, searchTree(a), samples);
  return { max: Math.max(forth.max, back.max), mean: Math.max(forth.mean, back.mean) };
}

/** Search tree over a surface. */
function searchTree({ positions, indices }: Surface): MeshBVH {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  // The tree sorts the index in place; the mesh must keep its order.
  geometry.setIndex(new BufferAttribute(indices.slice(), 1));
  return new MeshBVH(geometry, { strategy: CENTER });
}

const point = new Vector3();
const hit = { point: new Vector3(), distance: 0, faceIndex: 0 };

function oneSided({ positions: p, indices }: Surface, tree: MeshBVH, samples: number): { max: number; mean: number } {
  let max = 0;
  const visit = (x: number, y: number, z: number): number => {
    const found = tree.closestPointToPoint(point.set(x, y, z), hit);
    const distance = found ? found.distance : 0;
    if (distance > max) max = distance;
    return distance;
  };
  const vertices = p.length / 3;
  const stride = Math.max(1, Math.floor(vertices / samples));
  for (let v = 0; v < vertices; v += stride) visit(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);

  const triangles = indices.length / 3;
  const cumulative = new Float64Array(triangles);
  let area = 0;
  for (let t = 0; t < triangles; t++) {
    area += triangleArea(p, indices, t);
    cumulative[t] = area;
  }
  let sum = 0;
  let t = 0;
  let s = 0;
  let u = 0.5;
  let v = 0.5;
  for (; s < samples; s++) {
    const target = ((s + STEP_1) / samples) * area;
    while (t < triangles - 1 && cumulative[t] < target) t++;
    u = (u + STEP_2[0]) % 1;
    v = (v + STEP_2[1]) % 1;
    const root = Math.sqrt(u);
    const [wa, wb, wc] = [1 - root, root * (1 - v), root * v];
    const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
    sum += visit(
      p[a] * wa + p[b] * wb + p[c] * wc,
      p[a + 1] * wa + p[b + 1] * wb + p[c + 1] * wc,
      p[a + 2] * wa + p[b + 2] * wb + p[c + 2] * wc,
    );
  }
  return { max, mean: sum / samples };
}

function triangleArea(p: Float32Array, indices: Uint32Array, t: number): number {
  const [a, b, c] = [indices[t * 3] * 3, indices[t * 3 + 1] * 3, indices[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}
