/** Rule: parts by their largest extent. */
import { factsOf } from '../scene/facts.ts';
import { formatLength } from '../units.ts';
import { matching } from './rule.ts';
import type { RuleKind } from './rule.ts';

export interface SizeRule {
  by: 'size';
  /** Longest side of the part as it stands in the job, along its own axes, metres. */
  min?: number;
  max?: number;
}

const limit = (label: string) =>
  ({ type: 'quantity', of: 'length', unit: 'mm', label, min: 0, max: 1e6, optional: true }) as const;

export const sizeRule: RuleKind<SizeRule> = {
  by: 'size',
  title: 'size',
  purpose: 'Parts whose longest side lies within bounds: all that is smaller than 20 mm.',
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
    const { longest } = factsOf(scene);
    return matching(scene.nodes, (row) => longest[row] >= 0 && longest[row] >= min && longest[row] <= max);
  },
};
