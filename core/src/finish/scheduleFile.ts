/**
 * Finish schedules as files: JSON, which holds rules as they are kept, and CSV (RFC 4180) for tables, in which a rule that says one thing
 * stands in words. Names stand there instead of ids, so that a schedule can be read, and used in another job.
 */
import Papa from 'papaparse';
import { PrismError } from '../errors.ts';
import { checked } from '../fields/field.ts';
import { parseLength } from '../typed.ts';
import { formatLength } from '../units.ts';
import type { Scene } from '../scene/types.ts';
import { ruleKind, RULE_KINDS } from '../select/rules.ts';
import type { Selector } from '../select/selector.ts';
import { mapRules } from '../select/select.ts';
import { between, movedRule } from '../preparation/moving.ts';
import type { NamedSource } from '../preparation/moving.ts';
import { LIBRARY } from './library/library.ts';
import { AS_RECEIVED, finishRulesSchema, MOST_RULES, wholeRule } from './rule.ts';
import type { FinishRule, ShortRule } from './rule.ts';
import type { ScheduleLine } from './schedule.ts';

/** Names of what rules hold by an id; several things may be called alike. */
export type Named = Pick<Scene, 'materials' | 'sources'>;

/** Bytes of a schedule that are read at most. */
export const LARGEST_SCHEDULE = 20e6;

const HEADS = ['on', 'by', 'which', 'material', 'parts', 'triangles', 'note'] as const;
/** What may stand over a column in a table of one's own. */
const ALIASES: Record<string, (typeof HEADS)[number]> = { layer: 'which', name: 'which', finish: 'material', remark: 'note', comment: 'note', active: 'on' }; // prettier-ignore

/** The one list of words that a rule holds. */
const LISTS: Record<string, string> = { layer: 'layers', class: 'classes', source: 'sources', storey: 'storeys', material: 'materials' }; // prettier-ignore

/**
 * @param sources by which rules about sources, and picked parts, are found again in another job
 * @param key says of a picked part what it is told by there
 */
export function scheduleJson(
  rules: readonly FinishRule[],
  sources: readonly NamedSource[],
  key: (key: string) => string = (plain) => plain,
): string {
  const named = sources.map(({ id, name }) => ({ id, name }));
  const moving = { slot: (slot: string) => slot, key };
  const told = rules.map((rule) => ({ ...rule, which: mapRules(rule.which, (one) => movedRule(one, moving)) }));
  return `${JSON.stringify({ sources: named, rules: told }, null, 2)}\n`;
}

/** @param lines what each rule takes hold of, for the reader of the table */
export function scheduleCsv(rules: readonly FinishRule[], named: Named, lines: readonly ScheduleLine[] = []): string {
  const data = rules.map(({ on, which, material, note = '' }, i) => [
    on === false ? 'no' : 'yes',
    which.by,
    wordsFor(which, named),
    material === AS_RECEIVED ? 'as received' : nameOr(material, materialNames(named)),
    lines[i]?.parts ?? '',
    lines[i]?.triangles ?? '',
    note,
  ]);
  // A text that begins like a formula would be one where the table is opened.
  return `${Papa.unparse({ fields: [...HEADS], data }, { newline: '\r\n', escapeFormulae: true })}\r\n`;
}

/** Words of a rule that says one thing; other rules as they are kept. */
function wordsFor(which: Selector, named: Named): string {
  const { by, ...rest } = which as Selector & Record<string, unknown>;
  const members = Object.keys(rest);
  const list = rest[LISTS[by]] as string[] | undefined;
  if (by === 'all') return '';
  if (which.by === 'name' && members.length === 1 && !which.pattern.startsWith('{')) return which.pattern;
  if (which.by === 'size') return [which.min, which.max].map((end) => (end === undefined ? '' : formatLength(end, 'mm', 9))).join(' to '); // prettier-ignore
  if (list?.length === 1 && members.length === 1) {
    const names = by === 'material' ? materialNames(named) : by === 'source' ? sourceNames(named) : undefined;
    const word = names ? nameOr(list[0], names) : list[0];
    if (!word.startsWith('{')) return word;
  }
  return JSON.stringify(mapRules(which, withPaths));
}

/** Picked rows by their paths alone: ids of sources say nothing in another job. */
function withPaths(rule: Selector): Selector {
  return rule.by === 'picked' ? { ...rule, keys: rule.keys.map((key) => key.slice(key.indexOf(':') + 1)) } : rule;
}

const materialNames = ({ materials }: Named): [string, string][] => [
  ...LIBRARY.map(({ id, name }): [string, string] => [id, name]),
  ...Object.values(materials)
    .filter(({ id }) => !id.startsWith('lib:'))
    .map(({ id, name }): [string, string] => [id, name]),
];
const sourceNames = ({ sources }: Named) => sources.map(({ id, name }): [string, string] => [id, name]);

/** The name of an id, as long as nothing else is called so; the id otherwise. */
function nameOr(id: string, names: readonly [string, string][]): string {
  const name = names.find(([other]) => other === id)?.[1];
  return name !== undefined && names.filter((entry) => entry[1] === name).length === 1 ? name : id;
}

/** The id of a name or an id. @throws PrismError where several are called so, or none */
function idOf(word: string, names: readonly [string, string][], what: string, where: string): string {
  if (names.some(([id]) => id === word)) return word;
  const called = names.filter(([, name]) => name.toLowerCase() === word.toLowerCase());
  if (called.length === 1) return called[0][0];
  if (called.length === 0) throw bad(`${where}: there is no ${what} “${word}”.`);
  throw bad(`${where}: ${called.length} ${what}s are called “${word}”. Say which by its id: ${called.map(([id]) => id).join(', ')}.`); // prettier-ignore
}

const bad = (message: string) => new PrismError('bad-parameters', message);

/**
 * Reads a schedule that was kept as a file. Nothing of it is taken where something is wrong with it.
 * @param text with or without a byte order mark; a table may be parted by commas, semicolons or tabs
 * @throws PrismError `bad-parameters` with the line and what is wrong there
 */
export function readSchedule(text: string, named: Named): FinishRule[] {
  if (text.length > LARGEST_SCHEDULE)
    throw bad(`The schedule has more than ${LARGEST_SCHEDULE / 1e6} million letters.`);
  const plain = text.replace(/^\ufeff/, '');
  if (plain.trim() === '') throw bad('The file is empty.');
  return /^\s*[[{]/.test(plain) ? readJson(plain, named) : readCsv(plain, named);
}

function readJson(text: string, { sources }: Named): FinishRule[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw bad(`The file is not JSON: ${(error as Error).message}.`);
  }
  const rules: unknown = Array.isArray(value) ? value : (value as { rules?: unknown }).rules;
  if (!Array.isArray(rules))
    throw bad('There are no rules in the file: a list is expected, or an object with “rules”.');
  const whole = checked<FinishRule[]>(
    finishRulesSchema,
    rules.map((rule: unknown) => (typeof rule === 'object' && rule !== null ? wholeRule(rule as FinishRule | ShortRule) : rule)), // prettier-ignore
  );
  const from = (value as { sources?: unknown }).sources;
  return Array.isArray(from) ? rulesFor(whole, from.filter(isNamedSource), sources) : whole;
}

const isNamedSource = (value: unknown): value is NamedSource =>
  typeof (value as NamedSource | null)?.id === 'string' && typeof (value as NamedSource).name === 'string';

/** Rules on their way from one job to another: see `stepsFor`. */
function rulesFor(rules: FinishRule[], from: readonly NamedSource[], to: readonly NamedSource[]): FinishRule[] {
  const moving = between(from, to);
  return rules.map((rule) => ({ ...rule, which: mapRules(rule.which, (one) => movedRule(one, moving)) }));
}

function readCsv(text: string, named: Named): FinishRule[] {
  const { data, errors } = Papa.parse<string[]>(text, {
    delimitersToGuess: [';', ',', '\t'],
    skipEmptyLines: 'greedy',
    preview: MOST_RULES + 2,
  });
  const broken = errors.find(({ type }) => type === 'Quotes');
  if (broken) throw bad(`Line ${(broken.row ?? 0) + 1}: ${broken.message}.`);
  const [first = [], ...lines] = data;
  const heads = first.map((head) => head.trim().toLowerCase());
  const known = heads.map((head) => ((HEADS as readonly string[]).includes(head) ? head : ALIASES[head]));
  const at = (head: (typeof HEADS)[number]) => known.indexOf(head);
  for (const head of ['which', 'material'] as const)
    if (at(head) < 0)
      throw bad(`Line 1: there is no column “${head}”. Found: ${heads.filter(Boolean).join(', ') || 'none'}.`);
  if (lines.length > MOST_RULES) throw bad(`The table has more than ${MOST_RULES} rules.`);
  const usual = heads[at('which')] === 'name' ? 'name' : 'layer';
  return lines.map((line, i) => {
    const where = `Line ${i + 2}`;
    const cell = (head: (typeof HEADS)[number]) =>
      at(head) < 0 ? '' : (line[at(head)] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
    const by = cell('by').toLowerCase() || usual;
    const material = cell('material');
    if (material === '') throw bad(`${where}: the material is missing.`);
    const rule: FinishRule = {
      which: readWhich(by, cell('which'), named, where),
      material: /^(as )?received$/i.test(material)
        ? AS_RECEIVED
        : idOf(material, materialNames(named), 'material', where),
      ...(/^(no|off|false|0|nein|non)$/i.test(cell('on')) ? { on: false } : {}),
      ...(cell('note') ? { note: cell('note') } : {}),
    };
    try {
      return checked<FinishRule[]>(finishRulesSchema, [rule])[0];
    } catch (error) {
      throw bad(`${where}: ${(error as Error).message}`);
    }
  });
}

function readWhich(by: string, words: string, named: Named, where: string): Selector {
  if (words.startsWith('{')) {
    try {
      return JSON.parse(words) as Selector;
    } catch (error) {
      throw bad(`${where}: the rule is not JSON: ${(error as Error).message}.`);
    }
  }
  if (!RULE_KINDS.has(by))
    throw bad(`${where}: there is no rule “${by}”. Known: ${[...RULE_KINDS.keys()].join(', ')}.`);
  if (by === 'all') return { by };
  if (words === '') throw bad(`${where}: it says no ${ruleKind(by).title}.`);
  if (by === 'name') return { by, pattern: words };
  if (by === 'size') return { by, ...readSize(words, where) };
  const list = LISTS[by];
  if (!list) throw bad(`${where}: a rule “${by}” is written as JSON, as the program writes it.`);
  const word =
    by === 'material' ? idOf(words, materialNames(named), 'material', where)
    : by === 'source' ? idOf(words, sourceNames(named), 'source', where)
    : words; // prettier-ignore
  return { by, [list]: [word] } as unknown as Selector;
}

/** `5 mm to 0,2 m`; one of the ends may be missing. */
function readSize(words: string, where: string): { min?: number; max?: number } {
  const [min, max] = words.split(/\bto\b/);
  const length = (text: string | undefined) => {
    if (!text?.trim()) return undefined;
    const value = parseLength(text);
    if (value === undefined) throw bad(`${where}: “${text.trim()}” is no length; 5 mm to 200 mm is expected.`);
    return value;
  };
  const [from, to] = [length(min), length(max)];
  return { ...(from === undefined ? {} : { min: from }), ...(to === undefined ? {} : { max: to }) };
}
