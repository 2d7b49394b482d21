// Texel density by arithmetic.
import { describe, expect, it } from 'vitest';
import type { Texture } from '../scene/types.ts';
import { texelsOf, USUAL_PIXELS } from './texels.ts';

const texture = (id: string, width?: number, height = width): Texture => ({ id, name: id, source: '', state: 'found', mime: 'image/png', bytes: 1, ...(width ? { width, height } : {}) }); // prettier-ignore
const known = { c: texture('c', 2048), n: texture('n', 512, 256), b: texture('b') };

describe('pixels on a step of the coordinates', () => {
  it('are those of the base colour, as often as it repeats', () => {
    // 2048 px over four metres, of which each is a step: 512 px/m.
    const quarter = { textures: { normal: { texture: 'n', uv: 0 }, baseColor: { texture: 'c', uv: 0, scale: [0.25, -0.25] as [number, number] } } }; // prettier-ignore
    expect(texelsOf(quarter, known)).toMatchObject({ u: 512, v: 512, assumed: false, use: { texture: 'c' } });
  });

  it('are those of another picture on the set that is asked for, or else the usual number', () => {
    const material = { textures: { baseColor: { texture: 'c', uv: 0 }, occlusion: { texture: 'n', uv: 1 } } };
    expect(texelsOf(material, known, 1)).toMatchObject({ u: 512, v: 256, assumed: false });
    expect(texelsOf({}, known)).toEqual({ u: USUAL_PIXELS, v: USUAL_PIXELS, assumed: true });
    // A picture whose size nobody knows says nothing; another one may.
    expect(texelsOf({ textures: { baseColor: { texture: 'b', uv: 0 }, normal: { texture: 'n', uv: 0 } } }, known)).toMatchObject({ u: 512, assumed: false }); // prettier-ignore
  });
});
