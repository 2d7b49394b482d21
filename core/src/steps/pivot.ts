/** Step: set the pivot of parts or assemblies to the centre of their box, or of its base. Geometry stays where it is. */
import { IDENTITY, invert, multiply, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { putElsewhere } from '../scene/motion.ts';
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import type { SceneFacts } from '../scene/facts.ts';
import { PART } from '../scene/nodes.ts';
import { corners, emptyBox, include } from '../scene/tree.ts';
import type { Box } from '../scene/types.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface PivotParameters {
  place: 'box-centre' | 'base-centre';
  /** Each part on its own, or the assemblies picked as wholes. */
  of: 'parts' | 'assemblies';
}

export const pivotStep = defineStep<PivotParameters>({
  kind: 'pivot',
  title: 'Pivot',
  purpose: 'Sets the point that parts or assemblies are placed and turned by; geometry stays where it is.',
  also: ['origin', 'centre', 'turning point', 'anchor'],
  act: 'Set pivot',
  station: 'arrange',
  topic: 'Pivots',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    place: {
      type: 'choice',
      label: 'Place at',
      called: 'place',
      choices: [
        { value: 'base-centre', label: 'centre of the base' },
        { value: 'box-centre', label: 'centre of the box' },
      ],
    },
    of: {
      type: 'choice',
      label: 'Of',
      called: 'kind of row',
      choices: [
        { value: 'parts', label: 'each part' },
        { value: 'assemblies', label: 'assemblies' },
      ],
    },
  },
  defaults: { place: 'base-centre', of: 'parts' },

  summary: ({ place, of }) => `${place === 'box-centre' ? 'box centre' : 'base centre'} of ${of}`,

  counts: ({ of }) => of,

  apply(edit, rows, { place, of }) {
    const { scene } = edit;
    const { kind, solid, problem } = scene.nodes.columns;
    const facts = factsOf(scene);
    const upOf = new Map(scene.sources.map((source) => [source.id, source.up]));
    let pending = 0;
    eachRow(scene, rows, (row) => {
      if ((of === 'parts') !== (kind[row] === PART)) return;
      const box = localBox(edit, facts, row);
      if (!box) {
        if (kind[row] === PART && solid[row] > 0 && problem[row] === 0) pending++;
        return;
      }
      const up = localUp(facts.world(row), upOf.get(scene.nodes.word('source', row)) ?? 'y');
      const point = pivotPoint(box, place, up);
      if (Math.hypot(...point) < 1e-12) return;
      const back = translation([-point[0], -point[1], -point[2]]);
      putElsewhere(edit, row, { after: translation(point) });
      if (kind[row] === PART) {
        edit.setOffset(row, multiply(back, edit.placed(row).offset ?? IDENTITY));
      }
      for (const child of facts.childrenOf(row)) putElsewhere(edit, child, { before: back });
    });
    return { pending, problems: [] };
  },
});

/** Box of a row's geometry and of everything below it, in its own frame. */
function localBox(edit: SceneEditor, facts: SceneFacts, root: number): Box | undefined {
  const { scene } = edit;
  const { mesh } = scene.nodes.columns;
  const box = emptyBox();
  // A list of its own rather than calls in calls: a source may be a hundred thousand levels deep.
  const open: { row: number; frame: Matrix }[] = [{ row: root, frame: IDENTITY }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { row, frame } = next;
    const figures = mesh[row] > 0 ? scene.meshes[scene.nodes.word('mesh', row)] : undefined;
    if (figures) {
      const { offset } = edit.placed(row);
      const place = offset ? multiply(frame, offset) : frame;
      for (const corner of corners(figures.bounds)) include(box, transformPoint(place, corner));
    }
    for (const child of facts.childrenOf(row))
      open.push({ row: child, frame: multiply(frame, edit.placed(child).transform) });
  }
  return Number.isFinite(box.min[0]) ? box : undefined;
}

/** The axis of the node's frame that comes closest to up, with its sign: +1 to +3 for x to z, negative against it. */
function localUp(world: Matrix, up: 'y' | 'z'): number {
  const inverse = invert(world);
  const column = up === 'y' ? 4 : 8;
  const direction = [inverse[column], inverse[column + 1], inverse[column + 2]];
  let best = 0;
  for (let axis = 1; axis < 3; axis++) if (Math.abs(direction[axis]) > Math.abs(direction[best]) + 1e-9) best = axis;
  return (best + 1) * (direction[best] < 0 ? -1 : 1);
}

function pivotPoint({ min, max }: Box, place: PivotParameters['place'], up: number): Vector {
  const point = min.map((low, axis) => (low + max[axis]) / 2) as [number, number, number];
  if (place === 'base-centre') {
    const axis = Math.abs(up) - 1;
    point[axis] = up > 0 ? min[axis] : max[axis];
  }
  return point;
}
