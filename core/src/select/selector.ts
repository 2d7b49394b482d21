/** Rules as they are written: what a step keeps of which rows it concerns. */
import type { AllRule } from './all.ts';
import type { ClassRule } from './class.ts';
import type { LayerRule } from './layer.ts';
import type { MaterialRule } from './material.ts';
import type { NameRule } from './name.ts';
import type { PickedRule } from './picked.ts';
import type { PropertyRule } from './property.ts';
import type { SizeRule } from './size.ts';
import type { SourceRule } from './source.ts';
import type { StoreyRule } from './storey.ts';

/** A rule made of rules: all of them hold, one of them, or none. */
export interface CombinedRule<B extends 'and' | 'or' | 'not' = 'and' | 'or' | 'not'> {
  by: B;
  of: Selector[];
}

export type Selector =
  | AllRule
  | PickedRule
  | LayerRule
  | MaterialRule
  | ClassRule
  | StoreyRule
  | SourceRule
  | NameRule
  | SizeRule
  | PropertyRule
  | CombinedRule;

export const ALL: Selector = { by: 'all' };
