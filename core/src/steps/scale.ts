/** Step: make rows larger or smaller, by one factor or by one for each axis of their pivots. */
import { factsOf } from '../scene/facts.ts';
import { invert, isSingular, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { PART } from '../scene/nodes.ts';
import { rotationOf, transposed } from '../scene/rotation.ts';
import { Rows } from '../scene/rowSet.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { about, Standing } from '../scene/standing.ts';
import { withDescendants } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { counted, formatNumber } from '../units.ts';
import { ABOUT_FIELDS, aboutNothing, fixedPoint } from './about.ts';
import type { AboutParameters } from './about.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { sharedAmong } from './sharing.ts';

export interface ScaleParameters extends AboutParameters {
  x: number;
  /** As x where nothing is said. */
  y?: number;
  z?: number;
}

const factor = (label: string) =>
  ({ type: 'quantity', of: 'factor', unit: '×', label, called: `scale along ${label}`, min: 1e-6, max: 1e6 }) as const;

const isUneven = ({ x, y = x, z = x }: ScaleParameters) => x !== y || x !== z;

/** What is done to a row as if about the origin: evenly it is the same in all directions, unevenly along the axes of its pivot. */
export function scalingOf(scene: Scene, row: number, parameters: ScaleParameters): Matrix {
  const { x, y = x, z = x } = parameters;
  const scaling: Matrix = [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1];
  if (!isUneven(parameters)) return scaling;
  const turn = rotationOf(factsOf(scene).world(row));
  return multiply(turn, multiply(scaling, transposed(turn)));
}

export const scaleStep = defineStep<ScaleParameters>({
  kind: 'scale',
  title: 'Scale',
  purpose: 'Makes rows larger or smaller about a point, by one factor or one for each axis of their pivots.',
  also: ['resize', 'stretch', 'larger', 'smaller', 'factor'],
  act: 'Scale',
  station: 'arrange',
  topic: 'Place',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    x: factor('x'),
    y: { ...factor('y'), optional: { otherwise: 'as x' }, help: 'As along x where nothing is said.' },
    z: { ...factor('z'), optional: { otherwise: 'as x' }, help: 'As along x where nothing is said.' },
    ...ABOUT_FIELDS,
  },
  defaults: { x: 1 },
  example: { selector: { by: 'name', pattern: 'Bench*' }, parameters: { x: 1.1, about: 'base' } },
  check: aboutNothing,

  summary: ({ x, y = x, z = x }) =>
    x === y && x === z ? `× ${formatNumber(x, 4)}` : `× ${[x, y, z].map((value) => formatNumber(value, 4)).join(', ')}`,
  counts: () => 'rows',
  themselves: () => true,

  beforehand(scene, rows, parameters) {
    if (!isUneven(parameters)) return [];
    const parts = [...withDescendants(scene, rows)].filter((row) => scene.nodes.columns.kind[row] === PART);
    const shared = sharedAmong(scene, parts);
    const skewed = skewedBelow(scene, rows).length;
    return [
      ...(shared > 0 ? [`${counted(shared, 'part shares its', 'parts share their')} geometry with others: stretched, ${shared === 1 ? 'it still does' : 'they still do'}, but only where the file can hold uneven scales.`] : []),
      ...(skewed > 0 ? [`${counted(skewed, 'row is', 'rows are')} turned against what is stretched: skewed, which no place of a file can hold.`] : []),
    ]; // prettier-ignore
  },

  apply(edit, rows, parameters) {
    const standing = new Standing(edit, rows);
    const fixed = fixedPoint(edit, standing.rows, parameters);
    if (typeof fixed === 'string') return { pending: 0, problems: [fixed] };
    for (const row of standing.rows) standing.put(row, about(fixed(row), scalingOf(edit.scene, row, parameters)));
    const skewed = isUneven(parameters) ? skewedBelow(edit.scene, Rows.of(edit.scene.nodes.rows, standing.rows)) : [];
    return {
      pending: 0,
      problems: [
        ...standing.problems,
        ...(skewed.length > 0
          ? [
              `${counted(skewed.length, 'row is', 'rows are')} skewed: ${edit.scene.nodes.text('name', skewed[0])}${skewed.length > 1 ? ' …' : ''}.`,
            ]
          : []),
      ],
    };
  },
});

/** Rows below some that are turned against them by anything else than quarter turns. */
function skewedBelow(scene: Scene, rows: RowSet): number[] {
  const facts = factsOf(scene);
  const { parent } = scene.nodes.columns;
  const out: number[] = [];
  const top = new Int32Array(scene.nodes.rows).fill(-1);
  for (const row of facts.order) {
    const above = parent[row];
    top[row] = above >= 0 && top[above] >= 0 ? top[above] : rows.has(row) ? row : -1;
    if (top[row] < 0 || top[row] === row) continue;
    const frame = facts.world(top[row]);
    if (isSingular(frame)) continue;
    const turn = rotationOf(multiply(invert(rotationOf(frame)), facts.world(row)));
    const isSquare = [0, 1, 2, 4, 5, 6, 8, 9, 10].every(
      (i) => Math.abs(turn[i]) < 1e-9 || Math.abs(Math.abs(turn[i]) - 1) < 1e-9,
    );
    if (!isSquare) out.push(row);
  }
  return out;
}
