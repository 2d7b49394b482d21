/** The box of a row's geometry and of everything below it, in the row's own frame. */
import type { SceneEditor } from './editor.ts';
import { factsOf } from './facts.ts';
import { IDENTITY, multiply, transformPoint } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { corners, emptyBox, include } from './tree.ts';
import type { Box } from './types.ts';

/** As things stand in an edit. From the corners of the boxes of meshes: never too small, larger where parts are turned against the row. */
export function localBox(edit: SceneEditor, root: number): Box | undefined {
  const { scene } = edit;
  const facts = factsOf(scene);
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
