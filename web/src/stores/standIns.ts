/**
 * What the view shows while a part is computed anew: the triangles that it had. A part without any would leave a hole, although nothing
 * is wrong with it.
 */
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { GONE } from '@noble-prism/core/scene/nodes';
import type { Scene } from '@noble-prism/core/scene/types';

export class StandIns {
  /** Mesh of each solid as it was last seen. */
  readonly #last = new Map<string, string>();
  readonly #figures = new Map<string, Scene['meshes'][string]>();
  /** The columns of a scene in which nothing waited: most steps leave them as they are. */
  #whole: readonly Int32Array[] = [];

  /** The scene with the latest known triangles where a solid waits for new ones; the same scene where none does. */
  shown(scene: Scene): Scene {
    const { kind, solid, mesh, problem } = scene.nodes.columns;
    const columns = [kind, solid, mesh, problem];
    if (columns.every((column, i) => column === this.#whole[i])) return scene;
    const edit = new SceneEditor(scene);
    const meshes: Scene['meshes'] = {};
    // Of each solid once: its placements have the same mesh.
    const seen = new Uint8Array(scene.nodes.tables.words.length);
    const waiting: number[] = [];
    for (let row = 0; row < solid.length; row++) {
      if (solid[row] === 0 || kind[row] === GONE) continue;
      if (mesh[row] === 0) {
        if (problem[row] === 0) waiting.push(row);
        continue;
      }
      if (seen[solid[row]] === 1) continue;
      seen[solid[row]] = 1;
      const hash = scene.nodes.word('mesh', row);
      this.#last.set(scene.nodes.word('solid', row), hash);
      this.#figures.set(hash, scene.meshes[hash]);
    }
    this.#whole = waiting.length === 0 ? columns : [];
    for (const row of waiting) {
      const hash = this.#last.get(scene.nodes.word('solid', row));
      const figures = hash && this.#figures.get(hash);
      if (!hash || !figures) continue;
      edit.setMesh(row, hash);
      meshes[hash] = figures;
    }
    if (edit.isIdle) return scene;
    edit.setMeshes(meshes);
    return edit.finish().scene;
  }

  clear(): void {
    this.#last.clear();
    this.#figures.clear();
    this.#whole = [];
  }
}
