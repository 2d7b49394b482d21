/** All kinds of rule by name, and the check of a whole rule. */
import { array, lazy, mixed, object, string } from 'yup';
import { schemaOfFields } from '../fields/field.ts';
import type { Fields } from '../fields/field.ts';
import { allRule } from './all.ts';
import { classRule } from './class.ts';
import { andRule, notRule, orRule } from './combined.ts';
import { layerRule } from './layer.ts';
import { materialRule } from './material.ts';
import { nameRule } from './name.ts';
import { pickedRule } from './picked.ts';
import { propertyRule } from './property.ts';
import type { AnyRule, RuleKind } from './rule.ts';
import { sizeRule } from './size.ts';
import { sourceRule } from './source.ts';
import { storeyRule } from './storey.ts';

/** A kind among others: each takes rules of its own only, and is given no others. */
const among = <R extends AnyRule>(kind: RuleKind<R>) => kind as unknown as RuleKind;

/** In the order in which they are offered. */
const list = [
  among(allRule),
  among(pickedRule),
  among(layerRule),
  among(materialRule),
  among(classRule),
  among(storeyRule),
  among(sourceRule),
  among(nameRule),
  among(sizeRule),
  among(propertyRule),
  among(andRule),
  among(orRule),
  among(notRule),
];

export const RULE_KINDS: ReadonlyMap<string, RuleKind> = new Map(list.map((kind) => [kind.by, kind]));

/** The kind of a rule that was checked. */
export function ruleKind(by: string): RuleKind {
  return RULE_KINDS.get(by) ?? (allRule as unknown as RuleKind);
}

const MAX_DEPTH = 12;
const by = string().required();

/** Yup schema of a rule. */
export const selectorSchema: ReturnType<typeof lazy> = schemaAt(0);

function schemaAt(depth: number): ReturnType<typeof lazy> {
  return lazy((value: { by?: string } | undefined) => {
    const kind = RULE_KINDS.get(value?.by ?? '');
    if (!kind) return object({ by: by.oneOf([...RULE_KINDS.keys()], 'There is no such rule: ${value}.') }).noUnknown();
    const rule = schemaOfFields(kind.fields as Fields<object>).shape({ by });
    if (!('of' in kind.fields)) return rule.noUnknown();
    if (depth >= MAX_DEPTH) return mixed().test('depth', 'The rule is nested too deeply.', () => false);
    const of = array(schemaAt(depth + 1) as never).required();
    return rule.shape({ of: of.max(50) }).noUnknown();
  });
}
