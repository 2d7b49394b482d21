/** The manual of steps and rules, drawn from what the kinds say of themselves: for `prism help steps` and docs/steps.md. */
import { rangeOf, storedIn } from '../fields/field.ts';
import type { Field, Fields } from '../fields/field.ts';
import { RULE_KINDS } from '../select/rules.ts';
import type { StepKind } from './kind.ts';
import { STEP_KINDS, stepKind } from './kinds.ts';

/**
 * @param only one kind of step; all kinds and rules where nothing is said
 * @throws PrismError `bad-parameters` for a kind that does not exist
 */
export function stepsManual(only?: string): string {
  if (only !== undefined) return `${chapter(stepKind(only)).join('\n')}\n`;
  const lines = [
    '# Steps',
    '',
    'A preparation is a list of steps, in JSON: `{ "kind": "reduce", "selector": { "by": "layer", "layers": ["FASTENERS"] }, "parameters": { … } }`.',
    'What is left out of `parameters` cannot be guessed: write all that are not optional. Lengths are in metres, angles in radians, shares of 1.',
    ...[...STEP_KINDS.values()].flatMap((kind) => ['', ...chapter(kind)]),
    '',
    '# Rows',
    '',
    'A row is named by its source, a colon and the path of names from the top, with `#2` and so on for the second of one name: `frame.stp:/Station/Fence#2`. The source is named by its file; without one (`/Station/Fence`) it is that of the first source that has it.',
    'A row that a step made is named by the kind of the step and its mark, or its name where it has none, behind a plus: `+group Unit` is what the step `{ "kind": "group", "parameters": { "name": "Unit", … } }` made; so `+handle Site` and `+join All`. Points and what regrouping made have their name alone (`+Grid A`), pieces of a part stand behind it (`frame.stp:/Plate:+piece 1`).',
    '',
    '# Rules',
    '',
    'A rule (`selector`) says which rows a step concerns: `{ "by": "layer", "layers": ["FASTENERS"] }`.',
    ...[...RULE_KINDS.values()].flatMap((kind) => [
      '',
      `## ${kind.by}`,
      '',
      kind.purpose,
      ...list(kind.fields as Fields<object>),
    ]),
  ];
  return `${lines.join('\n')}\n`;
}

function chapter(kind: StepKind): string[] {
  const { fields } = kind;
  return [
    `## ${kind.kind}`,
    '',
    `${kind.title} (${kind.station}). ${kind.purpose}`,
    ...list(fields),
    '',
    `Example: \`${JSON.stringify(exampleOf(kind))}\``,
  ];
}

/** A step as it stands in a list of steps. */
function exampleOf({ kind, defaults, example }: StepKind): object {
  return { kind, selector: example?.selector ?? { by: 'all' }, parameters: example?.parameters ?? defaults };
}

function list(fields: Fields<object>): string[] {
  const entries = Object.entries(fields as Record<string, Field>);
  return entries.length === 0 ? [] : ['', ...entries.map(([name, field]) => `- \`${name}\`: ${line(field)}`)];
}

function line(field: Field): string {
  const { label, help } = field;
  const isOptional =
    ((field.type === 'quantity' || field.type === 'text' || field.type === 'row' || field.type === 'spot') &&
      field.optional) ||
    (field.type === 'choice' && field.choices.some(({ value }) => value === undefined));
  const range = field.type === 'quantity' ? `${rangeOf(field)}, ${storedIn(field)}` : rangeOf(field);
  return [`${label}${isOptional ? ', optional' : ''}; ${range}.`, ...(help ? [help] : [])].join(' ');
}
