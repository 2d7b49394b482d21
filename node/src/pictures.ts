/** Opens and makes picture files in Node: PNG, JPEG, WebP, TIFF, GIF and AVIF by sharp, TGA, BMP and KTX2 by a decoder each. */
import { PrismError } from '@noble-prism/core/errors';
import { fromKtx2, KTX2_SIDE, toKtx2 } from './ktx2.ts';
import { profileName } from './profileName.ts';
import type { Picture, PictureCodec } from '@noble-prism/core/surroundings';

/** Most pixels of one picture: 16 384 by 8 192, half a gigabyte when it is open. */
const MAX_PIXELS = 2 ** 27;
/** What graphics cards take at most. */
const MAX_SIDE = 16_384;

/** Loaded with the first picture: programs that have none start sooner. */
const loadSharp = async () => (await import('sharp')).default;

/** Of pictures whose values need not be exact, of a hundred. */
const QUALITY = 88;

export const nodePictures: PictureCodec = {
  facts: (bytes, mime) => opening(async () => {
    if (DECODERS[mime]) {
      const { width, height } = await DECODERS[mime](bytes);
      return { width, height, bits: 8 };
    }
    const { width, height, depth, icc } = await (await open(bytes)).metadata();
    checkPixels(width, height);
    const profile = icc && profileName(icc);
    return { width, height, bits: BITS[depth] ?? 8, ...(profile && !/s\s?RGB/i.test(profile) ? { profile } : {}) };
  }),
  decode: (bytes, mime, { size, values = false } = {}) => opening(async () => {
    const picture = await (DECODERS[mime] ?? bySharp)(bytes, values);
    if (!size || (size.width === picture.width && size.height === picture.height)) return picture;
    return scaled(picture, size);
  }),
  encode: async (picture, { kind, exact = false } = { kind: 'png' }) => {
    if (kind === 'ktx2') return toKtx2(await inWholeBlocks(picture), exact);
    const from = await raw(picture);
    if (kind === 'jpeg') return new Uint8Array(await from.jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' }).toBuffer());
    if (kind === 'webp') return new Uint8Array(await from.webp(exact ? { lossless: true, exact } : { quality: QUALITY }).toBuffer());
    return new Uint8Array(await from.png({ compressionLevel: 6 }).toBuffer());
  },
}; // prettier-ignore

async function opening<T>(open: () => Promise<T>): Promise<T> {
  try {
    return await open();
  } catch (error) {
    if (error instanceof PrismError) throw error;
    const [why] = (error as Error).message.split('\n');
    if (/unsupported image format/i.test(why)) throw new PrismError('not-readable', 'it is no picture, whatever its name says.');
    throw new PrismError('not-readable', `it is damaged (${why}).`);
  }
} // prettier-ignore

const DECODERS: Record<string, (bytes: Uint8Array, values?: boolean) => Promise<Picture>> = {
  'image/x-tga': tga,
  'image/bmp': bmp,
  'image/ktx2': (bytes) => fromKtx2(own(bytes), checkPixels),
};

/** Bits of a channel by what libvips calls them. */
const BITS: Record<string, number> = {
  uchar: 8,
  char: 8,
  ushort: 16,
  short: 16,
  uint: 32,
  int: 32,
  float: 32,
  double: 64,
};

/** Its size is checked before it is unpacked, against limits of our own, which say so in our words. */
const open = async (bytes: Uint8Array, ignoreIcc = false) =>
  (await loadSharp())(bytes, { limitInputPixels: false, ignoreIcc });

async function bySharp(bytes: Uint8Array, values = false): Promise<Picture> {
  const { width, height } = await (await open(bytes)).metadata();
  checkPixels(width, height);
  const { data, info } = await (
    await open(bytes, values)
  )
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

async function raw({ width, height, data }: Picture) {
  return (await loadSharp())(data, { raw: { width, height, channels: 4 } });
}

/** No larger than the encoder takes, and in whole blocks of four pixels, as glTF wants it (KHR_texture_basisu). */
async function inWholeBlocks(picture: Picture): Promise<Picture> {
  const less = Math.min(1, KTX2_SIDE / Math.max(picture.width, picture.height));
  const [width, height] = [picture.width, picture.height].map((side) => Math.max(4, Math.round((side * less) / 4) * 4));
  return width === picture.width && height === picture.height ? picture : scaled(picture, { width, height });
}

/** Every channel is scaled by itself: what is not seen keeps its colour, and values stay values. */
async function scaled(
  { data, ...from }: Picture,
  { width, height }: { width: number; height: number },
): Promise<Picture> {
  const sharp = await loadSharp();
  const out = new Uint8Array(width * height * 4);
  for (let channel = 0; channel < 4; channel++) {
    const values = new Uint8Array(from.width * from.height);
    for (let i = 0; i < values.length; i++) values[i] = data[i * 4 + channel];
    const larger = await sharp(values, { raw: { ...from, channels: 1 } })
      .resize(width, height, { fit: 'fill' })
      .extractChannel(0)
      .raw()
      .toBuffer();
    for (let i = 0; i < larger.length; i++) out[i * 4 + channel] = larger[i];
  }
  return { width, height, data: out };
}

function checkPixels(width: number, height: number): void {
  if (width < 1 || height < 1) throw new PrismError('not-readable', 'it states no size.');
  if (width * height > MAX_PIXELS || Math.max(width, height) > MAX_SIDE)
    throw new PrismError('too-large', `it states ${width} × ${height} px; at most ${MAX_SIDE} on a side, and ${MAX_SIDE} × ${MAX_PIXELS / MAX_SIDE} in all, are taken. Make it smaller first.`); // prettier-ignore
}

async function tga(bytes: Uint8Array): Promise<Picture> {
  if (bytes.length < 18) throw new PrismError('not-readable', 'it is cut off in its head.');
  checkPixels(bytes[12] | (bytes[13] << 8), bytes[14] | (bytes[15] << 8));
  const { TGALoader } = await import('three/examples/jsm/loaders/TGALoader.js');
  const { width, height, data } = new TGALoader().parse(own(bytes).buffer) as unknown as Picture;
  // Where a picture of 32 bits says that none of them is opacity, all of it is there to see.
  const isOpaque = bytes[16] < 32 || (bytes[17] & 15) === 0;
  const out = new Uint8Array(data);
  if (isOpaque) for (let at = 3; at < out.length; at += 4) out[at] = 255;
  return { width, height, data: out };
}

async function bmp(bytes: Uint8Array): Promise<Picture> {
  if (bytes.length < 54) throw new PrismError('not-readable', 'it is cut off in its head.');
  const head = new DataView(bytes.buffer, bytes.byteOffset);
  checkPixels(Math.abs(head.getInt32(18, true)), Math.abs(head.getInt32(22, true)));
  const { decode } = await import('bmp-ts');
  const { width, height, data } = decode(Buffer.from(bytes), { toRGBA: true });
  const out = new Uint8Array(data);
  if (head.getUint16(28, true) < 32) for (let at = 3; at < out.length; at += 4) out[at] = 255;
  return { width, height: Math.abs(height), data: out };
}

/** The bytes in a buffer of their own, which is what these decoders ask for. */
function own(bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  return new Uint8Array(bytes);
}
