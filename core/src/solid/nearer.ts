/**
 * Brings triangles nearer to their exact surfaces where the kernel does not: edges inside a face are divided, and their middles put on
 * the surface. Edges on the border of a face stay, since the neighbour has to meet them; what is left over the limit there is said.
 */
import { divided, edgeKey, pointsOf } from './edgeLimits.ts';
import type { ExactFace, FacesMesh } from './faces.ts';
import { heightOver, worstOfFace } from './measure.ts';

/** How often edges are halved. */
const ROUNDS = 6;
/** Triangles beyond which a solid is not refined: so many times those of the kernel, and so many at least. */
const MOST = { times: 8, least: 40_000 };
/** Edges that take a part of the limit as large as this are divided, in triangles that exceed it. */
const SHARE = 0.5;

/** @param limit millimetres. The same mesh where nothing can be divided. */
export function nearer(mesh: FacesMesh, faces: readonly ExactFace[], limit: number): FacesMesh {
  if (!mesh.parameters || mesh.firstIndex.length - 1 !== faces.length) return mesh;
  const most = Math.max(MOST.least, (mesh.triangles.length / 3) * MOST.times);
  const placed = (f: number, u: number, v: number) => faces[f].surface.at(u, v);
  let now = mesh;
  for (let round = 0; round < ROUNDS && now.triangles.length / 3 < most; round++) {
    const points = pointsOf(now);
    const edges = edgesToDivide(now, points, faces, limit);
    if (edges.size === 0) break;
    now = divided(now, points, edges, placed);
  }
  return now;
}

function edgesToDivide(mesh: FacesMesh, points: Uint32Array, faces: readonly ExactFace[], limit: number): Set<number> {
  const { triangles, firstIndex, positions } = mesh;
  const count = positions.length / 3;
  const out = new Set<number>();
  for (const [f, { surface }] of faces.entries()) {
    if (surface.kind === 'plane') continue;
    const inside = insideOf(mesh, f);
    for (let i = firstIndex[f]; i < firstIndex[f + 1]; i += 3) {
      const height = surface.distance ? worstOfFace(mesh, i, i + 3, surface.distance) : heightOver(mesh, i, surface.at);
      if (height <= limit) continue;
      for (let k = 0; k < 3; k++) {
        const [a, b] = [triangles[i + k], triangles[i + ((k + 1) % 3)]];
        if (inside.has(edgeKey(a, b, count)) && sagOf(mesh, a, b, surface.at) > limit * SHARE)
          out.add(edgeKey(points[a], points[b], count));
      }
    }
  }
  return out;
}

/** Edges of a face that two of its triangles share. */
function insideOf({ triangles, firstIndex, positions }: FacesMesh, f: number): Set<number> {
  const count = positions.length / 3;
  const once = new Set<number>();
  const twice = new Set<number>();
  for (let i = firstIndex[f]; i < firstIndex[f + 1]; i++) {
    const key = edgeKey(triangles[i], triangles[i % 3 === 2 ? i - 2 : i + 1], count);
    if (once.has(key)) twice.add(key);
    else once.add(key);
  }
  return twice;
}

/** How far the middle of an edge lies from the surface at the middle of its parameters, millimetres. */
function sagOf(
  { positions: p, parameters }: FacesMesh,
  a: number,
  b: number,
  at: (u: number, v: number) => readonly number[],
): number {
  if (!parameters) return 0;
  const on = at((parameters[a * 2] + parameters[b * 2]) / 2, (parameters[a * 2 + 1] + parameters[b * 2 + 1]) / 2);
  return Math.hypot(...[0, 1, 2].map((axis) => on[axis] - (p[a * 3 + axis] + p[b * 3 + axis]) / 2));
}
