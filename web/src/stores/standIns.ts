/**
 * What the view shows while a part is computed anew: the triangles that it had. A part without any would leave a hole, although nothing
 * is wrong with it.
 */
import type { Scene } from '@noble-prism/core/scene/types';

export class StandIns {
  /** Mesh of each solid as it was last seen. */
  readonly #last = new Map<string, string>();
  readonly #figures = new Map<string, Scene['meshes'][string]>();

  /** The scene with the latest known triangles where a solid waits for new ones; the same scene where none does. */
  shown(scene: Scene): Scene {
    const meshes: Scene['meshes'] = {};
    let stands = false;
    const nodes = scene.nodes.map((node) => {
      if (!node.solid) return node;
      if (node.mesh) {
        this.#last.set(node.solid, node.mesh);
        this.#figures.set(node.mesh, scene.meshes[node.mesh]);
        return node;
      }
      const mesh = node.problem ? undefined : this.#last.get(node.solid);
      const figures = mesh && this.#figures.get(mesh);
      if (!mesh || !figures) return node;
      stands = true;
      meshes[mesh] = figures;
      return { ...node, mesh };
    });
    return stands ? { ...scene, nodes, meshes: { ...meshes, ...scene.meshes } } : scene;
  }

  clear(): void {
    this.#last.clear();
    this.#figures.clear();
  }
}
