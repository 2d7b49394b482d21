// How glTF 2.0 has pictures (3.9.2 and 3.9.3): occlusion in red, roughness in green, metalness in blue, normals with green up.
import { describe, expect, it } from 'vitest';
import type { Texture } from '../../scene/types.ts';
import { srgbFromLinear } from '../colour.ts';
import type { Holds } from './holds.ts';
import { fitted, gathered, metalRoughPicture } from './makePicture.ts';
import { CONVERTED, filesOf, keyOfOrder, numbered, planOf } from './plan.ts';

const texture = (id: string, more: Partial<Texture> = {}): Texture => ({
  id,
  name: `${id}.png`,
  source: 's',
  state: 'unbound',
  mime: 'image/png',
  bytes: 1,
  blob: `blob of ${id}`,
  width: 1024,
  height: 512,
  ...more,
});
const AS_THEY_ARE = { flipU: false, flipV: false };
const plan = (
  pictures: Record<string, Holds>,
  changes: Partial<Parameters<typeof planOf>[2]> = {},
  about: Record<string, Partial<Texture>> = {},
) =>
  planOf(
    Object.entries(pictures).map(([id, holds]) => ({ texture: id, holds })),
    Object.fromEntries(Object.keys(pictures).map((id) => [id, texture(id, about[id])])),
    { ...AS_THEY_ARE, ...changes },
  );

describe('the plan of a set', () => {
  it('uses as they are what stands as glTF has it', () => {
    const { pictures, surface } = plan({ c: 'colour', n: 'normals', s: { r: 'occlusion', g: 'roughness', b: 'metalness' }, e: 'glow' }); // prettier-ignore
    expect(pictures).toEqual([
      { slot: 'baseColor', asIs: 'c' },
      { slot: 'normal', asIs: 'n' },
      { slot: 'surface', asIs: 's' },
      { slot: 'emissive', asIs: 'e' },
    ]);
    expect([...surface]).toEqual(['occlusion', 'roughness', 'metalness']);
    // Red may hold anything where occlusion is not read; a grey picture of occlusion is one as it is.
    expect(plan({ s: { g: 'roughness', b: 'metalness' } }).pictures[0].asIs).toBe('s');
    expect(plan({ o: 'occlusion' }, {}, { o: { signs: { grey: true } } }).pictures[0].asIs).toBe('o');
  });

  it('gathers single values, and turns gloss and green round', () => {
    const { pictures } = plan({ g: 'gloss', m: 'metalness', n: 'normals-down' });
    expect(pictures).toMatchObject([
      { slot: 'normal', order: { normals: true, from: [{ channel: 0, inverted: false }, { channel: 1, inverted: true }, { channel: 2, inverted: false }, 255] } },
      { slot: 'surface', order: { from: [255, { texture: 'g', channel: 1, inverted: true }, { texture: 'm', channel: 1, inverted: false }, 255] } },
    ]); // prettier-ignore
    const rma = plan({ p: { r: 'roughness', g: 'metalness', b: 'occlusion' } }).pictures[0];
    expect(rma.order?.from).toMatchObject([{ channel: 2 }, { channel: 0 }, { channel: 1 }, 255]);
  });

  it('turns the slopes of normals round with a flip, twice where they are turned already', () => {
    const greens = (holds: Holds, flipV: boolean) => {
      const [{ order }] = plan({ n: holds }, { flipV }).pictures;
      return order && typeof order.from[1] !== 'number' ? order.from[1].inverted : undefined;
    };
    expect([greens('normals', true), greens('normals-down', true), greens('normals-down', false)]).toEqual([true, false, true]); // prettier-ignore
  });

  it('puts opacity beside the colour, from a picture of its own or from its alpha', () => {
    const own = plan({ c: 'colour', o: 'opacity' });
    expect(own.opacity).toBe(true);
    expect(own.pictures[0].order?.from[3]).toMatchObject({ texture: 'o', channel: 1 });
    const alpha = plan({ c: 'colour' }, {}, { c: { signs: { grey: false, alpha: true } } });
    expect([alpha.opacity, alpha.pictures[0].asIs]).toEqual([true, 'c']);
  });

  it.each<[string, Partial<Texture>]>([
    ['16 bits', { bits: 16 }],
    ['a colour profile', { profile: 'Display P3' }],
    ['a kind that glTF does not take', { mime: 'image/tiff' }],
  ])('makes anew what has %s', (_what, about) => {
    expect(plan({ c: 'colour' }, {}, { c: about }).pictures[0]).toMatchObject({ order: { colour: true } });
  });

  it('leaves a profile alone where numbers are held, and makes smaller what is larger than it may be', () => {
    const packed: Holds = { g: 'roughness', b: 'metalness' };
    expect(plan({ s: packed }, {}, { s: { profile: 'Display P3' } }).pictures[0].asIs).toBe('s');
    expect(plan({ s: packed }, { most: 1024 }).pictures[0].asIs).toBe('s');
    expect(plan({ s: packed }, { most: 512 }).pictures[0].order?.most).toBe(512);
  });

  it('names what it cannot use', () => {
    const { left } = plan({ a: 'colour', b: 'colour', c: 'roughness' }, {}, { c: { problem: 'it is no picture.' } });
    expect(left).toEqual([
      { texture: 'b', why: 'holds colour, which another picture gives already' },
      { texture: 'c', why: 'cannot be opened: it is no picture.' },
    ]);
    expect(plan({ a: { r: 'roughness', g: 'metalness' }, b: 'gloss' }).left).toEqual([
      { texture: 'b', why: 'holds roughness, as gloss, which another picture gives already' },
    ]);
    expect(planOf([{ texture: 'gone', holds: 'colour' }], {}, AS_THEY_ARE).left[0].why).toContain('not in the job');
  });

  it('converts a colour with a specular colour beside it, with gloss from where it lies', () => {
    const { pictures, surface, left } = plan({ d: 'colour', s: 'specular' }, {}, { s: { signs: { grey: false, alpha: true } } }); // prettier-ignore
    const pair = { diffuse: 'd', specular: 's' };
    expect(pictures).toMatchObject([
      { slot: 'baseColor', order: { pair, from: [{ texture: CONVERTED, channel: 0 }, { channel: 1 }, { channel: 2 }, 255] } },
      { slot: 'surface', order: { pair, from: [255, { texture: 's', channel: 3, inverted: true }, { texture: CONVERTED, channel: 3 }, 255] } },
    ]); // prettier-ignore
    expect([[...surface], left]).toEqual([['roughness', 'metalness'], []]);
    // In the files of the task the converted one stands behind the others.
    const input = numbered(pictures[1].order!);
    expect([filesOf(pictures[1].order!), input.pair, input.from[2]]).toEqual([['s', 'd'], { diffuse: 1, specular: 0 }, { file: 2, channel: 3, inverted: false }]); // prettier-ignore
    expect(plan({ s: 'specular' }).left[0].why).toContain('only beside the colour');
    const both = plan({ d: 'colour', s: 'specular', m: 'metalness' });
    expect([both.left[0].why, both.pictures[0].asIs]).toEqual([expect.stringContaining('not needed beside metalness'), 'd']); // prettier-ignore
  });

  it('remembers what was made by what the files hold', () => {
    const order = plan({ g: 'gloss' }).pictures[0].order!;
    const key = keyOfOrder(order, { g: texture('g') });
    expect(keyOfOrder({ ...order, from: order.from.map((one) => (typeof one === 'number' ? one : { ...one, texture: 'again' })) }, { again: texture('again', { blob: 'blob of g' }) })).toBe(key); // prettier-ignore
    expect(keyOfOrder(order, { g: texture('g', { blob: 'another' }) })).not.toBe(key);
    expect(keyOfOrder({ ...order, flipU: true }, { g: texture('g') })).not.toBe(key);
  });
});

describe('a made picture', () => {
  // Two by two: 0 1 above 2 3, in all channels alike but for alpha.
  const picture = (values: number[]) => ({ width: 2, height: 2, data: Uint8Array.from(values.flatMap((value) => [value, value + 1, value + 2, 255])) }); // prettier-ignore
  const red = (order: Partial<Parameters<typeof gathered>[2]>) =>
    [...gathered([picture([10, 20, 30, 40])], { width: 2, height: 2 }, { from: [{ file: 0, channel: 0, inverted: false }, 9, 255, 255], colour: false, normals: false, flipU: false, flipV: false, ...order }).data].filter((_, i) => i % 4 === 0); // prettier-ignore

  it('is flipped, turned round and filled', () => {
    expect(red({})).toEqual([10, 20, 30, 40]);
    expect(red({ flipU: true })).toEqual([20, 10, 40, 30]);
    expect(red({ flipV: true })).toEqual([30, 40, 10, 20]);
    expect(red({ flipU: true, flipV: true })).toEqual([40, 30, 20, 10]);
    expect(red({ from: [{ file: 0, channel: 2, inverted: true }, 0, 0, 0] })).toEqual([243, 233, 223, 213]);
    expect(red({ from: [7, 0, 0, 0] })).toEqual([7, 7, 7, 7]);
  });

  it('is converted point by point by the formulas of the extension', () => {
    // Scattering alone, at the reflectance of what is no metal; and gold, which scatters nothing.
    const encoded = (linear: number[]) => linear.map((value) => Math.round(srgbFromLinear(value) * 255));
    const [paint, gold] = [[0.5, 0.2, 0.1], [1, 0.77, 0.34]]; // prettier-ignore
    const points = (a: number[], b: number[]) => ({ width: 2, height: 1, data: Uint8Array.from([...encoded(a), 255, ...encoded(b), 255]) }); // prettier-ignore
    const { data } = metalRoughPicture(points(paint, [0, 0, 0]), points([0.04, 0.04, 0.04], gold));
    for (const [i, value] of [...encoded(paint), 0, ...encoded(gold), 255].entries())
      expect(Math.abs(data[i] - value)).toBeLessThanOrEqual(2);
  });

  it('has directions of the length one', () => {
    const short = { width: 1, height: 1, data: Uint8Array.from([127, 169, 191, 255]) };
    const whole = [0, 1, 2].map((channel) => ({ file: 0, channel, inverted: false }));
    const { data } = gathered([short], { width: 1, height: 1 }, { from: [...whole, 255], colour: false, normals: true, flipU: false, flipV: false }); // prettier-ignore
    const [x, y, z] = [...data].map((value) => (value - 127.5) / 127.5);
    expect(Math.hypot(x, y, z)).toBeCloseTo(1, 1);
    expect(y / z).toBeCloseTo((169 - 127.5) / (191 - 127.5), 1);
  });

  it('keeps its shape within the longest side', () => {
    expect(fitted(4096, 2048, 1024)).toEqual({ width: 1024, height: 512 });
    expect(fitted(30, 3000, 256)).toEqual({ width: 3, height: 256 });
    expect(fitted(100, 100)).toEqual({ width: 100, height: 100 });
  });
});
