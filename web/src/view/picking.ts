/** Finds the part under the pointer: boxes first, then the search tree of each mesh, nearest first. */
import { Box3, DoubleSide, Matrix4, Ray, Vector3 } from 'three';
import type { BufferGeometry } from 'three';
import { geometryTransform } from '@noble-prism/core/scene/tree';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import type { SceneNode } from '@noble-prism/core/scene/types';
import type { GeometryStore } from './geometry.ts';

interface Target {
  node: SceneNode;
  matrix: Matrix4;
  inverse: Matrix4;
  box: Box3;
}

export interface Hit {
  node: SceneNode;
  /** World, metres. */
  point: Vector3;
  /** Corners of the triangle that was hit. */
  corners: Vector3[];
}

export class Picker {
  /** Made when somebody picks: most scenes are replaced before. */
  #targets: Target[] | undefined;
  #parts: { nodes: readonly SceneNode[]; worlds: Map<number, Matrix> } = { nodes: [], worlds: new Map() };

  constructor(readonly geometry: GeometryStore) {}

  setParts(nodes: readonly SceneNode[], worlds: Map<number, Matrix>): void {
    this.#parts = { nodes, worlds };
    this.#targets = undefined;
  }

  #made(): Target[] {
    const { nodes, worlds } = this.#parts;
    return nodes.flatMap((node) => {
      const surface: BufferGeometry | undefined = node.mesh ? this.geometry.get(node.mesh)?.surface : undefined;
      if (!surface?.boundingBox) return [];
      const matrix = new Matrix4().fromArray(geometryTransform(node, worlds.get(node.id) as Matrix));
      return [
        { node, matrix, inverse: matrix.clone().invert(), box: surface.boundingBox.clone().applyMatrix4(matrix) },
      ];
    });
  }

  /** The nearest part along a world ray, and where it was hit, metres. */
  pick(ray: Ray): Hit | undefined {
    const point = new Vector3();
    const candidates = (this.#targets ??= this.#made())
      .flatMap((target) =>
        ray.intersectBox(target.box, point) ? [{ target, distance: point.distanceTo(ray.origin) }] : [],
      )
      .sort((a, b) => a.distance - b.distance);
    let best: Hit | undefined;
    let nearest = Infinity;
    const local = new Ray();
    for (const { target, distance } of candidates) {
      // Boxes that begin behind the nearest hit can hold nothing nearer.
      if (distance > nearest) break;
      const tree = this.geometry.get(target.node.mesh as string)?.tree;
      if (!tree) continue;
      const hit = tree.raycastFirst(local.copy(ray).applyMatrix4(target.inverse), DoubleSide);
      if (!hit) continue;
      const world = hit.point.clone().applyMatrix4(target.matrix);
      const away = world.distanceTo(ray.origin);
      if (away < nearest) {
        nearest = away;
        const corners = (['a', 'b', 'c'] as const).map((name) => {
          const positions = this.geometry.get(target.node.mesh as string)?.positions ?? [];
          return new Vector3().fromArray(positions, (hit.face?.[name] ?? 0) * 3).applyMatrix4(target.matrix);
        });
        best = { node: target.node, point: world, corners };
      }
    }
    return best;
  }
}
