/** Puts several scenes into one; ids and keys stay unique. */
import { EMPTY_SCENE } from './types.ts';
import type { Scene } from './types.ts';

/** Scenes of several sources, each with its own roots. Ids are shifted source by source; keys begin with the id of the source. */
export function mergeScenes(scenes: readonly Scene[]): Scene {
  let out: Scene = EMPTY_SCENE;
  for (const scene of scenes) {
    const shift = out.nodes.length;
    const prefix = scene.sources[0]?.id ?? '';
    out = {
      sources: [...out.sources, ...scene.sources],
      nodes: [
        ...out.nodes,
        ...scene.nodes.map((node) => ({
          ...node,
          id: node.id + shift,
          parent: node.parent === null ? null : node.parent + shift,
          key: `${prefix}:${node.key}`,
        })),
      ],
      meshes: { ...out.meshes, ...scene.meshes },
      solids: { ...out.solids, ...scene.solids },
      materials: { ...out.materials, ...scene.materials },
      textures: { ...out.textures, ...scene.textures },
      layers: [...out.layers, ...scene.layers],
      animations: { ...out.animations, ...scene.animations },
    };
  }
  return out;
}
