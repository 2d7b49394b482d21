/** What a survey counts: parts, distinct solids, and how many parts stand on each layer and in each material. */
import type { Scene } from '../scene/types.ts';

export interface SurveyCounts {
  /** Placements with geometry. */
  parts: number;
  assemblies: number;
  /** Bodies of lines that repeat a solid; no part of the other counts. */
  wires: number;
  /** Distinct solids. */
  pieces: number;
  layers: { name: string; parts: number }[];
  materials: { id: string; name: string; parts: number }[];
}

export function surveyCounts(scene: Scene): SurveyCounts {
  const layers = new Map(scene.layers.map((layer) => [layer.name, 0]));
  const materials = new Map<string, number>();
  const solids = new Set<string>();
  let parts = 0;
  let assemblies = 0;
  let wires = 0;
  for (const node of scene.nodes) {
    if (node.spare) {
      wires++;
      continue;
    }
    if (node.kind === 'assembly') {
      assemblies++;
      continue;
    }
    if (node.kind !== 'part') continue;
    parts++;
    if (node.solid) solids.add(node.solid);
    if (node.layer) layers.set(node.layer, (layers.get(node.layer) ?? 0) + 1);
    for (const id of new Set(node.materials)) if (id !== 'none') materials.set(id, (materials.get(id) ?? 0) + 1);
  }
  return {
    parts,
    assemblies,
    wires,
    pieces: solids.size,
    layers: [...layers].map(([name, count]) => ({ name, parts: count })),
    materials: [...materials].map(([id, count]) => ({ id, name: scene.materials[id]?.name ?? id, parts: count })),
  };
}
