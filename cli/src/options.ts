/** The command line: what may be asked. */
import { bad, parse } from './given.ts';
import type { Values } from './given.ts';
import type { Orders } from './orders.ts';

export interface Options extends Orders {
  command: 'survey' | 'prepare' | 'help';
  /** What help is about: steps, all or of one kind; the command line where nothing is said. */
  about?: { kind?: string };
  /** Files and folders. */
  files: string[];
  /** All of them are one scene. */
  together: boolean;
  /** Files prepared at a time; as the machine allows where nothing is said. */
  sideBySide?: number;
  json: boolean;
  /** Every row in the report. */
  tree: boolean;
  out: string;
  name?: string;
}

/** @throws PrismError `bad-parameters` saying which option and what it expects */
export async function readOptions(argv: string[]): Promise<Options> {
  const { values, positionals } = parse(argv);
  const [command, ...files] = positionals;
  const base = {
    files,
    together: values.together ?? false,
    json: values.json ?? false,
    tree: values.tree ?? false,
    out: values.out ?? '',
    targets: [],
    name: values.name,
  };
  if (command === 'help' && files[0] === 'steps')
    return { ...base, command: 'help', steps: [], about: { kind: files[1] } };
  if (values.help || command === undefined || command === 'help') return { ...base, command: 'help', steps: [] };
  if (command !== 'survey' && command !== 'prepare')
    throw bad(`There is no command “${command}”. Use survey or prepare.`);
  if (files.length === 0) throw bad(`${command}: name at least one file.`);
  if (values.tree && (command !== 'prepare' || !values.json)) throw bad('--tree goes with prepare and --json.');
  if (command === 'prepare' && !values.out) throw bad('prepare: say where to write with --out DIR.');
  if (command === 'survey') return { ...base, command, steps: [] };
  return {
    ...base,
    command,
    ...sideBySideFrom(values),
    // What can be written and done is not looked at for a survey, which then starts in half the time.
    ...(await (await import('./orders.ts')).ordersFrom(values)),
  };
}

function sideBySideFrom({ 'side-by-side': text }: Values): Pick<Options, 'sideBySide'> {
  if (text === undefined) return {};
  const sideBySide = Number(text);
  if (!Number.isInteger(sideBySide) || sideBySide < 1 || sideBySide > MOST_SIDE_BY_SIDE)
    throw bad(`--side-by-side ${text}: a number from 1 to ${MOST_SIDE_BY_SIDE} is expected.`);
  return { sideBySide };
}

const MOST_SIDE_BY_SIDE = 64;
