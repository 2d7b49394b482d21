/** Pictures: what kind they are, how large, how they are stored, and which of a package belong to nothing yet. */
import { PrismError } from '../errors.ts';
import type { Warning } from '../errors.ts';
import { signsOf } from '../finish/sets/signs.ts';
import { hashData } from '../scene/hash.ts';
import type { Texture } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import type { Companions } from './companions.ts';
import { isPicture, mimeOf } from './pictureKinds.ts';
import type { BuildOptions } from './reader.ts';

/** Pixels of a PNG (ISO/IEC 15948) or JPEG (ISO/IEC 10918-1); undefined for others. */
export function pictureSize(bytes: Uint8Array): { width: number; height: number } | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length > 24 && view.getUint32(0) === 0x89504e47)
    return { width: view.getUint32(16), height: view.getUint32(20) };
  if (bytes.length > 4 && view.getUint16(0) === 0xffd8) {
    for (let at = 2; at + 9 < bytes.length;) {
      if (bytes[at] !== 0xff) return undefined;
      const marker = bytes[at + 1];
      // Start of frame, but for the markers in between that mean something else.
      if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
        return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
      at += 2 + view.getUint16(at + 2);
    }
  }
  return undefined;
}

/** Kinds that are drawn and delivered as they are. */
const AS_THEY_ARE = new Set(['image/png', 'image/jpeg', 'image/webp']);
/** Kinds with more than eight bits a channel that are for light: as PNG they would lose what they are for. */
const KEPT_WHOLE = new Set(['image/x-exr', 'image/vnd.radiance', 'application/octet-stream']);

/** What a picture is for, as far as it is known while it is read. */
export type PictureUse =
  /** Its profile is applied where it has one. */
  | 'colour'
  /** Taken as it is stored. */
  | 'values'
  /** Nothing refers to it: what it looks like is noted, and its profile applied when it is known what it is for. */
  | 'loose';

/**
 * Stores the file of a picture, and beside it the same as PNG of eight bits where neither a browser nor glTF takes its kind, its depth or
 * its colours. One that cannot be opened is kept as it is, with a warning.
 */
export async function storePicture(
  texture: Texture,
  bytes: Uint8Array,
  blobs: BlobStore,
  warnings: Warning[],
  { pictures }: BuildOptions,
  use: PictureUse,
): Promise<void> {
  const { name, mime } = texture;
  texture.blob = await blobs.put(bytes);
  if (KEPT_WHOLE.has(mime) || !pictures) return;
  try {
    const { width, height, bits, profile } = await pictures.facts(bytes, mime);
    Object.assign(texture, { width, height });
    if (bits !== 8) texture.bits = bits;
    if (profile && use !== 'values') texture.profile = profile;
    const converted = use === 'colour' && profile !== undefined;
    const stays = AS_THEY_ARE.has(mime) && bits === 8 && !converted;
    if (stays && use !== 'loose') return;
    const picture = await pictures.decode(bytes, mime, { values: !converted });
    if (use === 'loose') texture.signs = signsOf(picture);
    if (stays) return;
    texture.png = await blobs.put(await pictures.encode(picture));
    if (converted)
      warnings.push({ code: 'picture-profile', message: `The picture ${name} has the colour profile ${profile}: its colours were converted to sRGB.`, where: name }); // prettier-ignore
  } catch (error) {
    if (!(error instanceof PrismError)) throw error;
    texture.problem = error.message;
    const message = `The picture ${name} cannot be opened: ${error.message}`;
    warnings.push({ code: 'bad-picture', message, where: name });
  }
}

/** Id of a picture of a package that no file refers to. */
export function looseTextureId(source: string, path: string): string {
  return `t:${hashData([source, path]).slice(0, 12)}`;
}

/** Pictures of a package that no file refers to. */
export function unboundTextures(beside: Companions, source: string): { texture: Texture; bytes: Uint8Array }[] {
  return beside
    .unused()
    .filter(isPicture)
    .map((path) => {
      const bytes = beside.bytes(path);
      const id = looseTextureId(source, path);
      const texture: Texture = {
        id,
        name: path,
        source,
        state: 'unbound',
        mime: mimeOf(path),
        bytes: bytes.length,
        ...pictureSize(bytes),
      };
      return { texture, bytes };
    });
}
