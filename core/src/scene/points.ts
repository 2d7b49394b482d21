/** The named points of a scene: setting-out points that steps made. */
import { factsOf } from './facts.ts';
import type { Vector } from './matrix.ts';
import { GONE, POINT } from './nodes.ts';
import { STRIDE } from './places.ts';
import type { Scene } from './types.ts';

export interface NamedPoint {
  row: number;
  name: string;
  /** World, metres. */
  at: Vector;
}

export function namedPoints(scene: Scene): NamedPoint[] {
  const { flags, kind } = scene.nodes.columns;
  const out: NamedPoint[] = [];
  for (let row = 0; row < flags.length; row++) {
    if ((flags[row] & POINT) === 0 || kind[row] === GONE) continue;
    const { worlds } = factsOf(scene);
    const at = row * STRIDE + 9;
    out.push({ row, name: scene.nodes.text('name', row), at: [worlds[at], worlds[at + 1], worlds[at + 2]] });
  }
  return out;
}
