/**
 * A library material as parts get it. Its pictures are made when somebody needs them; how they lie on a part depends on its texture
 * coordinates: lengths get them in their true size, others as they are, and a part without any gets the mean colour.
 */
import { hashData } from '../../scene/hash.ts';
import type { Hash, Material, Scene, Texture, TextureUse } from '../../scene/types.ts';
import type { Lookup, Work } from '../../steps/kind.ts';
import { libraryMaterial } from './library.ts';
import type { LibraryMaterial } from './entry.ts';

/** Raised when recipes make other pictures. */
const VERSION = 1;

/** How the texture coordinates of a part are: lengths in metres, of a tile, or not there. */
export type Coordinates = 'metres' | 'tile' | 'none';

export function coordinatesOf({ meshes }: Pick<Scene, 'meshes'>, mesh: Hash | undefined): Coordinates {
  const figures = mesh === undefined ? undefined : meshes[mesh];
  if (!figures?.uvs) return 'none';
  return figures.trueSize ? 'metres' : 'tile';
}

interface MadeFile {
  blob: Hash;
  bytes: number;
}
/** What is remembered of the pictures of a surface. */
interface MadeSurface {
  pixels: number;
  baseColor: MadeFile;
  normal: MadeFile;
  surface: MadeFile;
}

/** The library material of an id as parts have it; the id itself for others. */
export const libraryId = (id: string): string => id.split('~')[0];

const keyOf = ({ made }: LibraryMaterial) => hashData(['surface', VERSION, made?.recipe, made?.size]);

/** The work of making the pictures of some materials; nothing for those that have none. */
export function surfaceWork(ids: Iterable<string>): Work<'surface'>[] {
  return [...ids].flatMap((id): Work<'surface'>[] => {
    const material = libraryMaterial(id);
    const { made } = material ?? {};
    if (!material || !made) return [];
    return [
      {
        key: keyOf(material),
        task: 'surface',
        label: material.name,
        input: async () => ({ ...made }),
        async keep({ pixels, baseColor, normal, surface }, blobs): Promise<MadeSurface> {
          const put = async (file: Uint8Array) => ({ blob: await blobs.put(file), bytes: file.length });
          return { pixels, baseColor: await put(baseColor), normal: await put(normal), surface: await put(surface) };
        },
      },
    ];
  });
}

export interface Given {
  material: Material;
  textures: Texture[];
  /** True while its pictures are being made. */
  waits: boolean;
}

/** @returns undefined where the library has no such material */
export function given(id: string, coordinates: Coordinates, lookup: Lookup): Given | undefined {
  const entry = libraryMaterial(id);
  if (!entry) return undefined;
  const { family: _, also: __, made, ...plain } = entry;
  if (!made) return { material: plain, textures: [], waits: false };
  if (coordinates === 'none') return { material: plain, textures: [], waits: false };
  const found = lookup(keyOf(entry)) as MadeSurface | { failed: string } | undefined;
  if (!found || 'failed' in found) return { material: plain, textures: [], waits: !found };
  const name = id.slice('lib:'.length);
  const texture = (what: string, { blob, bytes }: MadeFile): Texture => ({ id: `${id} ${what}`, name: `${name}_${what}.png`, source: 'library', state: 'found', mime: 'image/png', blob, bytes, width: found.pixels, height: found.pixels }); // prettier-ignore
  const textures = [
    texture('colour', found.baseColor),
    texture('normal', found.normal),
    texture('surface', found.surface),
  ];
  const use = (texture: Texture): TextureUse => ({
    texture: texture.id,
    uv: 0,
    ...(coordinates === 'metres' ? { scale: [1 / made.size, 1 / made.size] as [number, number] } : {}),
  });
  const [colour, normal, surface] = textures.map(use);
  return {
    material: {
      ...plain,
      id: `${id}~${coordinates}`,
      // Colour and roughness are those of the pictures.
      baseColor: [1, 1, 1],
      roughness: 1,
      textures: { baseColor: colour, normal, metallicRoughness: surface, occlusion: surface },
    },
    textures,
    waits: false,
  };
}
