/** Numbers that look random and are the same each time. */

/** Numbers from 0 to 1, the same each time (linear congruence: Numerical Recipes, 7.1). */
export function randomNumbers(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}
