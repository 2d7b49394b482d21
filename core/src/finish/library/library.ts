/** The material library: physically based materials of our own, in the families of the trade. */
import { CONCRETE, GLASS, MASONRY, PLASTER, STONE, TIMBER } from './building.ts';
import type { LibraryMaterial } from './entry.ts';
import { METALS, PAINTED } from './metals.ts';
import { FABRIC, GROUND, LIGHT, PLASTICS, RUBBER, WATER } from './other.ts';

export type { LibraryMaterial } from './entry.ts';

export const LIBRARY: readonly LibraryMaterial[] = [
  ...METALS,
  ...PAINTED,
  ...GLASS,
  ...TIMBER,
  ...CONCRETE,
  ...MASONRY,
  ...STONE,
  ...PLASTER,
  ...PLASTICS,
  ...RUBBER,
  ...FABRIC,
  ...GROUND,
  ...WATER,
  ...LIGHT,
];

const byId = new Map(LIBRARY.map((material) => [material.id, material]));

export function libraryMaterial(id: string): LibraryMaterial | undefined {
  return byId.get(id);
}
