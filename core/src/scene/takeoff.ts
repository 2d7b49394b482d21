/** The take-off: triangles, draw calls and instances of a scene, and per row of the tree. */
import type { Scene, SceneNode } from './types.ts';

export interface TakeOff {
  parts: number;
  /** Distinct meshes in use. */
  meshes: number;
  /** Triangles drawn: every placement counts. */
  triangles: number;
  /** Triangles stored: every mesh counts once. */
  uniqueTriangles: number;
  /** Distinct pairs of geometry and material: what a renderer that draws instances has to issue. */
  drawCalls: number;
  materials: number;
  layers: number;
}

const made = new WeakMap<Scene, TakeOff>();

/** Made once per scene. */
export function takeOff(scene: Scene): TakeOff {
  let known = made.get(scene);
  if (!known) made.set(scene, (known = counted(scene)));
  return known;
}

function counted(scene: Scene): TakeOff {
  const meshes = new Set<string>();
  const materials = new Set<string>();
  const layers = new Set<string>();
  const calls = new Set<string>();
  let parts = 0;
  let triangles = 0;
  for (const node of scene.nodes) {
    if (node.kind !== 'part') continue;
    parts++;
    if (node.layer) layers.add(node.layer);
    if (!node.mesh) continue;
    const figures = scene.meshes[node.mesh];
    meshes.add(node.mesh);
    triangles += figures.triangles;
    figures.slots.forEach((count, slot) => {
      if (count === 0) return;
      const material = materialOfSlot(node, slot);
      materials.add(material);
      calls.add(`${node.mesh} ${slot} ${material}`);
    });
  }
  let uniqueTriangles = 0;
  for (const mesh of meshes) uniqueTriangles += scene.meshes[mesh].triangles;
  return {
    parts,
    meshes: meshes.size,
    triangles,
    uniqueTriangles,
    drawCalls: calls.size,
    materials: materials.size,
    layers: layers.size,
  };
}

/** Material id of a slot; parts with fewer materials than slots use the first. */
export function materialOfSlot(node: SceneNode, slot: number): string {
  return node.materials[slot] ?? node.materials[0] ?? 'none';
}

/** Triangles drawn at and below every node, by id. */
export function trianglesByNode(scene: Scene): Map<number, number> {
  const out = new Map<number, number>();
  for (let i = scene.nodes.length - 1; i >= 0; i--) {
    const node = scene.nodes[i];
    const own = (node.mesh ? scene.meshes[node.mesh].triangles : 0) + (out.get(node.id) ?? 0);
    out.set(node.id, own);
    if (node.parent !== null) out.set(node.parent, (out.get(node.parent) ?? 0) + own);
  }
  return out;
}
