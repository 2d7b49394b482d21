/** The sides that a material is seen from: a finish that says nothing of them leaves those that a part had. */
import type { Material } from '../scene/types.ts';

export type Sides = 'both' | 'one';

const NAMES: Record<Sides, string> = { both: 'both sides', one: 'one side' };

/** A material seen from these sides: itself where it is, a variant under an id of its own otherwise. */
export function withSides(material: Material, sides: Sides): Material {
  const isBoth = sides === 'both';
  if ((material.doubleSided ?? false) === isBoth) return material;
  const [id, name] = [material.id.replace(/~(both|one)$/, ''), material.name.replace(/, (both sides|one side)$/, '')];
  return { ...material, id: `${id}~${sides}`, name: `${name}, ${NAMES[sides]}`, doubleSided: isBoth };
}

/** What a part gets in the place of a material that it had: seen from both sides as that one was, as long as it does not say itself. */
export function keepingSides(given: Material, had: Material | undefined): Material {
  return given.doubleSided === undefined && had?.doubleSided ? withSides(given, 'both') : given;
}
