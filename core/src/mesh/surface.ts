/** A surface that can be asked for its distance from a point: a search tree, and one triangle at a time. */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { CENTER, MeshBVH } from 'three-mesh-bvh';
import type { Mesh } from './mesh.ts';
import { distanceFromTriangle } from './triangleDistance.ts';

const point = new Vector3();
const hit = { point: new Vector3(), distance: 0, faceIndex: 0 };

export class Surface {
  readonly #tree: MeshBVH;
  /** Sorted by the tree, so that the triangles' numbers are those of the tree. */
  readonly #indices: Uint32Array;
  readonly #positions: Float32Array;
  /** The triangle that the last call of `distance` found. */
  nearest = 0;

  constructor({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>) {
    const geometry = new BufferGeometry();
    this.#positions = positions;
    // The tree sorts the index in place; the mesh must keep its order.
    this.#indices = indices.slice();
    geometry.setAttribute('position', new BufferAttribute(positions, 3));
    geometry.setIndex(new BufferAttribute(this.#indices, 1));
    this.#tree = new MeshBVH(geometry, { strategy: CENTER });
  }

  /**
   * Distance of a point, metres. The search begins with a triangle that is likely near, and may end with any that is no farther than
   * `enough`: then the result is only known to be at most that.
   */
  distance(x: number, y: number, z: number, near: number, enough = 0): number {
    const first = this.distanceFrom(near, x, y, z);
    this.nearest = near;
    if (first <= enough) return first;
    const found = this.#tree.closestPointToPoint(point.set(x, y, z), hit, enough, first);
    if (!found || found.distance >= first) return first;
    this.nearest = found.faceIndex;
    return found.distance;
  }

  /** Distance of a point from one triangle, metres. */
  distanceFrom(triangle: number, x: number, y: number, z: number): number {
    return distanceFromTriangle(this.#positions, this.#indices, triangle, x, y, z);
  }
}
