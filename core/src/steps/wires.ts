/** Step: take the lines of a source too that repeat its solids (outlines, curves they were constructed from). */
import { hashData } from '../scene/hash.ts';
import { SceneEditor } from '../scene/editor.ts';
import { GONE, SPARE } from '../scene/nodes.ts';
import { select } from '../select/select.ts';
import type { Scene } from '../scene/types.ts';
import { defineStep } from './kind.ts';
import type { Step } from './step.ts';

export const wiresStep = defineStep<object>({
  kind: 'wires',
  title: 'Wires',
  purpose: 'Takes the lines too that repeat solids; without it they are left out.',
  also: ['lines', 'curves', 'outlines', 'wireframe'],
  station: 'receive',
  begunThere: true,
  place: 10,
  version: 1,
  needs: 'manifest',
  fields: {},
  defaults: {},

  counts: () => 'sources',
  summary: () => 'taken too',

  // What it does is done before the first step: see `startOf`.
  apply: () => ({ pending: 0, problems: [] }),
});

const made = new WeakMap<Scene, Map<string, Scene>>();

/**
 * The sources as the steps begin with them, and the key of that: without the lines that repeat solids, unless a step takes them, wherever
 * it stands. The same scene each time.
 */
export function startOf(base: Scene, baseKey: string, steps: readonly Step[]): { scene: Scene; key: string } {
  const taking = steps.filter((step) => step.on && step.kind === wiresStep.kind).map(({ selector }) => selector);
  const key = taking.length > 0 ? hashData([baseKey, 'wires', taking]) : baseKey;
  const known = made.get(base)?.get(key);
  if (known) return { scene: known, key };
  const { flags, kind } = base.nodes.columns;
  const taken = flags.some((flag) => (flag & SPARE) !== 0) ? taking.map((selector) => select(base, selector)) : [];
  const edit = new SceneEditor(base);
  for (let row = 0; row < flags.length; row++)
    if ((flags[row] & SPARE) !== 0 && kind[row] !== GONE && !taken.some((rows) => rows.has(row))) edit.remove(row);
  const { scene } = edit.finish();
  made.set(base, new Map([...(made.get(base) ?? []), [key, scene]]));
  return { scene, key };
}
