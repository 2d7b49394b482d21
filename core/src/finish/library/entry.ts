/** An entry of the material library: values as glTF has them, the family that the trade looks for it in, and how its pictures are made. */
import type { Material } from '../../scene/types.ts';
import { linearFromHex } from '../colour.ts';
import type { RecipeName } from '../made/recipes.ts';

export const FAMILIES = [
  'Metals', 'Painted metal', 'Glass', 'Timber', 'Concrete', 'Masonry', 'Stone', 'Plaster', 'Plastics', 'Rubber', 'Fabric', 'Ground', 'Water', 'Light',
] as const; // prettier-ignore
export type Family = (typeof FAMILIES)[number];

/** How the pictures of a material are made. */
export interface MadeOf {
  recipe: RecipeName;
  /** Length that the pictures cover, metres: they repeat. */
  size: number;
}

export interface LibraryMaterial extends Material {
  family: Family;
  /** Other words that people look for it by. */
  also: string;
  made?: MadeOf;
}

/** What is special about an entry. */
export interface More extends Partial<
  Pick<Material, 'transmission' | 'ior' | 'clearcoat' | 'clearcoatRoughness' | 'emissive' | 'opacity'>
> {
  also?: string;
  made?: MadeOf;
}

/** @param colour `#rrggbb`, or linear red, green and blue. @param metallic 1 for bare metal */
export function entry(
  family: Family,
  id: string,
  name: string,
  colour: string | readonly [number, number, number],
  metallic: number,
  roughness: number,
  { also = '', ...more }: More = {},
): LibraryMaterial {
  const baseColor = typeof colour === 'string' ? linearFromHex(colour) : ([...colour] as [number, number, number]);
  return {
    id: `lib:${id}`,
    name,
    baseColor,
    opacity: 1,
    metallic,
    roughness,
    origin: 'library',
    family,
    also,
    ...more,
  };
}

/** Pictures that cover a length and repeat. @param size metres */
export const made = (recipe: RecipeName, size: number): { made: MadeOf } => ({ made: { recipe, size } });
