/**
 * Measures how far the triangles of a solid lie from its exact surfaces. On planes, cylinders, cones, spheres and tori by
 * their formulas at seven points of every triangle; on all others by the kernel at the middles of a sample of triangles.
 */
import type { ExactFace, FacesMesh } from './faces.ts';

/** Triangles on free surfaces that the kernel is asked about, for each solid: it answers a hundred thousand a second. */
const ASKED = 2000;

/** Largest distance found, millimetres. */
export function worstDeviation(mesh: FacesMesh, faces: readonly ExactFace[]): number {
  const count = mesh.firstIndex.length - 1;
  if (count !== faces.length) return 0;
  let free = 0;
  for (let f = 0; f < count; f++)
    if (faces[f].surface.kind === 'other') free += (mesh.firstIndex[f + 1] - mesh.firstIndex[f]) / 3;
  const pace = Math.max(1, Math.ceil(free / ASKED));
  let worst = 0;
  let turn = 0;
  for (let f = 0; f < count; f++) {
    const { surface } = faces[f];
    let here = 0;
    if (surface.kind === 'other') {
      for (let i = mesh.firstIndex[f]; i < mesh.firstIndex[f + 1]; i += 3)
        if (turn++ % pace === 0) here = Math.max(here, heightOver(mesh, i, surface.at));
    } else if (surface.kind !== 'plane' && surface.distance)
      here = worstOfFace(mesh, mesh.firstIndex[f], mesh.firstIndex[f + 1], surface.distance);
    worst = Math.max(worst, here);
  }
  return worst;
}

export function worstOfFace(
  { positions: p, triangles }: FacesMesh,
  start: number,
  end: number,
  distance: (x: number, y: number, z: number) => number,
): number {
  let worst = 0;
  for (let i = start; i < end; i += 3) {
    const [a, b, c] = [triangles[i] * 3, triangles[i + 1] * 3, triangles[i + 2] * 3];
    for (const [wa, wb, wc] of SAMPLES) {
      const found = distance(
        wa * p[a] + wb * p[b] + wc * p[c],
        wa * p[a + 1] + wb * p[b + 1] + wc * p[c + 1],
        wa * p[a + 2] + wb * p[b + 2] + wc * p[c + 2],
      );
      if (found > worst) worst = found;
    }
  }
  return worst;
}

const SAMPLES = [
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
  [1 / 3, 1 / 3, 1 / 3],
  [0.5, 0.25, 0.25],
  [0.25, 0.5, 0.25],
  [0.25, 0.25, 0.5],
] as const;

/**
 * Height of the surface over a triangle, at the middle of its parameters. Where the parameters are so uneven that this point
 * of the surface does not lie over the triangle, it says nothing and counts as 0.
 */
export function heightOver(
  { positions: p, parameters, triangles }: FacesMesh,
  i: number,
  at: (u: number, v: number) => readonly number[],
): number {
  if (!parameters) return 0;
  const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
  const [ax, ay, az] = [p[a * 3], p[a * 3 + 1], p[a * 3 + 2]];
  const [e1x, e1y, e1z] = [p[b * 3] - ax, p[b * 3 + 1] - ay, p[b * 3 + 2] - az];
  const [e2x, e2y, e2z] = [p[c * 3] - ax, p[c * 3 + 1] - ay, p[c * 3 + 2] - az];
  const [nx, ny, nz] = [e1y * e2z - e1z * e2y, e1z * e2x - e1x * e2z, e1x * e2y - e1y * e2x];
  const twice = Math.hypot(nx, ny, nz);
  if (!(twice > 0)) return 0;
  const middle = (k: 0 | 1) => (parameters[a * 2 + k] + parameters[b * 2 + k] + parameters[c * 2 + k]) / 3;
  const [sx, sy, sz] = at(middle(0), middle(1));
  const [dx, dy, dz] = [sx - ax, sy - ay, sz - az];
  // Barycentric coordinates of its foot, from the areas of the three triangles that it makes.
  const share = (x: number, y: number, z: number) => (x * nx + y * ny + z * nz) / (twice * twice);
  const beta = share(dy * e2z - dz * e2y, dz * e2x - dx * e2z, dx * e2y - dy * e2x);
  const gamma = share(e1y * dz - e1z * dy, e1z * dx - e1x * dz, e1x * dy - e1y * dx);
  if (beta < 0 || gamma < 0 || beta + gamma > 1) return 0;
  return Math.abs(dx * nx + dy * ny + dz * nz) / twice;
}
