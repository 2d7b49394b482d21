/** The thumbnail of an asset: its materials in the mean colour of their picture, where they have one that can be opened. */
import { unpackMesh } from '../mesh/mesh.ts';
import { placedMesh } from '../mesh/placed.ts';
import { IDENTITY } from '../scene/matrix.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import type { Colour } from '../draw/canvas.ts';
import { seenColour } from '../draw/seenColour.ts';
import { thumbnail } from '../draw/thumbnail.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import type { Asset } from './assets.ts';
import { WrittenFile } from './writer.ts';
import type { WriteOptions } from './writer.ts';

/** None without what makes pictures. */
export async function assetPicture(
  { scene, node }: Asset,
  blobs: BlobStore,
  { pictures }: WriteOptions,
): Promise<WrittenFile[]> {
  if (!pictures || !node.mesh) return [];
  const mesh = placedMesh(unpackMesh(await blobs.get(node.mesh)), node.offset ?? IDENTITY);
  const colours = new Map<number, Colour>();
  for (const { slot } of mesh.groups) colours.set(slot, await seenColour(scene, materialOfSlot(node, slot), blobs, pictures)); // prettier-ignore
  const drawn = thumbnail(mesh, { colourOf: (slot) => colours.get(slot) ?? NO_MATERIAL.baseColor });
  return [new WrittenFile('thumbnail.png', 'image/png', await pictures.encode(drawn))];
}
