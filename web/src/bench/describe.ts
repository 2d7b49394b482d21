/** Words for units and sizes, as the interface shows them. */
import type { Scene } from '@noble-prism/core/scene/types';
import { formatNumber, metresPer } from '@noble-prism/core/units';

/** The unit in which a scene is read: that of its first source, where it is one that we can name. */
export function unitOf(scene: Scene): string {
  const name = scene.sources[0]?.unit.name ?? 'mm';
  const metres = metresPer(name);
  // Files spell them out: `centimeter`.
  return SHORT_UNITS.find((unit) => metresPer(unit) === metres) ?? 'mm';
}

const SHORT_UNITS = ['m', 'cm', 'mm', 'µm', 'km', 'inch', 'foot'];

/** `1 050 × 684 × 700 mm`. */
export function describeSize(size: readonly number[], unit: string): string {
  const factor = metresPer(unit) ?? 1;
  // Thousands must not be parted at the end of a line.
  const sides = size.map((side) => formatNumber(side / factor, 4).replaceAll('\u2009', '\u202f'));
  return `${sides.join(' × ')}\u00a0${unit}`;
}
