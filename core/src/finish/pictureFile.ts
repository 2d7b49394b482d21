/** Which file of a picture is used: as received, or the PNG that was made of it. */
import type { Hash, Texture } from '../scene/types.ts';

/**
 * @param taken kinds that can be used
 * @returns the file as received where its kind is taken and it is seen as it is meant (eight bits a channel, no colour profile to be
 * applied), or else the PNG beside it; undefined where there is neither, and of what cannot be opened
 */
export function pictureFile(
  { blob, png, mime, bits, profile, problem }: Texture,
  taken: ReadonlySet<string>,
): { blob: Hash; mime: string } | undefined {
  // Nobody else could open it either, or would have to unpack gigabytes for it.
  if (problem !== undefined) return undefined;
  const isMeant = png === undefined || (bits === undefined && profile === undefined);
  if (blob && taken.has(mime) && isMeant) return { blob, mime };
  return png ? { blob: png, mime: 'image/png' } : undefined;
}
