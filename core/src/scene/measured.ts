/** Parts with a measured deviation, equal ones gathered, worst first. */
import type { MeshFigures, Scene } from './types.ts';

export interface MeasuredParts {
  name: string;
  /** Keys of the nodes that it was measured for. */
  keys: string[];
  figures: MeshFigures;
  /** Metres. */
  max: number;
}

/** @param measure what is measured of a mesh, metres; undefined where nothing was */
export function measuredParts(scene: Scene, measure: (figures: MeshFigures) => number | undefined): MeasuredParts[] {
  const out = new Map<string, MeasuredParts>();
  for (const node of scene.nodes) {
    const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
    const max = figures && measure(figures);
    if (!figures || max === undefined) continue;
    const key = `${node.name}\n${node.mesh}`;
    const entry = out.get(key);
    if (entry) entry.keys.push(node.key);
    else out.set(key, { name: node.name, keys: [node.key], figures, max });
  }
  return [...out.values()].sort((a, b) => b.max - a.max);
}

/** Figures of a mesh as it was tessellated, whatever was reduced since. */
export function asTessellated(scene: Scene, figures: MeshFigures): MeshFigures {
  const { deviation } = figures;
  return (deviation && scene.meshes[deviation.from]) ?? figures;
}
