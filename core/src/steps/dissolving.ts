/** Takes assemblies away and hangs what they held under the next one above that stays. */
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { GONE, POINT } from '../scene/nodes.ts';
import type { Rehanging } from '../scene/rehang.ts';
import { counted } from '../units.ts';
import type { Outcome } from './kind.ts';

/**
 * Assemblies that move stay, since what they hold moves by them.
 * @param gone 1 for each row that is to go; cleared for those that stay
 */
export function dissolveRows(edit: SceneEditor, hanging: Rehanging, gone: Uint8Array): Outcome {
  const { scene } = edit;
  const { nodes } = scene;
  const { parent, kind, extras, flags } = nodes.columns;
  // Named points hold nothing, and are not there to hold something.
  for (let row = gone.indexOf(1); row >= 0; row = gone.indexOf(1, row + 1))
    if ((flags[row] & POINT) !== 0) gone[row] = 0;
  const moving: number[] = [];
  for (let row = gone.indexOf(1); row >= 0; row = gone.indexOf(1, row + 1))
    if (nodes.tables.extras[extras[row]].motion) {
      gone[row] = 0;
      moving.push(row);
    }
  // Parents come first: of each row that goes, where what it holds will hang.
  const kept = new Int32Array(nodes.rows);
  for (const row of factsOf(scene).order) {
    const above = parent[row];
    kept[row] = above >= 0 && gone[above] === 1 ? kept[above] : above;
    if (kind[row] === GONE) continue;
    if (gone[row] === 1) edit.remove(row);
    else if (kept[row] !== above) hanging.hang(row, kept[row]);
  }
  const stay = moving.slice(0, 2).map((row) => nodes.text('name', row));
  return {
    pending: 0,
    problems: [
      ...(moving.length === 0
        ? []
        : [`${counted(moving.length, 'assembly stays, since what it holds moves by it', 'assemblies stay, since what they hold moves by them')}: ${stay.join(', ')}${moving.length > 2 ? ' …' : ''}.`]), // prettier-ignore
      ...hanging.problems,
    ],
  };
}
