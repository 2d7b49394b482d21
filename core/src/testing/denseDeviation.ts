/**
 * The largest distance between two surfaces as somebody else would measure it: every vertex, and many points at random, each by the
 * closest-point search of three-mesh-bvh with the libraries' own defaults. Shares no code with mesh/deviation.ts.
 */
import { randomNumbers } from './random.ts';
import { BufferAttribute, BufferGeometry, Triangle, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { Mesh } from '../mesh/mesh.ts';

type Triangles = Pick<Mesh, 'positions' | 'indices'>;

/** @param points at random on each surface, besides its vertices */
export function denseDeviation(a: Triangles, b: Triangles, points: number): number {
  return Math.max(oneWay(a, b, points), oneWay(b, a, points));
}

function oneWay(from: Triangles, to: Triangles, points: number): number {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(to.positions, 3));
  geometry.setIndex(new BufferAttribute(to.indices.slice(), 1));
  const tree = new MeshBVH(geometry);
  let largest = 0;
  const visit = (point: Vector3) => {
    largest = Math.max(largest, tree.closestPointToPoint(point)?.distance ?? 0);
  };
  const corner = (i: number) => new Vector3().fromArray(from.positions, from.indices[i] * 3);
  const faces = Array.from(
    { length: from.indices.length / 3 },
    (_, t) => new Triangle(corner(t * 3), corner(t * 3 + 1), corner(t * 3 + 2)),
  );
  for (const { a, b, c } of faces) for (const point of [a, b, c]) visit(point);
  const area = faces.reduce((sum, face) => sum + face.getArea(), 0);
  const random = randomNumbers(20261126);
  for (const face of faces) {
    const share = (points * face.getArea()) / area;
    const count = Math.floor(share) + (random() < share % 1 ? 1 : 0);
    for (let n = 0; n < count; n++) {
      let [u, v] = [random(), random()];
      if (u + v > 1) [u, v] = [1 - u, 1 - v];
      visit(
        face.a
          .clone()
          .multiplyScalar(1 - u - v)
          .addScaledVector(face.b, u)
          .addScaledVector(face.c, v),
      );
    }
  }
  return largest;
}
