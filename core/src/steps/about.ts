/** The point that rows are turned, scaled and mirrored about: fields, and where it lies. */
import type { ChoiceField, SpotField } from '../fields/field.ts';
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import type { Vector } from '../scene/matrix.ts';
import { Rows } from '../scene/rowSet.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { withDescendants, worldBox } from '../scene/tree.ts';

export interface AboutParameters {
  /** Each about its own pivot where nothing is said. */
  about?: 'box' | 'base' | 'spot' | 'origin';
  spot?: Spot;
}

export const ABOUT_FIELDS: { about: ChoiceField<AboutParameters>; spot: SpotField<AboutParameters> } = {
  about: {
    type: 'choice',
    label: 'About',
    called: 'fixed point',
    choices: [
      { value: undefined, label: 'each pivot' },
      { value: 'box', label: 'the middle of all' },
      { value: 'base', label: 'the middle of their base' },
      { value: 'spot', label: 'a picked point' },
      { value: 'origin', label: 'the origin' },
    ],
  },
  spot: {
    type: 'spot',
    label: 'Point',
    optional: true,
    withAxis: true,
    when: ({ about }) => about === 'spot',
  },
};

/** What is wrong with it; nothing where nothing is. */
export function aboutNothing({ about, spot }: AboutParameters): string | undefined {
  return about === 'spot' && !spot ? 'The point is missing: pick it in the view, or type its coordinates.' : undefined;
}

/** The fixed point of each row, world, metres; or why there is none. */
export function fixedPoint(
  { scene }: SceneEditor,
  rows: readonly number[],
  { about, spot }: AboutParameters,
): ((row: number) => Vector) | string {
  switch (about) {
    case undefined:
      return (row) => {
        const world = factsOf(scene).world(row);
        return [world[12], world[13], world[14]];
      };
    case 'origin':
      return () => [0, 0, 0];
    case 'spot': {
      const found = spot && spotInWorld(scene, spot);
      return found ? () => found.point : lostSpot(spot);
    }
    default: {
      const box = worldBox(scene, withDescendants(scene, Rows.of(scene.nodes.rows, rows)));
      if (!box) return 'There is no geometry yet that has a middle.';
      const middle = [0, 1, 2].map((axis) => (box.min[axis] + box.max[axis]) / 2) as [number, number, number];
      if (about === 'base') middle[1] = box.min[1];
      return () => middle;
    }
  }
}
