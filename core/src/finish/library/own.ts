/** Materials of one's own in the library. What a job uses of them it keeps a copy of: a job stays as it is when the library changes. */
import { array, boolean, mixed, number, object, string } from 'yup';
import { MOST_LETTERS } from '../../fields/field.ts';
import type { Material, Texture } from '../../scene/types.ts';
import { libraryMaterial } from './library.ts';

export interface OwnMaterial {
  /** Its id begins with `mine:`. */
  material: Material;
  /** Pictures that the material names. */
  textures: Texture[];
  /** Length that its pictures cover, metres: for parts whose coordinates are lengths. */
  size?: number;
  /** Id of the library material whose made pictures it has. */
  of?: string;
}

/** What the ids of own materials begin with. */
export const OWN = 'mine:';

const share = () => number().min(0).max(1);
const colour = (most = 1) => array(number().required().min(0).max(most)).length(3);
const materialSchema = object({
  id: string()
    .required()
    .matches(/^mine:[\w-]{1,64}$/, 'The id of an own material begins with “mine:”.'),
  name: string().required('The material needs a name.').max(200, 'The name has more than 200 letters.').matches(/\S/, 'The material needs a name.'), // prettier-ignore
  baseColor: colour().required(),
  opacity: share().required(),
  metallic: share().required(),
  roughness: share().required(),
  origin: string().oneOf(['library', 'source']).required(),
  emissive: colour(1000),
  doubleSided: boolean(),
  cutoff: share(),
  blended: boolean(),
  unlit: boolean(),
  transmission: share(),
  ior: number().min(1).max(5),
  clearcoat: share(),
  clearcoatRoughness: share(),
  textures: mixed(),
}).noUnknown();

const textureSchema = object({
  id: string().required().max(200),
  name: string().required().max(MOST_LETTERS),
  source: string().defined().max(200),
  state: string().oneOf(['found', 'missing', 'unbound']).required(),
  mime: string().defined().max(100),
  blob: string().matches(/^[0-9a-f]{64}$/),
  png: string().matches(/^[0-9a-f]{64}$/),
  bytes: number().required().min(0),
  width: number(),
  height: number(),
  bits: number(),
  profile: string().max(400),
  problem: string().max(MOST_LETTERS),
  signs: object({ grey: boolean(), alpha: boolean(), normals: string().oneOf(['up', 'down', 'either']) })
    .noUnknown()
    .default(undefined),
}).noUnknown();

export const ownMaterialSchema = object({
  material: materialSchema.required(),
  textures: array(textureSchema).required().max(20),
  size: number().min(0.001).max(1000),
  of: string().test('library', 'There is no material “${value}” in the library.', (id) => id === undefined || libraryMaterial(id) !== undefined), // prettier-ignore
}).noUnknown();

/** Where steps keep copies of own materials. */
export const ownMaterialsField = {
  type: 'own' as const,
  label: 'Own materials',
  schema: array(ownMaterialSchema).max(5000),
  written: 'materials of one’s own that are given, as the library keeps them, or nothing',
};

/** A copy of a material to be edited, with the pictures that it has. @param id a new one */
export function ownCopy(
  material: Material,
  textures: Readonly<Record<string, Texture>>,
  id: string,
  name: string,
): OwnMaterial {
  const entry = libraryMaterial(material.id.split('~')[0]);
  if (entry) {
    const { family: _, also: __, made, ...plain } = entry;
    return { material: { ...plain, id, name }, textures: [], ...(made ? { of: entry.id, size: made.size } : {}) };
  }
  const used = Object.values(material.textures ?? {}).flatMap(({ texture }) => textures[texture] ?? []);
  const plain = JSON.parse(JSON.stringify({ ...material, id, name, origin: 'library' })) as Material;
  return { material: plain, textures: [...new Set(used)] };
}

/** An own material as it is shown alone: with the way in which the pictures that it shares are made. */
export function shownAlone({ material, of }: OwnMaterial): Material {
  const made = of === undefined ? undefined : libraryMaterial(of)?.made;
  return made ? { ...material, ...{ made } } : material;
}
