/** Parts with a measured deviation, equal ones gathered, worst first. */
import { factsOf } from './facts.ts';
import { GONE } from './nodes.ts';
import { roundedStretch, stretchOfShapes } from './stretch.ts';
import type { Deviation, MeshFigures, Scene } from './types.ts';

export interface MeasuredParts {
  name: string;
  /** Keys of the nodes that it was measured for. */
  keys: string[];
  figures: MeshFigures;
  /** How much larger they stand in the job than their mesh is: lengths of the figures are to be taken so many times. */
  stretch: number;
  /** As they stand in the job, metres. */
  max: number;
}

/** @param measure what is measured of a mesh, by itself, metres; undefined where nothing was */
export function measuredParts(scene: Scene, measure: (figures: MeshFigures) => number | undefined): MeasuredParts[] {
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const { stretches } = factsOf(scene);
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
    const stretch = roundedStretch(stretches[row]);
    const key = `${name}\n${mesh[row]} ${stretch}`;
    const entry = out.get(key);
    if (entry) entry.keys.push(nodes.key(row));
    else
      out.set(key, { name, keys: [nodes.key(row)], figures: measured.figures, stretch, max: measured.max * stretch });
  }
  return [...out.values()].sort((a, b) => b.max - a.max);
}

/** The largest deviation of reduced meshes as they stand in the job, metres; undefined where nothing is reduced. */
export function worstDeviation(scene: Scene): number | undefined {
  const facts = factsOf(scene);
  const reduced = facts.wordsIn('mesh').filter((mesh) => scene.meshes[mesh]?.deviation);
  if (reduced.length === 0) return undefined;
  const stretches = stretchOfShapes(scene.nodes, 'mesh', facts.stretches);
  const { words } = scene.nodes.tables;
  return reduced.reduce((most, mesh) => {
    const { max } = scene.meshes[mesh].deviation as Deviation;
    return Math.max(most, max * roundedStretch(stretches[words.find(mesh)]));
  }, 0);
}

/** Figures of a mesh as it was tessellated, whatever was reduced since. */
export function asTessellated(scene: Scene, figures: MeshFigures): MeshFigures {
  const { deviation } = figures;
  return (deviation && scene.meshes[deviation.from]) ?? figures;
}
