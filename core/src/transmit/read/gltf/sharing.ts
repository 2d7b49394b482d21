/** Has the loader of three.js make each mesh once, however many nodes show it. */
import { Object3D } from 'three';
import type { GLTFParser } from 'three/addons/loaders/GLTFLoader.js';
import { OPENED } from './pictures.ts';

/** What nodes show, where it is not a part of the node. */
export const shownBy = new WeakMap<Object3D, Object3D>();

/**
 * Of a mesh that many nodes show the loader makes a copy for each, and asks each of its two dozen extensions at every node: at a hundred
 * thousand of them that takes longer than all else. Here nodes refer to the one mesh, and only extensions that the file has are asked.
 */
export function sharing(parser: GLTFParser) {
  const name = 'sharing';
  return {
    name,
    beforeRoot() {
      const { plugins, json } = parser as unknown as {
        plugins: Record<string, unknown>;
        json: { extensionsUsed?: string[] };
      };
      const asked = new Set([name, ...OPENED, ...(json.extensionsUsed ?? [])]);
      for (const other of Object.keys(plugins)) if (!asked.has(other)) delete plugins[other];
      return null;
    },
    createNodeMesh(index: number): Promise<Object3D> | null {
      const { nodes } = parser.json as { nodes: { mesh?: number }[] };
      const { mesh } = nodes[index];
      if (mesh === undefined) return null;
      return (parser.getDependency('mesh', mesh) as Promise<Object3D>).then((shown) => {
        const node = new Object3D();
        shownBy.set(node, shown);
        return node;
      });
    },
  };
}
