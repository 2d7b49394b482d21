/** Compares a material and its pictures with what was found. */
import { hexFromLinear } from '../finish/colour.ts';
import { hashBytes } from '../scene/hash.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { ExpectedMaterial, ExpectedPicture } from './expected.ts';
import { PICTURE_SLOTS } from './found.ts';
import type { FoundMaterial, FoundPicture } from './found.ts';

/** Factors are written in decimals of single precision at worst. */
const FACTOR = 1e-6;
/** Values of a joined picture, 0 to 255, differ by this at most where it had to be made larger or smaller. */
const LEVELS = 8;

const same = (a: readonly number[], b: readonly number[]) =>
  a.length === b.length && a.every((value, i) => Math.abs(value - b[i]) <= FACTOR * Math.max(1, Math.abs(value)));

/** What differs, in words; empty where nothing does. Files of pictures are compared apart. Lines and points are `thin`: they have a colour only. */
export function compareMaterial(
  sent: ExpectedMaterial | undefined,
  found: FoundMaterial | undefined,
  thin = false,
): string[] {
  if (!sent || !found) return sent || found ? [`material ${sent?.name ?? 'none'} became ${found?.name ?? 'none'}`] : [];
  const out: string[] = [];
  const note = (what: string, a: unknown, b: unknown) => out.push(`${what} ${String(a)} became ${String(b)}`);
  if (sent.name !== found.name) note('material', sent.name, found.name);
  if (!same(sent.baseColor, found.baseColor))
    note('base colour', hexFromLinear(sent.baseColor), hexFromLinear(found.baseColor));
  if (thin) return out;
  // What is shown without light has colour and opacity only.
  const factors = sent.unlit ? [] : (['metallic', 'roughness', ...COAT] as const);
  for (const factor of factors)
    if (found[factor] !== undefined && !same([sent[factor] ?? 0], [found[factor]]))
      note(WORDS[factor], sent[factor], found[factor]);
  const through = throughOf(sent, found);
  if (!same([through.opacity], [found.opacity])) note('opacity', through.opacity, found.opacity);
  if (!sent.unlit && !same(sent.emissive, found.emissive))
    note('emission', sent.emissive.join(' '), found.emissive.join(' '));
  if ((sent.cutoff ?? -1) !== (found.cutoff ?? -1)) note('cut-off', sent.cutoff ?? 'none', found.cutoff ?? 'none');
  for (const flag of ['blended', 'doubleSided', 'unlit'] as const) {
    const was = flag === 'blended' ? through.blended : sent[flag];
    if (was !== found[flag]) note(WORDS[flag], was ? 'yes' : 'no', found[flag] ? 'yes' : 'no');
  }
  for (const slot of PICTURE_SLOTS) {
    const [before, after] = [sent.pictures[slot], found.pictures[slot]];
    if (before && after) out.push(...compareUse(slot, before, after));
    // Without light there is one picture, that of the colour.
    else if (after || (before && (!sent.unlit || slot === 'baseColor')))
      note(`picture for ${slot}`, before?.name ?? 'none', after ? 'another' : 'none');
  }
  for (const name of sent.lost) out.push(`the picture ${name} is not in the file`);
  return out;
}

const COAT = ['transmission', 'ior', 'clearcoat', 'clearcoatRoughness'] as const;

/** What is seen through: where a format has no transmission, it is in the opacity. */
function throughOf(
  sent: ExpectedMaterial,
  { transmission }: FoundMaterial,
): Pick<FoundMaterial, 'opacity' | 'blended'> {
  if (transmission !== undefined || !sent.transmission) return sent;
  return { opacity: sent.opacity * (1 - sent.transmission), blended: true };
}

const WORDS = {
  metallic: 'metalness',
  roughness: 'roughness',
  transmission: 'transmission',
  ior: 'index of refraction',
  clearcoat: 'clear coat',
  clearcoatRoughness: 'roughness of the clear coat',
  blended: 'see-through',
  doubleSided: 'seen from behind',
  unlit: 'shown without light',
};

function compareUse(slot: string, { name, use }: ExpectedPicture, found: FoundPicture): string[] {
  const placed = [use.uv, ...(use.offset ?? [0, 0]), ...(use.scale ?? [1, 1]), use.rotation ?? 0];
  const at = [found.uv, ...found.offset, ...found.scale, found.rotation];
  const out: string[] = [];
  if (!same(placed, at)) out.push(`the picture ${name} lies elsewhere`);
  if ((use.wrap ?? 'repeat') !== found.wrap) out.push(`the picture ${name} is ${found.wrap} at its borders`);
  const strength = slot === 'occlusion' ? Math.min(1, use.strength ?? 1) : (use.strength ?? 1);
  if ((slot === 'normal' || slot === 'occlusion') && !same([strength], [found.strength]))
    out.push(`strength ${strength} of the picture ${name} became ${found.strength}`);
  return out;
}

/** Why a picture in the file is not the one that was sent; undefined where it is, byte by byte or, where it was joined, value by value. */
export async function comparePicture(
  { name, files, channels }: ExpectedPicture,
  found: FoundPicture,
  blobs: BlobStore,
  codec: PictureCodec | undefined,
): Promise<string | undefined> {
  if (channels.length === 0)
    return files.includes(hashBytes(found.bytes)) ? undefined : `the picture ${name} has other bytes`;
  if (!codec) return undefined;
  const joined = await codec.decode(found.bytes, found.mime);
  const { width, height } = joined;
  for (const { texture, use, to } of channels) {
    const hash = texture.png ?? texture.blob;
    if (!hash) continue;
    const mime = texture.png ? 'image/png' : texture.mime;
    const source = await codec.decode(await blobs.get(hash), mime, {
      size: { width, height },
      values: to.length === 1,
    });
    for (const channel of to) {
      const from = to.length > 1 ? channel : 'rgba'.indexOf(use.channel ?? 'g');
      for (let at = 0; at < width * height * 4; at += 4) {
        const value = source.data[at + from];
        if (Math.abs((use.inverted ? 255 - value : value) - joined.data[at + channel]) > LEVELS)
          return `the picture ${texture.name} has other values in ${name}`;
      }
    }
  }
  return undefined;
}
