/**
 * A library material as parts get it. Its pictures are made when somebody needs them; how they lie on a part depends on its texture
 * coordinates: lengths get them in their true size, others as they are, and a part without any gets the mean colour.
 */
import { factsOf } from '../../scene/facts.ts';
import { hashData } from '../../scene/hash.ts';
import type { Hash, Material, Scene, Texture, TextureUse } from '../../scene/types.ts';
import type { Lookup, Work } from '../../steps/kind.ts';
import { libraryMaterial } from './library.ts';
import type { LibraryMaterial } from './entry.ts';
import type { OwnMaterial } from './own.ts';

/** Raised when recipes make other pictures. */
const VERSION = 1;

/** How the texture coordinates of a part are: lengths in metres of its mesh, which stands so much larger; of a tile; or not there. */
export type Coordinates = 'metres' | `metres×${number}` | 'tile' | 'none';

export function coordinatesOf(scene: Scene, row: number): Coordinates {
  const { nodes, meshes } = scene;
  const figures = nodes.columns.mesh[row] > 0 ? meshes[nodes.word('mesh', row)] : undefined;
  if (!figures?.uvs) return 'none';
  if (!figures.trueSize) return 'tile';
  const larger = factsOf(scene).enlargements[row];
  return larger === 1 ? 'metres' : `metres×${larger}`;
}

/** Metres in the job for each of the coordinates. */
const metresEach = (coordinates: Coordinates) => (coordinates === 'metres' ? 1 : Number(coordinates.split('×')[1]));

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

/** The mean colour of a material as it is seen, linear: of one of the library that of its pictures, as far as they are made. */
export function meanColour({ id, baseColor }: Pick<Material, 'id' | 'baseColor'>): readonly [number, number, number] {
  return libraryMaterial(libraryId(id))?.baseColor ?? baseColor;
}

const keyOf = ({ made }: LibraryMaterial) => hashData(['surface', VERSION, made?.recipe, made?.size]);

/** The library material with the pictures of a material, which own ones may share. */
const picturedBy = (id: string, own: readonly OwnMaterial[]) =>
  libraryMaterial(own.find(({ material }) => material.id === id)?.of ?? id);

/** The work of making the pictures of some materials; nothing for those that have none. */
export function surfaceWork(ids: Iterable<string>, own: readonly OwnMaterial[] = []): Work<'surface'>[] {
  const entries = new Set([...ids].flatMap((id) => picturedBy(id, own) ?? []));
  return [...entries].flatMap((entry): Work<'surface'>[] => {
    const { made } = entry;
    if (!made) return [];
    return [
      {
        key: keyOf(entry),
        task: 'surface',
        label: entry.name,
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

/** @returns undefined where neither the library nor the own materials have it */
export function given(
  id: string,
  coordinates: Coordinates,
  lookup: Lookup,
  own: readonly OwnMaterial[] = [],
): Given | undefined {
  const mine = own.find(({ material }) => material.id === id);
  const entry = picturedBy(id, own);
  if (mine && !entry) return ownGiven(mine, coordinates);
  if (!entry) return undefined;
  const { family: _, also: __, made, ...values } = entry;
  const plain = mine?.material ?? values;
  if (!made || coordinates === 'none') return { material: plain, textures: [], waits: false };
  const found = lookup(keyOf(entry)) as MadeSurface | { failed: string } | undefined;
  if (!found || 'failed' in found) return { material: plain, textures: [], waits: !found };
  const name = entry.id.slice('lib:'.length);
  const size = mine?.size ?? made.size;
  const texture = (what: string, { blob, bytes }: MadeFile): Texture => ({ id: `${entry.id} ${what}`, name: `${name}_${what}.png`, source: 'library', state: 'found', mime: 'image/png', blob, bytes, width: found.pixels, height: found.pixels }); // prettier-ignore
  const textures = [
    texture('colour', found.baseColor),
    texture('normal', found.normal),
    texture('surface', found.surface),
  ];
  const times = metresEach(coordinates) / size;
  const use = (texture: Texture): TextureUse => ({
    texture: texture.id,
    uv: 0,
    ...(coordinates === 'tile' ? {} : { scale: [times, times] as [number, number] }),
  });
  const [colour, normal, surface] = textures.map(use);
  return {
    material: {
      ...plain,
      id: `${id}~${coordinates}`,
      // Colour and roughness are those of the pictures; an own material is darker or smoother than these by as much as it was made.
      baseColor: [0, 1, 2].map((k) => Math.min(1, plain.baseColor[k] / Math.max(1e-6, entry.baseColor[k]))) as [number, number, number], // prettier-ignore
      roughness: Math.min(1, plain.roughness / Math.max(1e-6, entry.roughness)),
      textures: { baseColor: colour, normal, metallicRoughness: surface, occlusion: surface },
    },
    textures,
    waits: false,
  };
}

/** An own material with pictures that came with a job. */
function ownGiven({ material, textures, size = 1 }: OwnMaterial, coordinates: Coordinates): Given {
  const uses = Object.entries(material.textures ?? {});
  if (uses.length === 0) return { material, textures: [], waits: false };
  const { textures: _, ...plain } = material;
  if (coordinates === 'none') return { material: plain, textures: [], waits: false };
  if (coordinates === 'tile') return { material, textures, waits: false };
  const times = metresEach(coordinates) / size;
  const scaled = uses.map(([slot, use]): [string, TextureUse] => {
    const [x, y] = use.scale ?? [1, 1];
    return [slot, { ...use, scale: [x * times, y * times] }];
  });
  const id = `${material.id}~${coordinates}`;
  return { material: { ...material, id, textures: Object.fromEntries(scaled) }, textures, waits: false };
}
