/** Words for sizes, as the interface shows them. */
import { formatNumber, metresPer } from '@noble-prism/core/units';

/** `1 050 × 684 × 700 mm`. */
export function describeSize(size: readonly number[], unit: string): string {
  const factor = metresPer(unit) ?? 1;
  // Thousands must not be parted at the end of a line.
  const sides = size.map((side) => formatNumber(side / factor, 4).replaceAll('\u2009', '\u202f'));
  return `${sides.join(' × ')}\u00a0${unit}`;
}
