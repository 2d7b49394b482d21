/** Pictures as graphics cards take them: KTX 2.0 with Basis Universal inside. Made by its open encoder, opened by the transcoder that comes with three.js. */
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { readFile } from 'node:fs/promises';
import { PrismError } from '@noble-prism/core/errors';
import type { Picture } from '@noble-prism/core/surroundings';

const require = createRequire(import.meta.url);

/** Longest side that is packed, pixels: more takes minutes, and the encoder holds no more than twelve million. */
export const KTX2_SIDE = 2048;

/** Of colours, 1 to 255. */
const QUALITY = 192;

let encoder: Promise<typeof import('ktx2-encoder').encodeToKTX2> | undefined;

/** What it says while it works would stand in the midst of what programs are told: it takes hold of the console when it is first used. */
async function loadEncoder() {
  const { encodeToKTX2 } = await import('ktx2-encoder');
  const say = globalThis.console;
  const { log } = say;
  say.log = () => {};
  try {
    const imageDecoder = () => Promise.resolve({ width: 4, height: 4, data: new Uint8Array(64) });
    await encodeToKTX2(new Uint8Array(1), { isUASTC: true, imageDecoder });
  } finally {
    say.log = log;
  }
  return encodeToKTX2;
}

/**
 * With all smaller levels, so that nothing flickers from afar.
 * @param picture sides are multiples of four
 * @param exact values (normals, roughness) keep to about one of 255 (UASTC); colours are a fifth as large and less exact (ETC1S)
 */
export async function toKtx2({ width, height, data }: Picture, exact: boolean): Promise<Uint8Array> {
  const encode = await (encoder ??= loadEncoder());
  const bytes = await encode(new Uint8Array(1), {
    ...(exact
      ? { isUASTC: true, uastcLDRQualityLevel: 1, needSupercompression: true }
      : { isUASTC: false, qualityLevel: QUALITY, compressionLevel: 1 }),
    generateMipmap: true,
    isPerceptual: !exact,
    isSetKTX2SRGBTransferFunc: !exact,
    imageDecoder: () => Promise.resolve({ width, height, data }),
  });
  return new Uint8Array(bytes);
}

/** The open transcoder of Basis Universal, loaded when the first KTX2 comes. */
interface Transcoder {
  initializeBasis(): void;
  KTX2File: new (bytes: Uint8Array) => {
    isValid(): boolean;
    getWidth(): number;
    getHeight(): number;
    startTranscoding(): number;
    getImageTranscodedSizeInBytes(level: number, layer: number, face: number, format: number): number;
    transcodeImage(
      out: Uint8Array,
      level: number,
      layer: number,
      face: number,
      format: number,
      flags: number,
      channel0: number,
      channel1: number,
    ): number;
    close(): void;
    delete(): void;
  };
}
/** Its number of uncompressed pixels of 32 bits. */
const RGBA32 = 13;
let transcoder: Promise<Transcoder> | undefined;

async function loadTranscoder(): Promise<Transcoder> {
  const path = require.resolve('three/examples/jsm/libs/basis/basis_transcoder.js');
  const code = await readFile(path, 'utf8');
  const wasmBinary = await readFile(path.replace(/\.js$/, '.wasm'));
  // Made for a script tag: it leaves its name in the scope that it is run in.
  const make = new Function('require', '__dirname', '__filename', `${code}\nreturn BASIS;`) as (
    ...scope: unknown[]
  ) => (options: object) => Promise<Transcoder>;
  const made = await make(require, dirname(path), path)({ wasmBinary });
  made.initializeBasis();
  return made;
}

const KTX2_MAGIC = [0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb];

/**
 * The largest level.
 * @param bytes in a buffer of their own
 * @throws PrismError `not-readable`, and what the check of the size throws
 */
export async function fromKtx2(
  bytes: Uint8Array<ArrayBuffer>,
  checkPixels: (width: number, height: number) => void,
): Promise<Picture> {
  if (!KTX2_MAGIC.every((byte, i) => bytes[i] === byte)) throw new PrismError('not-readable', 'it is no KTX2 file.');
  const { KTX2File } = await (transcoder ??= loadTranscoder());
  let file: InstanceType<typeof KTX2File> | undefined;
  try {
    file = new KTX2File(bytes);
    if (!file.isValid()) throw new PrismError('not-readable', 'its packing is not known.');
    const [width, height] = [file.getWidth(), file.getHeight()];
    checkPixels(width, height);
    if (!file.startTranscoding()) throw new PrismError('not-readable', 'it is damaged.');
    const data = new Uint8Array(file.getImageTranscodedSizeInBytes(0, 0, 0, RGBA32));
    if (!file.transcodeImage(data, 0, 0, 0, RGBA32, 0, -1, -1)) throw new PrismError('not-readable', 'it is damaged.');
    return { width, height, data };
  } catch (error) {
    if (!(error instanceof PrismError)) {
      // After a trap its memory may be in any state: the next picture gets a new one.
      transcoder = undefined;
      file = undefined;
    }
    throw error;
  } finally {
    file?.close();
    file?.delete();
  }
}
