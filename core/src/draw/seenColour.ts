/** The colour that a material has from afar: its own, by the mean of its picture. */
import { linearFromSrgb } from '../finish/colour.ts';
import { meanColour } from '../finish/library/given.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { Colour } from './canvas.ts';

export async function seenColour(
  scene: Scene,
  id: string,
  blobs: BlobStore,
  pictures: PictureCodec | undefined,
): Promise<Colour> {
  const material = scene.materials[id] ?? NO_MATERIAL;
  const texture = scene.textures[material.textures?.baseColor?.texture ?? ''];
  if (!texture?.blob || !pictures) return meanColour(material);
  try {
    const { data } = await pictures.decode(await blobs.get(texture.blob), texture.mime, {
      size: { width: 4, height: 4 },
    });
    const sum = [0, 0, 0];
    for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c] += linearFromSrgb(data[i + c] / 255);
    return material.baseColor.map((value, c) => (value * sum[c] * 4) / data.length) as unknown as Colour;
  } catch {
    // A picture that cannot be opened is named where it is missing; what is drawn does without.
    return material.baseColor;
  }
}
