// Shafts in holes among what is selected: what is looked through, what waits, and what is said where nothing can be found.
import { describe, expect, it } from 'vitest';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { IDENTITY, translation } from '@noble-prism/core/scene/matrix';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { linkOffersOf } from './linkOffersOf.ts';

/** A round face of a radius along z, from 0 to 50 mm. */
function round(radius: number, isHollow: boolean): ExactShape {
  const box = { min: [-radius, -radius, 0], max: [radius, radius, 0.05] } as const;
  return {
    faces: [{ surface: { kind: 'cylinder', point: [0, 0, 0], axis: [0, 0, 1], radius }, isHollow, box: box as never, area: 1 }],
    circles: [],
    area: 1,
    areaCentre: [0, 0, 0],
  };
} // prettier-ignore

const SHAPES: Record<string, ExactShape> = { pin: round(0.01, false), bush: round(0.0101, true) };
const row = (id: number, parent: number | null, name: string, solid?: string, transform = IDENTITY) =>
  ({ id, key: `/${name}`, parent, name, kind: solid ? 'part' : 'assembly', source: 's', transform, materials: [], layer: null, ...(solid ? { solid } : {}) }) as never; // prettier-ignore
const scene: Scene = {
  ...EMPTY_SCENE,
  nodes: nodeTable([
    row(0, null, 'Unit'),
    row(1, 0, 'Arm'),
    row(2, 1, 'Pin', 'pin', translation([1, 2, 3])),
    row(3, 0, 'Bush', 'bush', translation([1, 2, 3])),
    row(4, 0, 'Cover'),
    row(5, 0, 'Lid'),
  ]),
};
const known = (solid: string | undefined) => SHAPES[solid ?? ''];

describe('offers', () => {
  it('are between what is in the one assembly that is selected, or between the rows that are', () => {
    for (const selected of [[0], [1, 3]]) {
      const { offers, waits, not } = linkOffersOf(scene, selected, known);
      expect({ waits, not }).toEqual({ waits: 0, not: undefined });
      // The arm has the pin, wherever in it that is.
      expect(offers).toMatchObject([{ shaft: 1, hole: 3, radius: 0.01, holeRadius: 0.0101 }]);
      offers[0].point.slice(0, 2).forEach((value, i) => expect(value).toBeCloseTo(i + 1, 9));
    }
  });

  it('are found however deep they hang below what is selected', () => {
    const deep: Scene = { ...scene, nodes: nodeTable([
      row(0, null, 'Plant'),
      row(1, 0, 'Unit'),
      row(2, 1, 'Pin', 'pin', translation([1, 2, 3])),
      row(3, 1, 'Bush', 'bush', translation([1, 2, 3])),
    ]) };
    expect(linkOffersOf(deep, [0], known).offers).toMatchObject([{ shaft: 2, hole: 3 }]);
    expect(linkOffersOf(deep, [1], known).offers).toHaveLength(1);
  }); // prettier-ignore

  it('wait for shapes that are being read', () => {
    expect(linkOffersOf(scene, [0], (solid) => (solid === 'pin' ? SHAPES.pin : undefined))).toEqual({ offers: [], waits: 1 });
  }); // prettier-ignore

  it('say what has to be selected, and where there are no solids', () => {
    expect(linkOffersOf(scene, [3], known).not).toContain('Select an assembly');
    expect(linkOffersOf(scene, [], known).not).toContain('Select an assembly');
    expect(linkOffersOf(scene, [4, 5], known).not).toContain('Nothing selected is a solid');
  });
});
