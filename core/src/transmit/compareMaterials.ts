/** Compares a material and its pictures with what was found. */
import { hexFromLinear, srgbFromLinear } from '../finish/colour.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import { hashBytes } from '../scene/hash.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { Aspect, Carries } from '../write/aspects.ts';
import type { ExpectedMaterial, ExpectedPicture } from './expected.ts';
import { PICTURE_SLOTS } from './found.ts';
import type { FoundMaterial, FoundPicture, PictureSlot } from './found.ts';

/** Factors are written in decimals of single precision at worst. */
const FACTOR = 1e-6;
/** Values of a joined picture, 0 to 255, differ by this at most where it had to be made larger or smaller. */
const LEVELS = 8;

const same = (a: readonly number[], b: readonly number[]) =>
  a.length === b.length && a.every((value, i) => Math.abs(value - b[i]) <= FACTOR * Math.max(1, Math.abs(value)));

/** What a format makes of materials. */
export interface MaterialWay {
  carries: Carries;
  /** Steps of a colour that it tells apart; without end where absent. */
  levels?: number;
}

/** Of a rounded step, as colours are rounded to. */
const HALF_STEP = 0.51;

/** What differs, in words; empty where nothing does. Files of pictures are compared apart. Lines and points are `thin`: they have a colour only. */
export function compareMaterial(
  sent: ExpectedMaterial | undefined,
  found: FoundMaterial | undefined,
  { carries, levels }: MaterialWay,
  thin = false,
): string[] {
  if (!sent || !found) return sent || found ? [`material ${sent?.name ?? 'none'} became ${found?.name ?? 'none'}`] : [];
  const out: string[] = [];
  const has = (aspect: Aspect) => carries[aspect] === true;
  const note = (what: string, a: unknown, b: unknown) => out.push(`${what} ${String(a)} became ${String(b)}`);
  const step = levels === undefined ? 0 : HALF_STEP / levels;
  const near = (a: readonly number[], b: readonly number[]) =>
    levels === undefined ? same(a, b) : a.every((value, i) => Math.abs(srgbFromLinear(value) - srgbFromLinear(b[i])) <= step); // prettier-ignore
  if (has('materials') && sent.name !== found.name) note('material', sent.name, found.name);
  // Where a picture stands instead of the colour, the colour is white.
  const isBare = !has('materials') && sent.name === NO_MATERIAL.name;
  const isPictured = sent.pictures.baseColor !== undefined && found.pictures.baseColor !== undefined;
  if (
    (has('baseColor') || (carries.baseColor !== undefined && !isPictured && !isBare)) &&
    !near(sent.baseColor, found.baseColor)
  )
    note('base colour', hexFromLinear(sent.baseColor), hexFromLinear(found.baseColor));
  if (thin) return out;
  // What is shown without light has colour and opacity only.
  // Split pictures have the factors in them.
  const isSplit = sent.pictures.metallicRoughness !== undefined && !has('surfacePictures');
  if (!sent.unlit)
    for (const [aspect, factors] of FACTORS.slice(isSplit ? 1 : 0))
      for (const factor of has(aspect) ? factors : [])
        if (found[factor] !== undefined && !same([sent[factor] ?? 0], [found[factor]]))
          note(WORDS[factor], sent[factor], found[factor]);
  const through = throughOf(sent, found, carries);
  if (has('opacity') && !(Math.abs(through.opacity - found.opacity) <= Math.max(FACTOR, step)))
    note('opacity', through.opacity, found.opacity);
  if (has('emission') && !sent.unlit && !same(sent.emissive, found.emissive))
    note('emission', sent.emissive.join(' '), found.emissive.join(' '));
  if (has('cutoff') && (sent.cutoff ?? -1) !== (found.cutoff ?? -1))
    note('cut-off', sent.cutoff ?? 'none', found.cutoff ?? 'none');
  for (const [flag, aspect] of FLAGS) {
    const was = flag === 'blended' ? through.blended : sent[flag];
    // Only where a format has a mode for it, it says that a picture is seen through.
    if (flag === 'blended' && !has('cutoff') && sent.pictures.baseColor) continue;
    if (has(aspect) && was !== found[flag]) note(WORDS[flag], was ? 'yes' : 'no', found[flag] ? 'yes' : 'no');
  }
  for (const slot of PICTURE_SLOTS) {
    if (!carries[pictureAspect(slot)]) continue;
    const [before, after] = [sent.pictures[slot], found.pictures[slot]];
    if (before && after) out.push(...compareUse(slot, before, after, carries));
    // Without light there is one picture, that of the colour.
    else if (has(pictureAspect(slot)) && (after || (before && (!sent.unlit || slot === 'baseColor'))))
      note(`picture for ${slot}`, before?.name ?? 'none', after ? 'another' : 'none');
  }
  if (has('colourPictures') && has('surfacePictures'))
    for (const name of sent.lost) out.push(`the picture ${name} is not in the file`);
  return out;
}

export const pictureAspect = (slot: PictureSlot): Aspect =>
  slot === 'baseColor' ? 'colourPictures' : 'surfacePictures';

const FACTORS = [
  ['metalRough', ['metallic', 'roughness']],
  ['glass', ['transmission', 'ior']],
  ['coat', ['clearcoat', 'clearcoatRoughness']],
] as const;

const FLAGS = [
  ['blended', 'opacity'],
  ['doubleSided', 'sides'],
  ['unlit', 'unlit'],
] as const;

/** What is seen through: where a format has no transmission, it is in the opacity. */
function throughOf(
  sent: ExpectedMaterial,
  { transmission }: FoundMaterial,
  carries: Carries,
): Pick<FoundMaterial, 'opacity' | 'blended'> {
  if ((transmission !== undefined && carries.glass === true) || !sent.transmission) return sent;
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

function compareUse(
  slot: PictureSlot,
  { name, use }: ExpectedPicture,
  found: FoundPicture,
  carries: Carries,
): string[] {
  if (carries.picturePlaces !== true) return [];
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
  const isPacked = found.mime === 'image/ktx2';
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
      let [most, sum] = [0, 0];
      for (let at = 0; at < width * height * 4; at += 4) {
        const value = source.data[at + from];
        const difference = Math.abs((use.inverted ? 255 - value : value) - joined.data[at + channel]);
        most = Math.max(most, difference);
        sum += difference;
      }
      // Packed in blocks, single values at sharp edges differ by more.
      if ((isPacked ? sum / (width * height) : most) > LEVELS)
        return `the picture ${texture.name} has other values in ${name}`;
    }
  }
  return undefined;
}
