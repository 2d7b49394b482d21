/** The step that least squares take towards zero. */

/**
 * The damped step of least squares: (JᵀJ + λ·diag)·step = Jᵀ·gaps, by Cholesky. Where the gaps leave something free, the step is the
 * shortest one; gaps that say the same twice do no harm.
 * @param rows of the Jacobian J: one for each gap, a column for each number
 */
export function leastStep(rows: readonly (readonly number[])[], gaps: readonly number[], damping: number): number[] {
  const n = rows[0]?.length ?? 0;
  const square = new Float64Array(n * n);
  const right = new Float64Array(n);
  rows.forEach((row, k) => {
    for (let i = 0; i < n; i++) {
      if (row[i] === 0) continue;
      right[i] += row[i] * gaps[k];
      for (let j = 0; j <= i; j++) square[i * n + j] += row[i] * row[j];
    }
  });
  let largest = 0;
  for (let i = 0; i < n; i++) largest = Math.max(largest, square[i * n + i]);
  // Against the largest, so that what nothing depends on is damped too and stays.
  const added = damping * (largest || 1);
  for (let i = 0; i < n; i++) square[i * n + i] += added;
  // Cholesky in place, then forwards and backwards.
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = square[i * n + j];
      for (let k = 0; k < j; k++) sum -= square[i * n + k] * square[j * n + k];
      square[i * n + j] = i === j ? Math.sqrt(Math.max(sum, Number.MIN_VALUE)) : sum / square[j * n + j];
    }
  }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) right[i] -= square[i * n + k] * right[k];
    right[i] /= square[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) right[i] -= square[k * n + i] * right[k];
    right[i] /= square[i * n + i];
  }
  return [...right];
}
