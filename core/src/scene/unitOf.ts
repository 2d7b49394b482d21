/** The unit that people read a scene in. */
import { metresPer } from '../units.ts';
import type { Scene } from './types.ts';

/** The unit in which a scene is read: that of its first source, where it is one that we can name. */
export function unitOf(scene: Scene): string {
  const name = scene.sources[0]?.unit.name ?? 'mm';
  const metres = metresPer(name);
  // Files spell them out: `centimeter`.
  return SHORT_UNITS.find((unit) => metresPer(unit) === metres) ?? 'mm';
}

const SHORT_UNITS = ['m', 'cm', 'mm', 'µm', 'km', 'inch', 'foot'];
