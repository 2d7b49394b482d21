/**
 * What can be set about a step or a rule. A field says once what it is called, in which unit, within which bounds and what it is for:
 * the form, the check of what comes in, the help on the command line and the manual are drawn from it.
 */
import './words.ts';
import { mixed, number, object, string } from 'yup';
import type { AnySchema, ObjectSchema } from 'yup';
import { PrismError } from '../errors.ts';
import { spotSchema } from '../scene/spot.ts';
import { formatAngle, formatCount, formatLength, formatNumber } from '../units.ts';

interface Words<P = never> {
  label: string;
  /** Shown only where this holds. */
  when?(value: P): boolean;
  /** What it is for, in a sentence. */
  help?: string;
  /** What messages call it, where not by its label. */
  called?: string;
}

export interface ChoiceField<P = never> extends Words<P> {
  type: 'choice';
  /** One may be absent in what is stored: `value` undefined. */
  choices: readonly { value: string | undefined; label: string }[];
}

export type Quantity = 'length' | 'angle' | 'share' | 'factor' | 'count' | 'density' | 'time';

/** A number in metres, radians, of one, of nothing, of things, in kilograms per cubic metre, or in seconds; `unit` is the one that people see and type. */
export interface QuantityField<P = never> extends Words<P> {
  type: 'quantity';
  of: Quantity;
  unit: string;
  /** Smallest and largest value, in metres, radians, of one. */
  min: number;
  max: number;
  /** Values that are offered beside it: one click each. */
  offers?: readonly number[];
  /** What each of them is called, where a number alone says too little. */
  offerNames?: readonly string[];
  /** May be left out; then there is no such limit, or this is meant: a value, or what people are told that it is. */
  optional?: true | { meaning: number } | { otherwise: string };
}

export interface TextField<P = never> extends Words<P> {
  type: 'text';
  /** Most letters. */
  most: number;
  /** May be empty. */
  empty?: true;
  /** May be left out. */
  optional?: true;
  /** What is wrong with a text, for people; nothing where it is right. */
  check?(text: string): string | undefined;
}

/** A row of the tree, by its key. */
export interface RowField<P = never> extends Words<P> {
  type: 'row';
  /** May be left out; then this is meant. */
  optional?: string;
}

/** A link between rows that an earlier step named, by its id or its name. */
export interface LinkField<P = never> extends Words<P> {
  type: 'link';
}

/** A point that was picked or typed, with what it belongs to: see `scene/spot.ts`. */
export interface SpotField<P = never> extends Words<P> {
  type: 'spot';
  optional?: true;
  /** True where the direction of what is picked matters too. */
  withAxis?: true;
}

/** One or more words out of those that the scene has. */
export interface WordsField<P = never> extends Words<P> {
  type: 'words';
}

/** What has a form of its own: a schedule, the pictures of a set, other rules. */
export interface OwnField<P = never> extends Words<P> {
  type: 'own';
  schema: AnySchema;
  /** How it is written, for the manual. */
  written: string;
}

export type Field<P = never> =
  | ChoiceField<P>
  | QuantityField<P>
  | TextField<P>
  | RowField<P>
  | LinkField<P>
  | SpotField<P>
  | WordsField<P>
  | OwnField<P>;

/** A field for each member. */
export type Fields<P> = { readonly [K in keyof Required<P>]: Field<P> };

/** A value of a field as people read it, with its unit. */
export function formatQuantity(value: number, { of, unit }: Pick<QuantityField, 'of' | 'unit'>): string {
  if (of === 'length') return formatLength(value, unit);
  if (of === 'angle') return formatAngle(value);
  if (of === 'share') return `${formatNumber(value * 100)}\u00a0%`;
  if (of === 'density' || of === 'time') return `${formatNumber(value, 5)}\u00a0${unit}`;
  if (of === 'count') return `${formatCount(value)}\u00a0${unit}`;
  return formatNumber(value, 6);
}

/** `the chord deviation`. */
function calledBy({ label, called }: Words): string {
  return `The ${called ?? label.charAt(0).toLowerCase() + label.slice(1)}`;
}

/** Words of a rule, or what a picked set holds, at most, and letters of each. */
const MOST_WORDS = 200_000;
export const MOST_LETTERS = 4000;

/** A list of texts. One test for all of them: a picked set may hold a hundred thousand. */
export const wordsSchema = () =>
  mixed<string[]>()
    .required()
    .test('words', function (value) {
      const wrong = wrongAmong(value);
      return wrong === undefined ? true : this.createError({ message: `${this.path}: ${wrong}` });
    });

function wrongAmong(value: unknown): string | undefined {
  if (!Array.isArray(value)) return 'a list of texts is expected.';
  if (value.length > MOST_WORDS) return `at most ${MOST_WORDS} texts are taken.`;
  for (let i = 0; i < value.length; i++) {
    const word: unknown = value[i];
    if (typeof word !== 'string' || word === '') return `entry ${i + 1} is no text.`;
    if (word.length > MOST_LETTERS) return `entry ${i + 1} has more than ${MOST_LETTERS} letters.`;
  }
  return undefined;
}

/** What is typed in degrees or inches is not exactly the bound. */
const ROUNDING = 1e-9;

function schemaOf(field: Field): AnySchema {
  switch (field.type) {
    case 'choice': {
      const values = field.choices.map(({ value }) => value);
      const known = string().oneOf(
        values.filter((value) => value !== undefined),
        `${calledBy(field)} must be one of ${values.filter((value) => value !== undefined).join(', ')}.`,
      );
      return values.includes(undefined) ? known : known.required(`${calledBy(field)} has to be chosen.`);
    }
    case 'quantity': {
      const { min, max, optional } = field;
      const any = field.of === 'count' ? number().integer(`${calledBy(field)} must be a whole number.`) : number();
      const bounded = any
        .min(min - Math.abs(min) * ROUNDING, `${calledBy(field)} must be at least ${formatQuantity(min, field)}.`)
        .max(max + Math.abs(max) * ROUNDING, `${calledBy(field)} must be at most ${formatQuantity(max, field)}.`);
      return optional ? bounded : bounded.required(`${calledBy(field)} is missing.`);
    }
    case 'text': {
      const text = string()
        .max(field.most, `${calledBy(field)} has more than ${field.most} letters.`)
        .test('text', function (value) {
          const wrong = value === undefined ? undefined : field.check?.(value);
          return wrong === undefined ? true : this.createError({ message: wrong });
        });
      const missing = `${calledBy(field)} is missing.`;
      if (field.optional) return text;
      return field.empty ? text.defined() : text.required(missing).matches(/\S/, missing);
    }
    case 'row': {
      const key = string().max(MOST_LETTERS, `${calledBy(field)} has more than ${MOST_LETTERS} letters.`);
      return field.optional ? key : key.required(`${calledBy(field)} has to be chosen.`);
    }
    case 'link':
      return string()
        .max(MOST_LETTERS, `${calledBy(field)} has more than ${MOST_LETTERS} letters.`)
        .required(`${calledBy(field)} has to be chosen.`);
    case 'spot': {
      const spot = spotSchema(calledBy(field));
      return field.optional ? spot.default(undefined) : spot.required(`${calledBy(field)} is missing.`);
    }
    case 'words':
      return wordsSchema();
    case 'own':
      return field.schema;
  }
}

/**
 * The check of an object by its fields.
 * @param check what members must be together; gives what is wrong, in words
 */
export function schemaOfFields<P extends object>(
  fields: Fields<P>,
  check?: (value: P) => string | undefined,
): ObjectSchema<P> {
  const shape = Object.fromEntries(Object.entries<Field>(fields).map(([name, field]) => [name, schemaOf(field)]));
  const schema = object(shape);
  const checked = check
    ? schema.test('together', '', function (value) {
        const wrong = check(value as P);
        return wrong === undefined ? true : this.createError({ message: wrong });
      })
    : schema;
  return checked as unknown as ObjectSchema<P>;
}

/** @throws PrismError `bad-parameters` with what is wrong and at which member */
export function checked<T>(schema: AnySchema, value: unknown): T {
  try {
    return schema.validateSync(value, { strict: true }) as T;
  } catch (error) {
    const { path, message } = error as { path?: string; message: string };
    throw new PrismError('bad-parameters', message, path ? { where: path } : {});
  }
}

/** What may stand in a field, for a manual: `0.001 mm to 1 m`, `share or deviation`, `text`. */
export function rangeOf(field: Field): string {
  switch (field.type) {
    case 'choice':
      return field.choices
        .map(({ value, label }) => (value === undefined ? `nothing (${label})` : `\`${value}\` (${label})`))
        .join(', ');
    case 'quantity':
      return `${formatQuantity(field.min, field)} to ${formatQuantity(field.max, field)}`;
    case 'text':
      return `text, ${field.optional ? 'may be left out, ' : field.empty ? 'may be empty, ' : ''}at most ${field.most} letters`;
    case 'row':
      return `key of a row${field.optional ? `, or nothing (${field.optional})` : ''}`;
    case 'link':
      return 'name of a link that an earlier step named';
    case 'spot':
      return `\`{ "at": [x, y, z], "on": key, "axis": [x, y, z] }\`, metres, in the frame of the geometry of the row \`on\`, or in the world without one`;
    case 'words':
      return 'a list of texts';
    case 'own':
      return field.written;
  }
}

/** In what a number is stored: files and programs say `0.0002`, people say 0.2 mm. */
export function storedIn({ of }: QuantityField): string {
  return {
    length: 'in metres',
    angle: 'in radians',
    share: 'as a share of 1',
    factor: 'a number',
    count: 'a whole number',
    density: 'in kilograms per cubic metre',
    time: 'in seconds',
  }[of];
}
