/** Task: a picture made of the channels of others: gathered, turned round, flipped, made smaller. PNG of eight bits a channel. */
import { PrismError } from '../../errors.ts';
import type { Picture, PictureCodec } from '../../surroundings.ts';
import { linearFromSrgb, srgbFromLinear } from '../colour.ts';
import { metalRough } from '../specularGloss.ts';

export interface PictureInput {
  files: { bytes: Uint8Array; mime: string }[];
  /** For red, green, blue, opacity: which channel of which file, or the same everywhere (0 to 255). */
  from: readonly ({ file: number; channel: number; inverted: boolean } | number)[];
  colour: boolean;
  normals: boolean;
  flipU: boolean;
  flipV: boolean;
  /** Longest side, pixels. */
  most?: number;
  /** Files of what is scattered and what is mirrored: the picture behind all files is base colour, with metalness in alpha. */
  pair?: { diffuse: number; specular: number };
}

export interface PictureOutput {
  /** PNG file. */
  blob: Uint8Array;
  width: number;
  height: number;
}

let load: (() => Promise<PictureCodec>) | undefined;

/** Tells this thread how to load what opens pictures; it waits until one is made. */
export function providePictures(loader: () => Promise<PictureCodec>): void {
  load = loader;
}

/** @throws PrismError `solid-failed` where a picture cannot be opened; `internal` where nothing opens pictures in this thread */
export async function makePicture(input: PictureInput): Promise<PictureOutput> {
  if (!load) throw new PrismError('internal', 'Nothing opens pictures in this thread.');
  const codec = await load();
  return madeBy(codec, input).catch((error: unknown) => {
    // It is remembered as failed, and costs this picture alone.
    const isOfPicture = error instanceof PrismError && (error.code === 'not-readable' || error.code === 'too-large');
    throw isOfPicture ? new PrismError('solid-failed', `A picture cannot be opened: ${error.message}`) : error;
  });
}

async function madeBy(codec: PictureCodec, { files, ...order }: PictureInput): Promise<PictureOutput> {
  const heads = [];
  for (const { bytes, mime } of files) heads.push(await codec.facts(bytes, mime));
  const size = fitted(
    Math.max(...heads.map(({ width }) => width)),
    Math.max(...heads.map(({ height }) => height)),
    order.most,
  );
  const opened: Picture[] = [];
  // Opacity beside a colour is a value.
  const { pair } = order;
  const isOfPair = (file: number) => file === pair?.diffuse || file === pair?.specular;
  const isColour = (file: number) => isOfPair(file) || order.colour && order.from.some((one, k) => typeof one !== 'number' && one.file === file && k < 3); // prettier-ignore
  for (const [i, { bytes, mime }] of files.entries())
    opened.push(await codec.decode(bytes, mime, { size, values: !isColour(i) }));
  if (pair) opened.push(metalRoughPicture(opened[pair.diffuse], opened[pair.specular]));
  const made = gathered(opened, size, order);
  return { blob: await codec.encode(made), ...size };
}

/** Pixels within the longest side; the shape stays. */
export function fitted(width: number, height: number, most = Infinity): { width: number; height: number } {
  const share = Math.min(1, most / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * share)), height: Math.max(1, Math.round(height * share)) };
}

/** @param opened pictures of the size that is wanted */
export function gathered(
  opened: readonly Picture[],
  { width, height }: { width: number; height: number },
  { from, normals, flipU, flipV }: Omit<PictureInput, 'files'>,
): Picture {
  const data = new Uint8Array(width * height * 4);
  for (const [k, one] of from.entries()) {
    if (typeof one === 'number') {
      for (let at = k; at < data.length; at += 4) data[at] = one;
      continue;
    }
    const { data: source } = opened[one.file];
    for (let y = 0; y < height; y++) {
      const row = (flipV ? height - 1 - y : y) * width;
      for (let x = 0; x < width; x++) {
        const value = source[(row + (flipU ? width - 1 - x : x)) * 4 + one.channel];
        data[(y * width + x) * 4 + k] = one.inverted ? 255 - value : value;
      }
    }
  }
  if (normals) unitNormals(data);
  return { width, height, data };
}

/** Base colour as sRGB, with metalness in alpha, of two pictures of one size. */
export function metalRoughPicture(diffuse: Picture, specular: Picture): Picture {
  const data = new Uint8Array(diffuse.data.length);
  const light = Float64Array.from({ length: 256 }, (_, byte) => linearFromSrgb(byte / 255));
  const of = ({ data: from }: Picture, at: number) => [light[from[at]], light[from[at + 1]], light[from[at + 2]]];
  for (let at = 0; at < data.length; at += 4) {
    const { baseColor, metallic } = metalRough({ diffuse: of(diffuse, at), specular: of(specular, at), glossiness: 0 });
    for (let k = 0; k < 3; k++) data[at + k] = Math.round(srgbFromLinear(baseColor[k]) * 255);
    data[at + 3] = Math.round(metallic * 255);
  }
  return { width: diffuse.width, height: diffuse.height, data };
}

/** What was made smaller has shorter directions between those that differ: they are directions again. */
function unitNormals(data: Uint8Array): void {
  for (let at = 0; at < data.length; at += 4) {
    const [x, y, z] = [data[at] - 127.5, data[at + 1] - 127.5, data[at + 2] - 127.5];
    const length = Math.hypot(x, y, z) / 127.5;
    // What is nearly one stays byte for byte; what is none at all is left.
    if (Math.abs(length - 1) < 0.02 || length < 0.2) continue;
    data[at] = Math.round(x / length + 127.5);
    data[at + 1] = Math.round(y / length + 127.5);
    data[at + 2] = Math.round(z / length + 127.5);
  }
}
