/** What a survey counts: parts, distinct solids, and how many parts stand on each layer and in each material. */
import { ASSEMBLY, GONE, PART, SPARE } from './nodes.ts';
import type { Scene } from './types.ts';

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

/** @param source counts this one only, where the scene holds several */
export function surveyCounts(scene: Scene, source?: string): SurveyCounts {
  const { nodes } = scene;
  const { kind, flags, solid, layer, materials, source: sources } = nodes.columns;
  const { words, lists } = nodes.tables;
  const only = source === undefined ? undefined : words.find(source);
  const isOf = (row: number) => only === undefined || sources[row] === only;
  const layers = new Map(
    scene.layers.filter((entry) => source === undefined || entry.source === source).map(({ name }) => [name, 0]),
  );
  const inLayer = new Int32Array(words.length);
  const withList = new Int32Array(lists.length);
  const solids = new Set<number>();
  let parts = 0;
  let assemblies = 0;
  let wires = 0;
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE || !isOf(row)) continue;
    if ((flags[row] & SPARE) !== 0) wires++;
    else if (kind[row] === ASSEMBLY) assemblies++;
    else if (kind[row] === PART) {
      parts++;
      if (solid[row] > 0) solids.add(solid[row]);
      inLayer[layer[row]]++;
      withList[materials[row]]++;
    }
  }
  inLayer.forEach((count, word) => {
    if (word > 0 && count > 0) layers.set(words.get(word), count);
  });
  const inMaterial = new Map<string, number>();
  withList.forEach((count, number) => {
    if (count > 0)
      for (const word of new Set(lists.get(number))) {
        const id = words.get(word);
        if (id !== 'none') inMaterial.set(id, (inMaterial.get(id) ?? 0) + count);
      }
  });
  return {
    parts,
    assemblies,
    wires,
    pieces: solids.size,
    layers: [...layers].map(([name, count]) => ({ name, parts: count })),
    materials: [...inMaterial].map(([id, count]) => ({ id, name: scene.materials[id]?.name ?? id, parts: count })),
  };
}
