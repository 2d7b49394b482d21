/** Rule: parts by their largest extent. */
import type { Scene, SceneNode } from '../scene/types.ts';
import { formatLength } from '../units.ts';
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface SizeRule {
  by: 'size';
  /** Largest extent of the part in its own frame, metres. */
  min?: number;
  max?: number;
}

const limit = (label: string) =>
  ({ type: 'quantity', of: 'length', unit: 'mm', label, min: 0, max: 1e6, optional: true }) as const;

export const sizeRule: RuleKind<SizeRule> = {
  by: 'size',
  title: 'size',
  purpose: 'Parts whose largest extent lies within bounds: all that is smaller than 20 mm.',
  fields: { min: limit('From'), max: limit('To') },
  defaults: { min: 0, max: 0.1 },

  describe({ min, max }) {
    const ends = [
      ...(min ? [`≥ ${formatLength(min, 'mm')}`] : []),
      ...(max === undefined ? [] : [`≤ ${formatLength(max, 'mm')}`]),
    ];
    return ends.join(' ') || 'of any size';
  },

  select(scene, { min = 0, max = Infinity }) {
    const { nodes } = scene;
    const { mesh, solid } = nodes.columns;
    // Of each shape once; few shapes stand for many rows.
    const fits = (extent: number | undefined) => (extent !== undefined && extent >= min && extent <= max ? 1 : 2);
    const meshes = new Uint8Array(nodes.tables.words.length);
    const solids = new Uint8Array(nodes.tables.words.length);
    return matching(nodes, (row) => {
      const [list, number] = mesh[row] > 0 ? [meshes, mesh[row]] : [solids, solid[row]];
      if (list[number] === 0) list[number] = fits(extentOf(scene, nodes.row(row)));
      return list[number] === 1;
    });
  },
};

/** Largest extent of a part in its own frame, metres: from its mesh, or roughly from its solid. */
export function extentOf(scene: Scene, node: SceneNode): number | undefined {
  const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
  if (figures) return Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis]));
  return node.solid ? scene.solids[node.solid]?.extent : undefined;
}
