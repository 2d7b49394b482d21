/** Step: set the pivot of parts or assemblies, and how it is turned. Geometry stays where it is; what hangs below stays, or follows. */
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import {
  determinant,
  IDENTITY,
  invert,
  isIdentity,
  isSingular,
  multiply,
  transformPoint,
  translation,
} from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { localBox } from '../scene/localBox.ts';
import { putElsewhere } from '../scene/motion.ts';
import { ASSEMBLY, PART } from '../scene/nodes.ts';
import { rotationBetween, rotationOf, transposed } from '../scene/rotation.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { directionIn, geometryPlace, lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { withDescendants } from '../scene/tree.ts';
import type { Box } from '../scene/types.ts';
import { stretchOf } from '../measure/stretch.ts';
import { counted } from '../units.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';
import type { Lookup } from './kind.ts';
import { massOf, massWork } from './mass.ts';
import { sharedAmong } from './sharing.ts';

export interface PivotParameters {
  place: 'base-centre' | 'box-centre' | 'box' | 'centroid' | 'spot' | 'row' | 'keep';
  /** With `box`: which end along each axis of the row's own frame; its middle where nothing is said. */
  x?: 'low' | 'high';
  y?: 'low' | 'high';
  z?: 'low' | 'high';
  /** With `spot`: a point, and the direction of its axis. */
  spot?: Spot;
  /** One point for all, or (`each`) the same place of the geometry of each. */
  same?: 'each';
  /** With `row`: whose pivot. */
  row?: string;
  /** How it is turned; as it is where nothing is said. */
  turn?: 'world' | 'axis' | 'row';
  /** With `axis`: which of its axes goes along the picked one. */
  along?: 'x' | 'y';
  /** What hangs below keeps its place, or (`follow`) goes with the pivot. */
  children?: 'follow';
  /** Each part on its own, the assemblies as wholes, or the rows that the rule names themselves. */
  of: 'parts' | 'assemblies' | 'picked';
}

const ENDS = [
  { value: undefined, label: 'middle' },
  { value: 'low', label: 'low end' },
  { value: 'high', label: 'high end' },
] as const;
const ofBox = ({ place }: PivotParameters) => place === 'box';

export const pivotStep = defineStep<PivotParameters>({
  kind: 'pivot',
  title: 'Pivot',
  purpose: 'Sets the point that parts or assemblies are placed and turned by; geometry stays where it is.',
  also: [
    'origin',
    'centre',
    'turning point',
    'anchor',
    'axis',
    'shaft',
    'hole',
    'centroid',
    'centre of gravity',
    'center of mass',
    'center',
  ],
  act: 'Set pivot',
  station: 'arrange',
  topic: 'Pivots',
  place: WHEREVER,
  version: 2,
  needs: 'manifest',
  fields: {
    place: {
      type: 'choice',
      label: 'Place at',
      called: 'place',
      choices: [
        { value: 'base-centre', label: 'centre of the base' },
        { value: 'box-centre', label: 'centre of the box' },
        { value: 'box', label: 'corner or face of the box' },
        { value: 'centroid', label: 'centroid of the volume' },
        { value: 'spot', label: 'point, circle or axis' },
        { value: 'row', label: 'pivot of another row' },
        { value: 'keep', label: 'where it is' },
      ],
    },
    x: { type: 'choice', label: 'Along x', choices: ENDS, when: ofBox },
    y: { type: 'choice', label: 'Along y', choices: ENDS, when: ofBox },
    z: { type: 'choice', label: 'Along z', choices: ENDS, when: ofBox },
    spot: {
      type: 'spot',
      label: 'Point',
      optional: true,
      withAxis: true,
      help: 'A corner, an edge, the centre of a circle, the axis of a hole or shaft; or typed coordinates of the job.',
      when: ({ place, turn }) => place === 'spot' || turn === 'axis',
    },
    same: {
      type: 'choice',
      label: 'For each',
      called: 'meaning of the point',
      choices: [
        { value: undefined, label: 'this one point' },
        { value: 'each', label: 'the same place of its shape' },
      ],
      when: ({ place, spot }) => place === 'spot' && spot?.on !== undefined,
    },
    row: {
      type: 'row',
      label: 'Row',
      optional: 'none yet',
      when: ({ place, turn }) => place === 'row' || turn === 'row',
    },
    turn: {
      type: 'choice',
      label: 'Turned',
      called: 'turn of the pivot',
      choices: [
        { value: undefined, label: 'as it is' },
        { value: 'world', label: 'as the world' },
        { value: 'axis', label: 'along the picked axis' },
        { value: 'row', label: 'as another row' },
      ],
    },
    along: {
      type: 'choice',
      label: 'With its',
      called: 'axis of the pivot',
      choices: [
        { value: undefined, label: 'z axis' },
        { value: 'x', label: 'x axis' },
        { value: 'y', label: 'y axis' },
      ],
      when: ({ turn }) => turn === 'axis',
    },
    children: {
      type: 'choice',
      label: 'What is below',
      choices: [
        { value: undefined, label: 'stays in its place' },
        { value: 'follow', label: 'follows' },
      ],
      when: ({ of }) => of !== 'parts',
    },
    of: {
      type: 'choice',
      label: 'Of',
      called: 'kind of row',
      choices: [
        { value: 'parts', label: 'each part' },
        { value: 'assemblies', label: 'assemblies' },
        { value: 'picked', label: 'the rows themselves' },
      ],
    },
  },
  defaults: { place: 'base-centre', of: 'parts' },
  example: {
    selector: { by: 'name', pattern: 'Crank' },
    parameters: { place: 'spot', spot: { at: [0, 0.4, 0], axis: [0, 0, 1] }, turn: 'axis', of: 'parts' },
  },
  check({ place, spot, row, turn }) {
    if (place === 'spot' && !spot) return 'The point is missing: pick it in the view, or type its coordinates.';
    if ((place === 'row' || turn === 'row') && row === undefined) return 'The other row has to be chosen.';
    if (turn === 'axis' && !spot?.axis) return 'What was picked has no axis: pick a circle, a hole or a shaft.';
    return undefined;
  },

  summary: ({ place, of, spot, turn }) => {
    const where = {
      'base-centre': 'base centre',
      'box-centre': 'box centre',
      box: 'end of the box',
      centroid: 'centroid',
      spot: spot?.what ?? 'point',
      row: 'pivot of another',
      keep: 'turned',
    }[place];
    return `${where} of ${of === 'picked' ? 'rows' : of}${turn && place !== 'keep' ? ', turned' : ''}`;
  },

  counts: ({ of }) => (of === 'picked' ? 'rows' : of),
  themselves: ({ of }) => of === 'picked',
  beforehand(scene, rows, { place, same }) {
    // One point for all is another place of each; a file writes a shape once for each place that its pivot has in it.
    if ((place !== 'spot' || same === 'each') && place !== 'row') return [];
    const { kind } = scene.nodes.columns;
    const shared = sharedAmong(scene, [...rows].filter((row) => kind[row] === PART)); // prettier-ignore
    return shared < 2
      ? []
      : [`${counted(shared, 'part')} share their shape with others: with one point for all, a file writes each by itself.`]; // prettier-ignore
  },
  needsWork: ({ place }) => place === 'centroid',
  work: (scene, rows, { place }) => (place === 'centroid' ? massWork(scene, withDescendants(scene, rows)) : []),

  apply(edit, rows, parameters, lookup) {
    const { of, children } = parameters;
    const { scene } = edit;
    const { kind } = scene.nodes.columns;
    const facts = factsOf(scene);
    const pivots = new Pivots(edit, parameters, lookup);
    if (pivots.lost) return { pending: 0, problems: [pivots.lost] };
    eachRow(scene, rows, (row) => {
      if ((of === 'parts' && kind[row] !== PART) || (of === 'assemblies' && kind[row] !== ASSEMBLY)) return;
      const frame = pivots.of(row);
      if (!frame || isIdentity(frame)) return;
      const back = invert(frame);
      putElsewhere(edit, row, { after: frame });
      if (scene.nodes.columns.mesh[row] > 0 || kind[row] === PART)
        edit.setOffset(row, multiply(back, edit.placed(row).offset ?? IDENTITY));
      if (children !== 'follow') for (const child of facts.childrenOf(row)) putElsewhere(edit, child, { before: back });
    });
    return { pending: pivots.pending, problems: pivots.problems };
  },
});

/** Finds the new pivot of rows, as a place in their own frame. */
class Pivots {
  pending = 0;
  /** Why nothing can be done at all. */
  readonly lost: string | undefined;
  readonly #point: { point: Vector; axis?: Vector } | undefined;
  readonly #other: number | undefined;
  readonly #upOf: Map<string, 'y' | 'z'>;
  #byArea = 0;
  #uneven = 0;
  #flat = 0;
  #empty: string[] = [];

  constructor(
    readonly edit: SceneEditor,
    readonly parameters: PivotParameters,
    readonly lookup: Lookup,
  ) {
    const { scene } = edit;
    const { spot, row, place, turn } = parameters;
    this.#upOf = new Map(scene.sources.map((source) => [source.id, source.up]));
    if (place === 'spot' || turn === 'axis') {
      this.#point = spot && spotInWorld(scene, spot);
      if (!this.#point) this.lost = lostSpot(spot);
    }
    if (place === 'row' || turn === 'row') {
      this.#other = factsOf(scene).rowOf(row ?? '');
      if (this.#other === undefined) this.lost = `The other row is no longer there: ${row}.`;
    }
  }

  get problems(): string[] {
    const rows = (count: number) => counted(count, 'row');
    return [
      ...(this.#byArea > 0 ? [`${counted(this.#byArea, 'part is', 'parts are')} not closed: the centre of the area is taken there.`] : []),
      ...(this.#uneven > 0 ? [`${rows(this.#uneven)} stretched unevenly: the pivot is not turned there.`] : []),
      ...(this.#flat > 0 ? [`${rows(this.#flat)} with a scale of zero: left as they are.`] : []),
      ...(this.#empty.length > 0 ? [`${rows(this.#empty.length)} without geometry: left as they are (${this.#empty.slice(0, 2).join(', ')}${this.#empty.length > 2 ? ' …' : ''}).`] : []),
    ]; // prettier-ignore
  }

  of(row: number): Matrix | undefined {
    const world = factsOf(this.edit.scene).world(row);
    if (isSingular(world)) {
      this.#flat++;
      return undefined;
    }
    const point = this.#pointOf(row, world);
    return point && multiply(translation(point), this.#turnOf(row, world));
  }

  #pointOf(row: number, world: Matrix): Vector | undefined {
    const { scene } = this.edit;
    const { place, spot, same } = this.parameters;
    switch (place) {
      case 'keep':
        return [0, 0, 0];
      case 'row':
        return transformPoint(invert(world), originOf(factsOf(scene).world(this.#other as number)));
      case 'spot': {
        if (same !== 'each' || spot?.on === undefined) return transformPoint(invert(world), this.#point!.point);
        // The same place of its own shape; what has none has no such place.
        if (scene.nodes.columns.mesh[row] === 0) return this.#without(row);
        const own = transformPoint(geometryPlace(scene, row), spot.at);
        return transformPoint(invert(world), own);
      }
      case 'centroid':
        return this.#centroid(row, world);
      default: {
        const box = localBox(this.edit, row);
        return box ? this.#pointOfBox(row, world, box) : this.#without(row);
      }
    }
  }

  #pointOfBox(row: number, world: Matrix, { min, max }: Box): Vector {
    const point = min.map((low, axis) => (low + max[axis]) / 2) as [number, number, number];
    const { place } = this.parameters;
    if (place === 'base-centre') {
      const up = localUp(world, this.#upOf.get(this.edit.scene.nodes.word('source', row)) ?? 'y');
      const axis = Math.abs(up) - 1;
      point[axis] = up > 0 ? min[axis] : max[axis];
    }
    if (place === 'box')
      (['x', 'y', 'z'] as const).forEach((name, axis) => {
        const end = this.parameters[name];
        if (end) point[axis] = end === 'low' ? min[axis] : max[axis];
      });
    return point;
  }

  /** What has no geometry yet waits for it; what has none stays. */
  #without(row: number): undefined {
    const { kind, solid, problem } = this.edit.scene.nodes.columns;
    if (kind[row] === PART && solid[row] > 0 && problem[row] === 0) this.pending++;
    else this.#empty.push(this.edit.scene.nodes.text('name', row));
    return undefined;
  }

  /** Centre of all volumes at and below a row; where one of them is open, of all areas. */
  #centroid(row: number, world: Matrix): Vector | undefined {
    const { scene } = this.edit;
    const found: { size: number; centre: Vector; area: boolean }[] = [];
    let waits = false;
    for (const below of withDescendants(scene, new Set([row])) as RowSet) {
      const own = massOf(scene, below, this.lookup);
      if (own === undefined) continue;
      if (own === 'waits') {
        waits = true;
        continue;
      }
      const place = geometryPlace(scene, below);
      const { stretch } = stretchOf(place);
      const factor = own.of === 'volume' ? Math.abs(determinant(place)) : stretch * stretch;
      found.push({ size: own.size * factor, centre: transformPoint(place, own.centre), area: own.of === 'area' });
    }
    if (waits) {
      this.pending++;
      return undefined;
    }
    const open = found.filter(({ area }) => area).length;
    // Areas and volumes cannot be weighed against each other: open parts of an assembly count by themselves, or not at all.
    const counted = open === found.length ? found : found.filter(({ area }) => !area);
    this.#byArea += open;
    const total = counted.reduce((sum, { size }) => sum + size, 0);
    if (!(total > 0)) return this.#without(row);
    const centre = [0, 1, 2].map((axis) => counted.reduce((sum, { size, centre: at }) => sum + size * at[axis], 0) / total); // prettier-ignore
    return transformPoint(invert(world), centre as unknown as Vector);
  }

  #turnOf(row: number, world: Matrix): Matrix {
    const { turn, along, spot, same } = this.parameters;
    if (!turn) return IDENTITY;
    const { scene } = this.edit;
    if (!stretchOf(world).isEven || !stretchOf(scene.nodes.place(row)).isEven) {
      this.#uneven++;
      return IDENTITY;
    }
    const back = transposed(rotationOf(world));
    if (turn === 'world') return back;
    if (turn === 'row') return multiply(back, rotationOf(factsOf(scene).world(this.#other as number)));
    const isEach = same === 'each' && spot?.on !== undefined && scene.nodes.columns.mesh[row] > 0;
    const axis = isEach ? directionIn(geometryPlace(scene, row), spot.axis as Vector) : (this.#point?.axis as Vector);
    const own = directionIn(back, axis);
    const from: Vector = along === 'x' ? [1, 0, 0] : along === 'y' ? [0, 1, 0] : [0, 0, 1];
    // An axis has no head: the smaller turn is meant.
    const sign = own[0] * from[0] + own[1] * from[1] + own[2] * from[2] < 0 ? -1 : 1;
    return rotationBetween(from, [own[0] * sign, own[1] * sign, own[2] * sign]);
  }
}

const originOf = (world: Matrix): Vector => [world[12], world[13], world[14]];

/** The axis of the node's frame that comes closest to up, with its sign: +1 to +3 for x to z, negative against it. */
function localUp(world: Matrix, up: 'y' | 'z'): number {
  const inverse = invert(world);
  const column = up === 'y' ? 4 : 8;
  const direction = [inverse[column], inverse[column + 1], inverse[column + 2]];
  let best = 0;
  for (let axis = 1; axis < 3; axis++) if (Math.abs(direction[axis]) > Math.abs(direction[best]) + 1e-9) best = axis;
  return (best + 1) * (direction[best] < 0 ? -1 : 1);
}
