/** The point that rows are turned, scaled and mirrored about: fields, and where it lies. */
import type { ChoiceField, SpotField } from '../fields/field.ts';
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { invert, multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { putMatrix, STRIDE } from '../scene/places.ts';
import { Rows } from '../scene/rowSet.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { withDescendants, worldBox } from '../scene/tree.ts';
import type { Box } from '../scene/types.ts';

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
      const middle = middleOf(box, about);
      return () => middle;
    }
  }
}

function middleOf({ min, max }: Box, about: 'box' | 'base'): Vector {
  return [(min[0] + max[0]) / 2, about === 'base' ? min[1] : (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
}

/**
 * The one point about which rows stay when more is done to them, where they stand as they are after it was begun; or why there is
 * none. Of a box that was turned, the box of what is seen is another: so the turn is taken back first.
 * @param done what was done so far, as if about the origin: {@link IDENTITY} where nothing was
 */
export function oneFixedPoint(
  edit: SceneEditor,
  rows: readonly number[],
  parameters: AboutParameters,
  done: Matrix,
): Vector | string {
  if (rows.length === 0) return 'Nothing that could be taken: choose rows that are not locked.';
  if (parameters.about === undefined && rows.length > 1)
    return 'Each of several rows has a pivot of its own: choose one point for all of them.';
  if (parameters.about !== 'box' && parameters.about !== 'base') {
    const fixed = fixedPoint(edit, rows, parameters);
    return typeof fixed === 'string' ? fixed : fixed(rows[0]);
  }
  const { scene } = edit;
  const undo = invert(done);
  const facts = factsOf(scene);
  const below = withDescendants(scene, Rows.of(scene.nodes.rows, rows));
  const worlds = facts.worlds.slice();
  for (const row of below) putMatrix(multiply(undo, facts.world(row)), worlds, row * STRIDE);
  const box = worldBox(scene, below, undefined, worlds);
  if (!box) return 'There is no geometry yet that has a middle.';
  return transformPoint(done, middleOf(box, parameters.about));
}
