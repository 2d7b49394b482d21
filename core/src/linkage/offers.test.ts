// Shafts in holes, of real solids read by the kernel: what fits is offered, what only looks like it is not.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import type { ExactShape } from '../measure/exactShape.ts';
import { landmarks } from '../mesh/landmarks.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { composed, IDENTITY, translation } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { readExact } from '../solid/readExact.ts';
import { tessellate } from '../solid/tessellate.ts';
import { box, cylinder, startKernel, stepOf } from '../testing/solids.ts';
import { linkOffers } from './offers.ts';

let [pin, plate, wide]: ExactShape[] = [];
let pinText: Uint8Array;
beforeAll(async () => {
  await startKernel(loadKernel);
  // A pin of 10 mm, 60 long; a plate of 20 with a hole of 10.2 in its middle, and one of 30. Millimetres.
  pinText = await stepOf(cylinder(5, 60));
  pin = await readExact({ text: pinText });
  const plateWith = async (radius: number) =>
    readExact({ text: await stepOf(box(80, 80, 20).cut(cylinder(radius, 100).translateZ(-20))) });
  plate = await plateWith(5.1);
  wide = await plateWith(15);
});
const body = (row: number, shape: ExactShape, place: Matrix = IDENTITY) => ({ row, shapes: [{ shape, place }] });

describe('a shaft in a hole', () => {
  it('is offered once, on its axis, in the middle of where both are', () => {
    const [offer, ...others] = linkOffers([body(7, pin), body(9, plate)]);
    expect(others).toEqual([]);
    expect(offer).toMatchObject({ shaft: 7, hole: 9 });
    expect(offer.radius).toBeCloseTo(0.005, 9);
    expect(offer.holeRadius).toBeCloseTo(0.0051, 9);
    offer.point.slice(0, 2).forEach((value) => expect(value).toBeCloseTo(0, 9));
    expect(Math.abs(offer.axis[2])).toBeCloseTo(1, 12);
  });

  it('is remembered by a point of the shaft, which coarse triangles have too', async () => {
    const [{ onShaft, radius }] = linkOffers([body(7, pin), body(9, plate)]);
    expect(Math.hypot(onShaft[0], onShaft[1])).toBeCloseTo(radius, 9);
    const { blob } = await tessellate({ text: pinText, limits: { chord: 0.0005, angle: 0.8 } });
    const { away } = await landmarks({ shape: unpackMesh(blob), landmarks: [{ at: onShaft, of: 'face' }] });
    expect(away[0]).toBeLessThan(0.0005);
  });

  it('also where both stand turned and larger somewhere, and with two plates on one pin', () => {
    const there = composed([3, 4, 5], [0.5, 0.5, 0.5, 0.5], [2, 2, 2]);
    const offers = linkOffers([body(1, pin, there), body(2, plate, there), body(3, plate, there)]);
    expect(offers.map(({ shaft, hole }) => [shaft, hole])).toEqual([[1, 2], [1, 3]]);
    expect(offers[0].radius).toBeCloseTo(0.01, 9);
    expect(Math.abs(offers[0].axis[0])).toBeCloseTo(1, 9);
  }); // prettier-ignore

  it.each([
    ['a hole that is far wider', () => linkOffers([body(1, pin), body(2, wide)])],
    ['an axis beside the other', () => linkOffers([body(1, pin, translation([0.0002, 0, 0])), body(2, plate)])],
    ['one that stands before the hole', () => linkOffers([body(1, pin, translation([0, 0, 0.2])), body(2, plate)])],
    ['an axis that is tilted', () => linkOffers([body(1, pin, composed([0, 0, 0], [0.02, 0, 0, 0.9998], [1, 1, 1])), body(2, plate)])],
    ['a shaft in a hole of its own body', () => linkOffers([{ row: 1, shapes: [...body(1, pin).shapes, ...body(1, plate).shapes] }])],
    ['one that is scaled unevenly', () => linkOffers([body(1, pin, composed([0, 0, 0], [0, 0, 0, 1], [1, 2, 1])), body(2, plate)])],
  ])('is not %s', (_, offers) => expect(offers()).toEqual([])); // prettier-ignore
});
