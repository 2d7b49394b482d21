/**
 * Step: say which axis of a source really points up, where the file says something else or nothing: a model that lies on its back,
 * on its side or on its head. Turning all sources the same way comes after it (`turn`).
 */
import { IDENTITY } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { factsOf } from '../scene/facts.ts';
import { putElsewhere } from '../scene/motion.ts';
import { defineStep } from './kind.ts';

export const UP_AXES = ['z', 'y', 'x', '-z', '-y', '-x'] as const;
export type UpAxis = (typeof UP_AXES)[number];

export interface UpParameters {
  /** Axis of the source as received that points up; with a minus, its other end. */
  axis: UpAxis;
}

/** How a source is turned by quarters so that its up axis is z or y, which then is the axis that it is said to have. */
const TURNS: Record<UpAxis, { up: 'y' | 'z'; matrix: Matrix }> = {
  z: { up: 'z', matrix: IDENTITY },
  y: { up: 'y', matrix: IDENTITY },
  // About y: x becomes z, z becomes -x; and the other way round.
  x: { up: 'z', matrix: [0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 0, 1] },
  '-x': { up: 'z', matrix: [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1] },
  // Half about x.
  '-z': { up: 'z', matrix: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1] },
  '-y': { up: 'y', matrix: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1] },
};

export const upStep = defineStep<UpParameters>({
  kind: 'up',
  title: 'Up axis',
  purpose: 'Says which axis of a source really points up, where its file says something else or nothing.',
  also: ['lies on its back', 'orientation', 'rotate source'],
  station: 'receive',
  begunThere: true,
  place: 40,
  version: 1,
  needs: 'manifest',
  fields: {
    axis: {
      type: 'choice',
      label: 'Points up',
      called: 'up axis',
      help: 'Axis of the source as received; with a minus, its other end.',
      choices: UP_AXES.map((axis) => ({
        value: axis,
        label: axis.startsWith('-') ? `${axis.slice(1)} points down` : `${axis} points up`,
      })),
    },
  },
  defaults: { axis: 'z' },

  counts: () => 'sources',
  summary: ({ axis }) => `${axis} is up`,

  apply(edit, rows, { axis }) {
    const { nodes, sources } = edit.scene;
    const { up, matrix } = TURNS[axis];
    const concerned = new Set<string>();
    for (const row of factsOf(edit.scene).childrenOf(null)) {
      if (!rows.has(row)) continue;
      concerned.add(nodes.word('source', row));
      if (matrix !== IDENTITY) putElsewhere(edit, row, { before: matrix });
    }
    edit.setSources(
      sources.map((source) => (concerned.has(source.id) && source.up !== up ? { ...source, up } : source)),
    );
    return { pending: 0, problems: [] };
  },
});
