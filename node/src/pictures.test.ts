// Written by hand from the descriptions of the formats: TGA 2.0 (Truevision 1991), BMP (BITMAPINFOHEADER), TIFF 6.0 (Adobe 1992);
// KTX 2.0 from an encoder of its own. Open picture: duckCM.tga of assimp-testmodels.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { encodeToKTX2 } from 'ktx2-encoder';
import { describe, expect, it, vi } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { PrismError } from '@noble-prism/core/errors';
import { models } from '@noble-prism/core/testing/reading';
import { nodePictures } from './pictures.ts';

const u16 = (value: number) => [value & 255, value >> 8];
const u32 = (value: number) => [...u16(value & 0xffff), ...u16(value >>> 16)];

const RED = [255, 0, 0, 255];
const GREEN = [0, 255, 0, 255];
const BLUE = [0, 0, 255, 255];
const WHITE = [255, 255, 255, 255];

/** Red, green above blue, white: 24 bits, blue first, rows from the bottom. */
const BGR = { red: [0, 0, 255], green: [0, 255, 0], blue: [255, 0, 0], white: [255, 255, 255] };
const tga = (kind: number, body: number[]) =>
  Uint8Array.from([0, 0, kind, 0, 0, 0, 0, 0, 0, 0, 0, 0, ...u16(2), ...u16(2), 24, 0, ...body]);
const bmp = (width = 2, height = 2) =>
  Uint8Array.from([
    ...[0x42, 0x4d], ...u32(70), ...u32(0), ...u32(54),
    ...u32(40), ...u32(width), ...u32(height), ...u16(1), ...u16(24), ...u32(0), ...u32(16), ...u32(2835), ...u32(2835), ...u32(0), ...u32(0),
    ...BGR.blue, ...BGR.white, 0, 0, ...BGR.red, ...BGR.green, 0, 0,
  ]); // prettier-ignore

/** One strip of uncompressed RGB, little-endian. */
function tiff(): Uint8Array {
  const entries: [tag: number, kind: number, count: number, value: number][] = [
    [256, 3, 1, 2], [257, 3, 1, 2], [258, 3, 3, 8 + 2 + 10 * 12 + 4], [259, 3, 1, 1], [262, 3, 1, 2], [273, 4, 1, 140], [277, 3, 1, 3],
    [278, 3, 1, 2], [279, 4, 1, 12], [284, 3, 1, 1],
  ]; // prettier-ignore
  return Uint8Array.from([
    ...[0x49, 0x49, 42, 0], ...u32(8), ...u16(entries.length),
    ...entries.flatMap(([tag, kind, count, value]) => [...u16(tag), ...u16(kind), ...u32(count), ...u32(value)]),
    ...u32(0), ...u16(8), ...u16(8), ...u16(8),
    ...RED.slice(0, 3), ...GREEN.slice(0, 3), ...BLUE.slice(0, 3), ...WHITE.slice(0, 3),
  ]); // prettier-ignore
}

describe('pictures that are not as they should be', () => {
  const plain = (pixel: number[]) =>
    sharp(Uint8Array.from(Array.from({ length: 16 }, () => pixel).flat()), {
      raw: { width: 4, height: 4, channels: 3 },
    });
  const first = async (bytes: Uint8Array, mime: string, values: boolean) =>
    [...(await nodePictures.decode(bytes, mime, { values })).data].slice(0, 4);

  it.each([
    ['rgb16', 3],
    ['grey16', 1],
  ] as const)('with 16 bits a channel come with 8: %s', async (space, channels) => {
    const wide = Uint16Array.from({ length: 16 * channels }, (_, i) => [0x80ff, 0x4000, 0xffff][i % channels]);
    const png = await sharp(wide, { raw: { width: 4, height: 4, channels } })
      .toColourspace(space)
      .png()
      .toBuffer();
    expect(await nodePictures.facts(png, 'image/png')).toEqual({ width: 4, height: 4, bits: 16 });
    const pixel = channels === 3 ? [0x80, 0x40, 0xff, 255] : [0x80, 0x80, 0x80, 255];
    for (const values of [true, false])
      for (const [i, value] of (await first(png, 'image/png', values)).entries())
        expect(Math.abs(value - pixel[i])).toBeLessThanOrEqual(1);
  });

  it('with a colour profile come as sRGB where they are colours, and as stored where they are numbers', async () => {
    const png = await plain([255, 0, 0]).withIccProfile('p3', { attach: true }).png().toBuffer();
    const { profile, bits } = await nodePictures.facts(png, 'image/png');
    expect([profile !== undefined, bits]).toEqual([true, 8]);
    // The red of sRGB in Display P3: 0.9176, 0.2003, 0.1387 (CSS Color 4, from memory).
    const stored = await first(png, 'image/png', true);
    for (const [i, value] of [234, 51, 35, 255].entries()) expect(Math.abs(stored[i] - value)).toBeLessThanOrEqual(2);
    const seen = await first(png, 'image/png', false);
    for (const [i, value] of [255, 0, 0, 255].entries()) expect(Math.abs(seen[i] - value)).toBeLessThanOrEqual(2);
    // That of sRGB itself asks for nothing.
    const jpeg = await plain([9, 9, 9]).withIccProfile('srgb', { attach: true }).jpeg().toBuffer();
    expect(await nodePictures.facts(jpeg, 'image/jpeg')).toEqual({ width: 4, height: 4, bits: 8 });
  });

  it('of 30,000 pixels are refused by what they state, before anything is unpacked', async () => {
    const png = await plain([1, 2, 3]).png().toBuffer();
    // Width and height of the head of a PNG (ISO/IEC 15948, 11.2.1), with its check value.
    const view = new DataView(png.buffer, png.byteOffset);
    view.setUint32(16, 30_000);
    view.setUint32(20, 30_000);
    view.setUint32(29, crc32(png.subarray(12, 29)));
    for (const open of [() => nodePictures.facts(png, 'image/png'), () => nodePictures.decode(png, 'image/png')])
      await expect(open()).rejects.toThrow(/30000 × 30000 px; at most 16384 on a side/);
  });

  it('that are none are called so', async () => {
    const text = new TextEncoder().encode('These are no pixels, though the name ends in png.');
    await expect(nodePictures.facts(text, 'image/png')).rejects.toThrow('no picture, whatever its name says');
    await expect(nodePictures.facts(new Uint8Array(), 'image/jpeg')).rejects.toThrow(PrismError);
  });
});

describe('pictures that no browser draws', () => {
  it.each([
    ['image/x-tga', tga(2, [...BGR.blue, ...BGR.white, ...BGR.red, ...BGR.green])],
    // Runs: one packet of a repeated pixel would be 0x81; here four packets of one pixel each.
    ['image/x-tga', tga(10, [0x80, ...BGR.blue, 0, ...BGR.white, 1, ...BGR.red, ...BGR.green])],
    ['image/bmp', bmp()],
    ['image/tiff', tiff()],
  ])('are opened: %s', async (mime, bytes) => {
    const picture = await nodePictures.decode(bytes, mime);
    expect([picture.width, picture.height]).toEqual([2, 2]);
    expect([...picture.data]).toEqual([RED, GREEN, BLUE, WHITE].flat());
    const png = await nodePictures.encode(picture);
    expect([...(await nodePictures.decode(png, 'image/png')).data]).toEqual([...picture.data]);
  });

  it('open KTX2 as near as its packing keeps the colours', async () => {
    const data = new Uint8Array(16 * 16 * 4).map((_, i) => [200, 100, 50, 255][i % 4]);
    const imageDecoder = () => Promise.resolve({ width: 16, height: 16, data });
    const bytes = await encodeToKTX2(new Uint8Array(1), { isUASTC: true, generateMipmap: false, imageDecoder });
    const picture = await nodePictures.decode(bytes, 'image/ktx2');
    expect([picture.width, picture.height]).toEqual([16, 16]);
    for (const [i, value] of picture.data.entries()) expect(Math.abs(value - data[i])).toBeLessThanOrEqual(4);
  });

  it('open an open model’s picture', async () => {
    const bytes = new Uint8Array(readFileSync(join(models, 'Collada/duckCM.tga')));
    const { width, height, data } = await nodePictures.decode(bytes, 'image/x-tga');
    expect([width, height]).toEqual([512, 512]);
    // A yellow duck: red and green are over twice the blue on average (looked at, no source).
    const sums = [0, 0, 0];
    for (let at = 0; at < data.length; at += 4) for (let c = 0; c < 3; c++) sums[c] += data[at + c];
    expect(sums[0]).toBeGreaterThan(sums[2] * 2);
    expect(sums[1]).toBeGreaterThan(sums[2] * 2);
  });

  it('are scaled without mixing the values of what cannot be seen', async () => {
    const data = Uint8Array.from([...[200, 10, 20, 0], ...[200, 10, 20, 0]]);
    const png = await nodePictures.encode({ width: 2, height: 1, data });
    const { data: scaled } = await nodePictures.decode(png, 'image/png', {
      size: { width: 4, height: 2 },
    });
    expect([...scaled]).toEqual(Array.from({ length: 8 }, () => [200, 10, 20, 0]).flat());
  });

  const SURVIVE = 'survive %i random damages of each kind';
  it.each([50])(SURVIVE, surviveAll);
  atLength.each([200])(SURVIVE, surviveAll);

  async function surviveAll(rounds: number): Promise<void> {
    const imageDecoder = () => Promise.resolve({ width: 16, height: 16, data: new Uint8Array(1024).fill(99) });
    const ktx2 = await encodeToKTX2(new Uint8Array(1), { isUASTC: false, generateMipmap: true, imageDecoder });
    const body = [...BGR.blue, ...BGR.white, ...BGR.red, ...BGR.green];
    const png = await nodePictures.encode({ width: 2, height: 2, data: new Uint8Array(16) });
    const kinds = [
      ['image/x-tga', tga(10, [0x80, ...BGR.blue, 0, ...BGR.white, 1, ...BGR.red, ...BGR.green])],
      ['image/x-tga', tga(2, body)],
      ['image/bmp', bmp()],
      ['image/tiff', tiff()],
      ['image/png', png],
      ['image/ktx2', ktx2],
    ] as const;
    let seed = 20261125;
    const random = (below: number) => (seed = (seed * 48271) % 2147483647) % below;
    // What libraries say of a damaged file on the way is theirs.
    for (const name of ['error', 'warn', 'log'] as const) vi.spyOn(console, name).mockImplementation(() => {});
    for (const [mime, bytes] of kinds)
      for (let round = 0; round < rounds; round++) {
        const damaged = bytes.slice(0, round % 5 === 0 ? 1 + random(bytes.length) : bytes.length);
        for (let hit = 0; hit <= random(6); hit++) damaged[random(damaged.length)] = random(256);
        const said = await nodePictures.decode(damaged, mime).catch((error: unknown) => error);
        if (said instanceof Error) expect(said).toBeInstanceOf(PrismError);
      }
    vi.restoreAllMocks();
    // And whole ones are opened afterwards as before.
    expect((await nodePictures.decode(ktx2, 'image/ktx2')).width).toBe(16);
  }

  it.each([
    ['image/x-tga', tga(2, []).slice(0, 10), /cut off/],
    [
      'image/x-tga',
      Uint8Array.from([0, 0, 2, ...new Array<number>(9).fill(0), 255, 255, 255, 255, 24, 0]),
      /65535 × 65535 px/,
    ],
    ['image/bmp', bmp(100_000, 100_000), /at most 16384/],
    ['image/tiff', Uint8Array.from([73, 73, 42, 0, 8, 0, 0, 0, 9, 9]), /no picture/],
    ['image/png', Uint8Array.from([1, 2, 3]), /no picture/],
    ['image/ktx2', new Uint8Array(90), /KTX2/],
  ])('are refused where they are damaged or state too much: %s', async (mime, bytes, why) => {
    await expect(nodePictures.decode(bytes, mime)).rejects.toThrow(why);
  });
});
