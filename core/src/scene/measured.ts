/** Parts with a measured deviation, equal ones gathered, worst first. */
import { GONE } from './nodes.ts';
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
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const out = new Map<string, MeasuredParts>();
  /** Of each mesh once; null where nothing of it is measured. */
  const known: ({ figures: MeshFigures; max: number } | null)[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    if (mesh[row] === 0 || kind[row] === GONE) continue;
    if (known[mesh[row]] === undefined) {
      const figures = scene.meshes[nodes.word('mesh', row)];
      const max = measure(figures);
      known[mesh[row]] = max === undefined ? null : { figures, max };
    }
    const measured = known[mesh[row]];
    if (!measured) continue;
    const name = nodes.text('name', row);
    const key = `${name}\n${mesh[row]}`;
    const entry = out.get(key);
    if (entry) entry.keys.push(nodes.key(row));
    else out.set(key, { name, keys: [nodes.key(row)], ...measured });
  }
  return [...out.values()].sort((a, b) => b.max - a.max);
}

/** Figures of a mesh as it was tessellated, whatever was reduced since. */
export function asTessellated(scene: Scene, figures: MeshFigures): MeshFigures {
  const { deviation } = figures;
  return (deviation && scene.meshes[deviation.from]) ?? figures;
}
