/** Goes through the rows of a scene as a text writes them: each begins, what is below it follows, it ends. */
import { factsOf } from '../scene/facts.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

/** Without calls in calls: a source may be very deep. */
export async function walkRows(
  scene: Scene,
  begin: (node: SceneNode, hasRowsBelow: boolean) => void | Promise<void>,
  end: () => void,
): Promise<void> {
  const facts = factsOf(scene);
  const open = [{ rows: facts.childrenOf(null), next: 0 }];
  for (;;) {
    const level = open[open.length - 1];
    if (level.next < level.rows.length) {
      const row = level.rows[level.next++];
      const rows = facts.childrenOf(row);
      await begin(scene.nodes.row(row), rows.length > 0);
      open.push({ rows, next: 0 });
      continue;
    }
    open.pop();
    if (open.length === 0) return;
    end();
  }
}
