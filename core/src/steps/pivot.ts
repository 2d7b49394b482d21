/** Step: set the pivot of parts or assemblies to the centre of their box, or of its base. Geometry stays where it is. */
import { object, string } from 'yup';
import { IDENTITY, invert, multiply, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { putElsewhere } from '../scene/motion.ts';
import { childrenOf, corners, emptyBox, include, worldTransforms } from '../scene/tree.ts';
import type { Box, Scene, SceneNode } from '../scene/types.ts';
import type { StepKind } from './kind.ts';

export interface PivotParameters {
  place: 'box-centre' | 'base-centre';
  /** Each part on its own, or the assemblies picked as wholes. */
  of: 'parts' | 'assemblies';
}

export const pivotStep: StepKind<PivotParameters> = {
  kind: 'pivot',
  title: 'Pivot',
  version: 1,
  needs: 'manifest',
  schema: object({
    place: string()
      .oneOf(['box-centre', 'base-centre'] as const)
      .required(),
    of: string()
      .oneOf(['parts', 'assemblies'] as const)
      .required(),
  }),
  defaults: { place: 'base-centre', of: 'parts' },

  summary: ({ place, of }) => `${place === 'box-centre' ? 'box centre' : 'base centre'} of ${of}`,

  apply(scene, nodes, { place, of }) {
    const worlds = worldTransforms(scene);
    const children = childrenOf(scene);
    const upOf = new Map(scene.sources.map((source) => [source.id, source.up]));
    const changes = new Map<number, Partial<SceneNode>>();
    let pending = 0;
    let changed = 0;
    const edit = (node: SceneNode): SceneNode => ({ ...node, ...changes.get(node.id) });
    for (const original of scene.nodes) {
      if (!nodes.has(original.id) || (of === 'parts') !== (original.kind === 'part')) continue;
      const node = edit(original);
      const box = localBox(scene, children, node, edit);
      if (!box) {
        if (original.kind === 'part' && original.solid && !original.problem) pending++;
        continue;
      }
      const up = localUp(worlds.get(node.id) ?? IDENTITY, upOf.get(node.source) ?? 'y');
      const point = pivotPoint(box, place, up);
      if (Math.hypot(...point) < 1e-12) continue;
      changed++;
      changes.set(node.id, { ...changes.get(node.id), ...putElsewhere(node, { after: translation(point) }) });
      if (node.kind === 'part') {
        const [x, y, z] = node.offset ?? [0, 0, 0];
        changes.set(node.id, { ...changes.get(node.id), offset: [x - point[0], y - point[1], z - point[2]] });
      }
      const back = translation([-point[0], -point[1], -point[2]]);
      for (const child of children.get(node.id) ?? []) {
        changes.set(child.id, { ...changes.get(child.id), ...putElsewhere(edit(child), { before: back }) });
      }
    }
    return { scene: changed ? { ...scene, nodes: scene.nodes.map(edit) } : scene, changed, pending, problems: [] };
  },
};

/** Box of a node's geometry and of everything below it, in the node's own frame. */
function localBox(
  scene: Scene,
  children: Map<number | null, SceneNode[]>,
  root: SceneNode,
  edit: (node: SceneNode) => SceneNode,
): Box | undefined {
  const box = emptyBox();
  const visit = (node: SceneNode, frame: Matrix) => {
    const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
    if (figures) {
      const [x, y, z] = node.offset ?? [0, 0, 0];
      for (const corner of corners(figures.bounds))
        include(box, transformPoint(frame, [corner[0] + x, corner[1] + y, corner[2] + z]));
    }
    for (const child of children.get(node.id) ?? []) {
      const edited = edit(child);
      visit(edited, multiply(frame, edited.transform));
    }
  };
  visit(root, IDENTITY);
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
