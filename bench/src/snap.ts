/** Snapping on a mesh of a million triangles: how long one look under the pointer takes, beside the bare ray through the search tree. */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { curvesOf } from '@noble-prism/core/measure/curves';
import { centresNear, snapAt } from '@noble-prism/core/measure/snap';
import { SnapFeatures } from '@noble-prism/core/measure/snapFeatures';
import { featureEdges } from '@noble-prism/core/mesh/edges';
import { withNormals } from '@noble-prism/core/mesh/normals';
import { IDENTITY } from '@noble-prism/core/scene/matrix';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { print, seconds } from './report.ts';

const SIDES = 24;
/** Studs of 92 triangles each. */
const ACROSS = 105;

/** Studs on a grid, as one mesh: two rims each. Metres. */
function studs() {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let stud = 0; stud < ACROSS * ACROSS; stud++) {
    const [x, z] = [(stud % ACROSS) * 0.03, Math.floor(stud / ACROSS) * 0.03];
    const first = positions.length / 3;
    for (const y of [0, 0.02])
      for (let i = 0; i < SIDES; i++) {
        const angle = (i / SIDES) * 2 * Math.PI;
        positions.push(x + 0.01 * Math.cos(angle), y, z + 0.01 * Math.sin(angle));
      }
    for (let i = 0; i < SIDES; i++) {
      const [a, b] = [first + i, first + ((i + 1) % SIDES)];
      indices.push(a, a + SIDES, b, b, a + SIDES, b + SIDES);
      if (i > 0 && i < SIDES - 1) indices.push(first, a, b, first + SIDES, b + SIDES, a + SIDES);
    }
  }
  const mesh = withNormals({
    positions: Float32Array.from(positions),
    indices: Uint32Array.from(indices),
    groups: [{ slot: 0, start: 0, count: indices.length }],
  });
  return { ...mesh, edges: featureEdges(mesh) };
}

const mesh = studs();
const of = `on ${(mesh.indices.length / 3 / 1e6).toFixed(2)} million triangles with ${mesh.edges.length / 6} segments of feature edges`;
let curves: ReturnType<typeof curvesOf> = [];
const told = await seconds(1, () => (curves = curvesOf(mesh.edges)));
let features = new SnapFeatures([]);
const gridded = await seconds(1, () => (features = new SnapFeatures(curves)));
print({ name: `Curves told apart ${of}`, value: told, unit: 's', note: `${curves.length} of them, in a worker` });
print({ name: 'Their grid made, in the page, once', value: gridded * 1000, unit: 'ms' });

const geometry = new BufferGeometry();
geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
geometry.setIndex(new BufferAttribute(mesh.indices, 1));
const tree = new MeshBVH(geometry, { indirect: true });
const rays = Array.from({ length: 400 }, (_, i) => {
  const from = new Vector3(((i * 0.377) % 3) + 0.05, 1.5, ((i * 0.211) % 3) + 0.05);
  return new Ray(from, new Vector3(0.01 * ((i % 7) - 3), -1, 0.01 * ((i % 5) - 2)).normalize());
});
// As at 1.5 m with a lens of 36 degrees in a view of 700 pixels.
const METRES_PER_PIXEL = (2 * 1.5 * Math.tan(Math.PI / 10)) / 700;
const bare = (await seconds(5, () => rays.forEach((ray) => tree.raycastFirst(ray, DoubleSide)))) / rays.length;
let snapped = 0;
const look = (ray: Ray) => {
  const hit = tree.raycastFirst(ray, DoubleSide);
  if (!hit) return;
  const point = hit.point.toArray() as Vector;
  const pixels = (other: Vector) => Math.hypot(...other.map((value, i) => value - point[i])) / METRES_PER_PIXEL;
  const aim = { row: 0, features, world: IDENTITY, point, pixels, metresPerPixel: METRES_PER_PIXEL };
  centresNear(aim);
  if (snapAt(aim).kind !== 'face') snapped++;
};
const whole = (await seconds(5, () => rays.forEach(look))) / rays.length;
if (snapped === 0) throw new Error('Nothing was snapped to.');
print({ name: `Snapped ${of}`, value: whole * 1000, unit: 'ms', aim: { most: 5 }, note: `${(whole / bare).toFixed(1)} times the bare ray` }); // prettier-ignore
