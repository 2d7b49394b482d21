/** The take-off: triangles, draw calls and instances of a scene, and per row of the tree. */
import { PART } from './nodes.ts';
import type { RowSet } from './rowSet.ts';
import type { MeshFigures, Scene, SceneNode } from './types.ts';

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

/** Counts anew; `takeOff` of `facts.ts` keeps what was counted. @param only rows to count, all where absent */
export function takeOffOf(scene: Scene, only?: RowSet): TakeOff {
  const { nodes } = scene;
  const { kind, layer, mesh, materials } = nodes.columns;
  const { words, lists } = nodes.tables;
  const layers = new Uint8Array(words.length);
  /** What each mesh is, by the number of its word; made at its first placement. */
  const figures: (MeshFigures | undefined)[] = [];
  const calls = new Set<number | string>();
  const used = new Set<number>();
  let parts = 0;
  let triangles = 0;
  let uniqueTriangles = 0;
  // Few pairs of mesh and list of materials stand for many rows.
  const pairs = new Map<number, number>();
  const seen = words.length * lists.length <= 8_000_000 ? new Uint8Array(words.length * lists.length) : undefined;
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] !== PART || (only && !only.has(row))) continue;
    parts++;
    layers[layer[row]] = 1;
    if (mesh[row] === 0) continue;
    const known = (figures[mesh[row]] ??= scene.meshes[words.get(mesh[row])]);
    triangles += known.triangles;
    const pair = mesh[row] * lists.length + materials[row];
    if (seen?.[pair] === 1) continue;
    if (seen) seen[pair] = 1;
    pairs.set(pair, row);
  }
  for (const row of pairs.values()) {
    const list = lists.get(materials[row]);
    figures[mesh[row]]?.slots.forEach((count, slot) => {
      if (count === 0) return;
      const material = list[slot] ?? list[0] ?? -1;
      used.add(material);
      calls.add(`${mesh[row]} ${slot} ${material}`);
    });
  }
  let meshes = 0;
  for (const known of figures)
    if (known) {
      meshes++;
      uniqueTriangles += known.triangles;
    }
  layers[0] = 0;
  return {
    parts,
    meshes,
    triangles,
    uniqueTriangles,
    drawCalls: calls.size,
    materials: used.size,
    layers: layers.reduce((sum, one) => sum + one, 0),
  };
}

/** Material id of a slot; parts with fewer materials than slots use the first. */
export function materialOfSlot(node: SceneNode, slot: number): string {
  return node.materials[slot] ?? node.materials[0] ?? 'none';
}
