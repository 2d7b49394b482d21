// Pictures made of channels of others, by the codec that runs on the server: sizes, sides, profiles, what cannot be opened.
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { makePicture, providePictures } from '@noble-prism/core/finish/sets/makePicture';
import type { PictureInput } from '@noble-prism/core/finish/sets/makePicture';
import { ThreadWorkbench } from './threads.ts';
import { nodePictures } from './pictures.ts';

beforeAll(() => providePictures(() => Promise.resolve(nodePictures)));

/** A PNG whose pixels are what is made of their place. */
async function png(width: number, height: number, pixel: (x: number, y: number) => number[]): Promise<{ bytes: Uint8Array; mime: string }> {
  const data = Array.from({ length: width * height }, (_, i) => pixel(i % width, Math.floor(i / width))).flat();
  const channels = pixel(0, 0).length as 1 | 3 | 4;
  const bytes = await sharp(Uint8Array.from(data), { raw: { width, height, channels } }).png().toBuffer();
  return { bytes, mime: 'image/png' };
} // prettier-ignore
const whole = (file = 0) => [0, 1, 2].map((channel) => ({ file, channel, inverted: false }));
const order = (more: Partial<PictureInput>): PictureInput => ({ files: [], from: [...whole(), 255], colour: false, normals: false, flipU: false, flipV: false, ...more }); // prettier-ignore
async function made(input: PictureInput) {
  const { blob, width, height } = await makePicture(input);
  const { data } = await nodePictures.decode(blob, 'image/png', { values: true });
  return {
    width,
    height,
    at: (x: number, y: number) => [...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)],
  };
}

describe('a made picture', () => {
  it('is gathered from pictures of different sizes, as large as the largest', async () => {
    const rough = await png(8, 4, () => [200]);
    const metal = await png(2, 1, () => [40]);
    const from = [255, { file: 0, channel: 1, inverted: true }, { file: 1, channel: 1, inverted: false }, 255];
    const surface = await made(order({ files: [rough, metal], from }));
    expect([surface.width, surface.height]).toEqual([8, 4]);
    expect(surface.at(5, 3)).toEqual([255, 55, 40, 255]);
  });

  it('is flipped left to right and upside down, and no larger than is allowed', async () => {
    const corner = await png(64, 32, (x, y) => (x < 16 && y < 8 ? [250, 0, 0] : [0, 0, 100]));
    const isRed = ([r]: number[]) => r > 200;
    const flipped = await made(order({ files: [corner], flipU: true, flipV: true, most: 32 }));
    expect([flipped.width, flipped.height]).toEqual([32, 16]);
    expect([isRed(flipped.at(2, 2)), isRed(flipped.at(29, 14)), isRed(flipped.at(29, 2)), isRed(flipped.at(2, 14))]).toEqual([false, true, false, false]); // prettier-ignore
  });

  it('has colours as sRGB and numbers as they are stored, also where both come from pictures with a profile', async () => {
    const red = sharp(Uint8Array.from({ length: 48 }, (_, i) => [255, 0, 0][i % 3]), { raw: { width: 4, height: 4, channels: 3 } }); // prettier-ignore
    const p3 = { bytes: new Uint8Array(await red.withIccProfile('p3', { attach: true }).png().toBuffer()), mime: 'image/png' }; // prettier-ignore
    const opacity = { file: 1, channel: 1, inverted: false };
    const both = await made(order({ files: [p3, { ...p3 }], from: [...whole(), opacity], colour: true }));
    expect(both.at(1, 1).slice(0, 3)).toEqual([255, 0, 0]);
    // The red of sRGB is stored with some green in Display P3.
    expect(Math.abs(both.at(1, 1)[3] - 51)).toBeLessThanOrEqual(2);
    expect(Math.abs((await made(order({ files: [p3] }))).at(1, 1)[0] - 234)).toBeLessThanOrEqual(2);
  });

  it('is converted from a colour and a specular colour of another size, with metalness where somebody asks for it', async () => {
    const diffuse = await png(2, 2, () => [0, 0, 0]);
    const specular = await png(4, 4, () => [255, 226, 155]);
    const pair = { diffuse: 0, specular: 1 };
    const colour = await made(order({ files: [diffuse, specular], from: [...whole(2), 255], colour: true, pair }));
    expect([colour.width, colour.at(3, 3)]).toEqual([4, [255, 226, 155, 255]]);
    const metal = { file: 2, channel: 3, inverted: false };
    const surface = await made(order({ files: [diffuse, specular], from: [255, 255, metal, 255], pair }));
    expect(surface.at(0, 0)).toEqual([255, 255, 255, 255]);
  });

  it('is made in a thread, which says what cannot be opened and goes on', async () => {
    const workbench = new ThreadWorkbench({ width: 1 });
    try {
      const text = { bytes: new TextEncoder().encode('no picture'), mime: 'image/png' };
      await expect(workbench.run('picture', order({ files: [text] }))).rejects.toMatchObject({
        code: 'solid-failed',
        message: expect.stringContaining('no picture') as string,
      });
      const { width, blob } = await workbench.run('picture', order({ files: [await png(3, 3, () => [1, 2, 3])] }));
      expect([width, blob.length > 50]).toEqual([3, true]);
    } finally {
      await workbench.close();
    }
  });
});
