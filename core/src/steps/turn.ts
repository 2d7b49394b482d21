/** Step: turn whole sources from z up to y up, or back, by a quarter turn about x. Those that stand right already stay. */
import { object, string } from 'yup';
import type { Matrix } from '../scene/matrix.ts';
import { putElsewhere } from '../scene/motion.ts';
import { changeNodes } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface TurnParameters {
  direction: 'z-to-y' | 'y-to-z';
}

/** x stays, z becomes y, y becomes -z. Exact whole numbers: turning back and forth changes nothing. */
const Z_TO_Y: Matrix = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1];
const Y_TO_Z: Matrix = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1];

export const turnStep: StepKind<TurnParameters> = {
  kind: 'turn',
  title: 'Turn',
  version: 2,
  needs: 'manifest',
  schema: object({
    direction: string()
      .oneOf(['z-to-y', 'y-to-z'] as const)
      .required(),
  }),
  defaults: { direction: 'z-to-y' },

  summary: ({ direction }) => (direction === 'z-to-y' ? 'z up → y up' : 'y up → z up'),

  apply(scene, nodes, { direction }) {
    const matrix = direction === 'z-to-y' ? Z_TO_Y : Y_TO_Z;
    const up = direction === 'z-to-y' ? 'y' : 'z';
    const upright = new Set(scene.sources.filter((source) => source.up === up).map((source) => source.id));
    const turned = new Set<string>();
    const { scene: next, changed } = changeNodes(scene, nodes, (node) => {
      if (node.parent !== null || upright.has(node.source)) return node;
      turned.add(node.source);
      return { ...node, ...putElsewhere(node, { before: matrix }) };
    });
    // Everything stood right already: the very same scene, so that nobody works on it anew.
    if (turned.size === 0) return { scene, changed, pending: 0, problems: [] };
    const sources = next.sources.map((source) => (turned.has(source.id) ? { ...source, up: up as 'y' | 'z' } : source));
    return { scene: { ...next, sources }, changed, pending: 0, problems: [] };
  },
};
