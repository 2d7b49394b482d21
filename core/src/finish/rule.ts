/** A rule of a finish schedule: which parts get which material. */
import { array, boolean, object, string } from 'yup';
import { selectorSchema } from '../select/rules.ts';
import type { Selector } from '../select/selector.ts';
import type { Material, Scene } from '../scene/types.ts';
import type { OwnMaterial } from './library/own.ts';
import { libraryMaterial } from './library/library.ts';

export interface FinishRule {
  /** Where this rule takes hold; a rule about materials takes hold of the faces that have them. */
  which: Selector;
  /** Id of a material of the library or of the job, or `received`: the one that the source gave. */
  material: string;
  /** False where it is switched off. */
  on?: boolean;
  /** What people want to remember about it. */
  note?: string;
}

/** Stands for the material that the source gave. */
export const AS_RECEIVED = 'received';

/** Rules in one schedule, at most. */
export const MOST_RULES = 5000;

export const finishRuleSchema = object({
  which: selectorSchema,
  material: string()
    .required('The material is missing.')
    .max(200)
    .test(
      'library',
      'There is no material “${value}” in the library.',
      (id) => !id?.startsWith('lib:') || libraryMaterial(id) !== undefined,
    ),
  on: boolean(),
  note: string().max(300),
})
  .noUnknown()
  .test('which', 'A rule has to say which parts it is about.', (rule) => rule.which !== undefined);

export const finishRulesSchema = array(finishRuleSchema).required('The rules are missing.').max(MOST_RULES);

/** A rule in short, as it is written by hand. */
export interface ShortRule {
  by: 'layer' | 'colour' | 'name' | 'received';
  /** Name of a layer, id of a colour as received, or a pattern for names of parts. */
  match: string;
  material: string;
}

/** A rule as it is kept, of one that was written in short or is whole already. */
export function wholeRule(rule: FinishRule | ShortRule): FinishRule {
  if (!('by' in rule)) return rule;
  const { by, match, ...rest } = rule;
  return { which: selectorOf(by, match), ...rest };
}

function selectorOf(by: ShortRule['by'], match: string): Selector {
  if (by === 'layer') return { by, layers: [match] };
  if (by === 'colour') return { by: 'material', materials: [match] };
  return { by: 'name', pattern: match, reach: 'itself', ...(by === 'received' ? { as: 'received' as const } : {}) };
}

/** The material that a rule gives; undefined for `received`, and where there is no such material. */
export function materialOfRule(
  { materials }: Pick<Scene, 'materials'>,
  id: string,
  own: readonly OwnMaterial[] = [],
): Material | undefined {
  const mine = own.find(({ material }) => material.id === id);
  return mine?.material ?? libraryMaterial(id) ?? (Object.hasOwn(materials, id) ? materials[id] : undefined);
}
