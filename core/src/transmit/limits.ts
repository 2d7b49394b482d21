/** What of a scene is over the limits that its receiver sets. It is told, and sent all the same. */
import { factsOf, takeOff } from '../scene/facts.ts';
import { PART } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';
import { counted, formatCount } from '../units.ts';
import type { TargetSettings } from './targets/target.ts';

export interface OverLimits {
  /** Rows of the parts that have more triangles than a part may have, those with the most first. */
  parts: number[];
  /** What is over, in sentences. */
  words: string[];
}

/** Parts that are named one by one. */
const NAMED = 3;

/** @param scene what is sent: see `sentOf` */
export function overLimits(scene: Scene, { mostTriangles = Infinity, mostOfPart = Infinity }: TargetSettings): OverLimits {
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const { triangles } = factsOf(scene);
  const parts: number[] = [];
  const words: string[] = [];
  const own = (row: number) => (mesh[row] > 0 ? scene.meshes[nodes.word('mesh', row)].triangles : 0);
  if (mostOfPart < Infinity)
    for (let row = 0; row < nodes.rows; row++) if (kind[row] === PART && triangles[row] > mostOfPart && own(row) > mostOfPart) parts.push(row);
  parts.sort((a, b) => own(b) - own(a));
  const there = takeOff(scene).triangles;
  if (there > mostTriangles) words.push(`${formatCount(there)} triangles are drawn, ${formatCount(mostTriangles)} are the most for it.`);
  if (parts.length > 0) {
    const named = parts.slice(0, NAMED).map((row) => `${nodes.text('name', row)} (${formatCount(own(row))})`);
    words.push(`${counted(parts.length, 'part')} with more than ${formatCount(mostOfPart)} triangles: ${named.join(', ')}${parts.length > NAMED ? ' …' : ''}`);
  }
  return { parts, words };
} // prettier-ignore
