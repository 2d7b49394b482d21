/** How much a place makes longer. */
import type { Matrix } from '../scene/matrix.ts';

/** @returns the factor, the largest of those along the axes, and whether it is the same in all directions */
export function stretchOf(world: Matrix): { stretch: number; isEven: boolean } {
  const lengths = [0, 4, 8].map((at) => Math.hypot(world[at], world[at + 1], world[at + 2]));
  const [low, high] = [Math.min(...lengths), Math.max(...lengths)];
  const isSquare = [[0, 4], [0, 8], [4, 8]].every(([a, b]) => Math.abs(world[a] * world[b] + world[a + 1] * world[b + 1] + world[a + 2] * world[b + 2]) < 1e-6 * high * high); // prettier-ignore
  return { stretch: high || 1, isEven: isSquare && high - low < 1e-6 * high };
}
