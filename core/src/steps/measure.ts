/** Step: takes a measure and keeps it under a name; it changes nothing, and is taken again after each change. */
import { angleAt, MEASURES, measuredWords, radiusThrough } from '../measure/kept.ts';
import type { Measured, MeasureOf } from '../measure/kept.ts';
import { stretchOf } from '../measure/stretch.ts';
import { lengthOf, minus } from '../measure/circle.ts';
import { determinant } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { geometryPlace, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import type { Scene } from '../scene/types.ts';
import { unitOf } from '../scene/unitOf.ts';
import { counted } from '../units.ts';
import { AT_THE_END, defineStep, eachRow } from './kind.ts';
import type { Lookup, Outcome } from './kind.ts';
import { bodyOf, massWork } from './mass.ts';

export interface MeasureParameters {
  name: string;
  of: MeasureOf;
  a?: Spot;
  b?: Spot;
  c?: Spot;
  /** Kilograms per cubic metre. */
  density?: number;
}

const TITLES: Record<MeasureOf, string> = {
  distance: 'distance of two points',
  angle: 'angle of three points',
  radius: 'radius of a circle through three points',
  area: 'area of parts',
  volume: 'volume of parts',
  mass: 'mass of parts',
};
/** Points that each is taken by; parts are taken by the rule. */
const POINTS: Partial<Record<MeasureOf, number>> = { distance: 2, angle: 3, radius: 3 };
const isOfPoints = ({ of }: Pick<MeasureParameters, 'of'>) => POINTS[of] !== undefined;

/** Kilograms per cubic metre: structural steel, aluminium, concrete, glass, softwood. Common practice. */
const DENSITIES = [7850, 2700, 2400, 2500, 450];
const DENSE = ['steel', 'aluminium', 'concrete', 'glass', 'softwood'];

const point = (label: string, least: number) =>
  ({ type: 'spot', label, optional: true, when: ({ of }: MeasureParameters) => (POINTS[of] ?? 0) >= least }) as const;

export const measureStep = defineStep<MeasureParameters>({
  kind: 'measure',
  title: 'Measure',
  purpose: 'Takes a measure and keeps it under a name; it is taken again after each change.',
  also: [
    'distance',
    'dimension',
    'angle',
    'radius',
    'area',
    'volume',
    'mass',
    'weight',
    'clearance',
    'center of mass',
    'centre of gravity',
    'centroid',
  ],
  act: 'Keep measure',
  station: 'arrange',
  topic: 'Measure',
  place: AT_THE_END,
  version: 1,
  needs: 'geometry',
  whole: isOfPoints,
  beside: true,
  fields: {
    name: { type: 'text', label: 'Name', most: 200 },
    of: { type: 'choice', label: 'Measure', choices: MEASURES.map((value) => ({ value, label: TITLES[value] })) },
    a: point('First point', 2),
    b: { ...point('Second point', 2), help: 'Of an angle: the corner.' },
    c: point('Third point', 3),
    density: {
      type: 'quantity',
      of: 'density',
      unit: 'kg/m³',
      label: 'Density',
      min: 0.01,
      max: 100_000,
      offers: DENSITIES,
      offerNames: DENSE,
      optional: { meaning: DENSITIES[0] },
      when: ({ of }) => of === 'mass',
    },
  },
  defaults: { name: 'Measure 1', of: 'distance' },
  example: {
    selector: { by: 'name', pattern: 'Crank*' },
    parameters: { name: 'Weight of the drive', of: 'mass', density: 7850 },
  },
  check({ of, a, b, c }) {
    const missing = [a, b, c].slice(0, POINTS[of] ?? 0).filter((spot) => !spot).length;
    return missing > 0
      ? `${counted(missing, 'point is', 'points are')} missing: pick them in the view, or type them.`
      : undefined;
  },

  summary: ({ name, of }) => `“${name}”, ${of}`,
  needsWork: (parameters) => !isOfPoints(parameters),
  work: (scene, rows, parameters) => (isOfPoints(parameters) ? [] : massWork(scene, rows)),

  apply({ scene }, rows, parameters, lookup) {
    const found = isOfPoints(parameters) ? byPoints(scene, parameters) : byParts(scene, rows, parameters, lookup);
    if (typeof found === 'string') return { pending: 0, problems: [found] };
    const { measured } = found;
    return measured ? { ...found, notes: [measuredWords(measured, unitOf(scene)), ...(found.notes ?? [])] } : found;
  },
});

function byPoints(scene: Scene, { name, of, a, b, c }: MeasureParameters): Outcome | string {
  const points: Vector[] = [];
  for (const spot of [a, b, c].slice(0, POINTS[of])) {
    const found = spot && spotInWorld(scene, spot);
    if (!found) return `${name}: the part on which a point was picked is no longer there: ${spot?.on}.`;
    points.push(found.point);
  }
  const [p, q, r] = points;
  const base = { name, of, points };
  if (of === 'distance') {
    const along = minus(q, p);
    return measured({ ...base, value: lengthOf(along), along });
  }
  const value = of === 'angle' ? angleAt(p, q, r) : radiusThrough(p, q, r);
  if (value === undefined)
    return of === 'angle' ? `${name}: two of the points are one, so there is no angle.` : `${name}: the points lie on one line, so there is no circle.`; // prettier-ignore
  return measured({ ...base, value });
}

/** The sum over parts. What cannot be told of some is said, and they are not in it. */
function byParts(
  scene: Scene,
  rows: RowSet,
  { name, of, density = DENSITIES[0] }: MeasureParameters,
  lookup: Lookup,
): Outcome {
  let [sum, parts, pending] = [0, 0, 0];
  let isExact = true;
  const open: string[] = [];
  const uneven: string[] = [];
  eachRow(scene, rows, (row) => {
    const body = bodyOf(scene, row, lookup);
    if (body === 'waits') pending++;
    if (!body || body === 'waits') return;
    const place = geometryPlace(scene, row);
    const { stretch, isEven } = stretchOf(place);
    const { area, volume } = body;
    if (of === 'area' && !isEven) uneven.push(scene.nodes.text('name', row));
    else if (of !== 'area' && volume === undefined) open.push(scene.nodes.text('name', row));
    else {
      sum += of === 'area' ? area * stretch ** 2 : (volume ?? 0) * Math.abs(determinant(place));
      parts++;
      if (!body.isExact) isExact = false;
    }
  });
  const problems = [
    ...(open.length > 0 ? [`${name}: ${counted(open.length, 'part is', 'parts are')} not closed and not counted: ${few(open)}.`] : []),
    ...(uneven.length > 0 ? [`${name}: ${counted(uneven.length, 'part is', 'parts are')} scaled unevenly, so that the area is not known, and not counted: ${few(uneven)}.`] : []),
  ]; // prettier-ignore
  if (pending > 0) return { pending, problems };
  if (parts === 0)
    return { pending, problems: problems.length > 0 ? problems : [`${name}: nothing there can be measured.`] };
  const value = of === 'mass' ? sum * density : sum;
  return { ...measured({ name, of, value, points: [], isExact, parts }), problems };
}

function measured(taken: Measured): Outcome {
  return { pending: 0, problems: [], measured: taken };
}

const few = (names: readonly string[]) => `${names.slice(0, 3).join(', ')}${names.length > 3 ? ' …' : ''}`;
