/** Sources as they were received: with what was said of them (unit, axis, choices, tessellation), and before anything was done to them. */
import type { Box, Scene } from '../scene/types.ts';
import { worldBox } from '../scene/tree.ts';
import { select } from '../select/select.ts';
import { WHEREVER } from '../steps/kind.ts';
import { isNewer, stepKind } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';

/** The steps that say what a source is. */
export function sayingSteps(steps: readonly Step[]): Step[] {
  return steps.filter((step) => !isNewer(step) && stepKind(step.kind).place < WHEREVER);
}

/** The box of each source that shows something, by its id; metres. */
export function boxesBySource(scene: Scene): Record<string, Box> {
  return Object.fromEntries(
    scene.sources.flatMap(({ id }) => {
      const box = worldBox(scene, select(scene, { by: 'source', sources: [id] }));
      return box ? [[id, box]] : [];
    }),
  );
}
