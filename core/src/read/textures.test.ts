// Pictures: sizes from the heads of PNG (ISO/IEC 15948) and JPEG (ISO/IEC 10918-1), kinds from their endings.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { models } from '../testing/reading.ts';
import { isPicture, mimeOf } from './pictureKinds.ts';
import { pictureSize } from './textures.ts';

describe('pictures', () => {
  it('have the size that their head states', () => {
    const png = Uint8Array.from([
      0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 2, 0, 0, 0, 1, 0, 8,
    ]);
    expect(pictureSize(png)).toEqual({ width: 512, height: 256 });
    const open = new Uint8Array(readFileSync(join(models, 'OBJ', 'SpiderTex.jpg')));
    const { width = 0, height = 0 } = pictureSize(open) ?? {};
    expect(width * height).toBeGreaterThan(1000);
  });

  it('have none where the head is cut off or something else', () => {
    for (const bytes of [
      new Uint8Array(),
      Uint8Array.from([0xff, 0xd8, 0xff]),
      new TextEncoder().encode('a text that is no picture'),
    ])
      expect(pictureSize(bytes)).toBeUndefined();
  });

  it('are told by their ending in any case', () => {
    expect([isPicture('a/Oak.JPG'), isPicture('b.mtl'), isPicture('png')]).toEqual([true, false, false]);
    expect([mimeOf('x.TIF'), mimeOf('x.ktx2'), mimeOf('x.xyz')]).toEqual([
      'image/tiff',
      'image/ktx2',
      'application/octet-stream',
    ]);
  });
});
