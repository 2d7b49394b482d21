/** The command line: what may be asked, and the steps that it stands for. */
import { parseArgs } from 'node:util';
import { readFile } from 'node:fs/promises';
import { PrismError } from '@noble-prism/core/errors';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { finishesStep } from '@noble-prism/core/steps/finishes';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import { COORDINATES } from '@noble-prism/core/scene/origin';
import type { Coordinates } from '@noble-prism/core/scene/origin';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { parseAngle, parseLength } from '@noble-prism/core/units';
import { WRITERS } from '@noble-prism/core/write/formats';

export const USAGE = `prism help steps [KIND]
    What steps and rules there are, and what each takes.

prism survey FILE… [--json]
    What the files say of themselves, before any geometry is computed.

prism prepare FILE… --out DIR [options] [--json]
    Tessellates, turns z up to y up, applies what is asked for, writes and reads back.

    --chord 0.1mm       chord deviation (default 0.2mm)
    --angle 20deg       largest angle between triangles (default 16deg)
    --keep 50%          reduce to a share of the triangles, or
    --deviation 0.2mm   reduce within a measured deviation
    --schedule FILE     finish schedule, JSON: { "rules": [{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }] }
    --steps FILE        a whole preparation, JSON list of steps, instead of the options above
    --to ${WRITERS.map((writer) => writer.target).join('|')}            what to write (default glb)
    --coordinates local|restored|map
                        of the files: of the job (default), as received where a step set a local origin, or of the map
    --name NAME         name of the file without ending (default: that of the first source)
    --tree              with --json: every row with its path, place, pivot, size, materials and mesh
`;

export interface Options {
  command: 'survey' | 'prepare' | 'help';
  /** What help is about: steps, all or of one kind; the command line where nothing is said. */
  about?: { kind?: string };
  files: string[];
  json: boolean;
  /** Every row in the report. */
  tree: boolean;
  out: string;
  to: string;
  name?: string;
  coordinates: Coordinates;
  steps: Step[];
}

/** @throws PrismError `bad-parameters` saying which option and what it expects */
export async function readOptions(argv: string[]): Promise<Options> {
  const { values, positionals } = parse(argv);
  const [command, ...files] = positionals;
  const base = {
    files,
    json: values.json ?? false,
    tree: values.tree ?? false,
    out: values.out ?? '',
    to: values.to ?? 'glb',
    name: values.name,
    coordinates: (values.coordinates ?? 'local') as Coordinates,
  };
  if (command === 'help' && files[0] === 'steps')
    return { ...base, command: 'help', steps: [], about: { kind: files[1] } };
  if (values.help || command === undefined || command === 'help') return { ...base, command: 'help', steps: [] };
  if (command !== 'survey' && command !== 'prepare')
    throw bad(`There is no command “${command}”. Use survey or prepare.`);
  if (files.length === 0) throw bad(`${command}: name at least one file.`);
  if (values.tree && (command !== 'prepare' || !values.json)) throw bad('--tree goes with prepare and --json.');
  if (command === 'prepare' && !values.out) throw bad('prepare: say where to write with --out DIR.');
  if (!WRITERS.some((writer) => writer.target === base.to))
    throw bad(`--to ${base.to}: use one of ${WRITERS.map((w) => w.target).join(', ')}.`);
  if (!COORDINATES.includes(base.coordinates))
    throw bad(`--coordinates ${base.coordinates}: use one of ${COORDINATES.join(', ')}.`);
  return { ...base, command, steps: command === 'prepare' ? await stepsFrom(values) : [] };
}

function parse(argv: string[]) {
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        out: text,
        chord: text,
        angle: text,
        keep: text,
        deviation: text,
        schedule: text,
        steps: text,
        to: text,
        name: text,
        coordinates: text,
        json: flag,
        tree: flag,
        help: { ...flag, short: 'h' },
      },
    });
  } catch (error) {
    throw bad((error as Error).message);
  }
}

function bad(message: string): PrismError {
  return new PrismError('bad-parameters', message);
}

type Values = ReturnType<typeof parse>['values'];

async function stepsFrom(values: Values): Promise<Step[]> {
  if (values.steps) {
    const list = await readJson(values.steps);
    if (!Array.isArray(list)) throw bad(`--steps ${values.steps}: a JSON list of steps is expected.`);
    return checkSteps(
      list.map((step, i) => ({ id: `s${i + 1}`, on: true, selector: { by: 'all' }, ...(step as object) })),
    );
  }
  const chord = values.chord === undefined ? undefined : parseLength(values.chord);
  const angle = values.angle === undefined ? undefined : parseAngle(values.angle);
  if (values.chord !== undefined && !chord) throw bad(`--chord ${values.chord}: a length is expected, such as 0.1mm.`);
  if (values.angle !== undefined && !angle) throw bad(`--angle ${values.angle}: an angle is expected, such as 20deg.`);
  const steps: Step[] = defaultSteps({ ...(chord ? { chord } : {}), ...(angle ? { angle } : {}) });
  const add = (kind: string, parameters: object) =>
    steps.push({ id: `s${steps.length + 1}`, kind, on: true, selector: { by: 'all' }, parameters });
  if (values.schedule) {
    const schedule = (await readJson(values.schedule)) as FinishesParameters;
    add(finishesStep.kind, { rules: schedule.rules });
  }
  if (values.keep !== undefined && values.deviation !== undefined)
    throw bad('Use either --keep or --deviation, not both.');
  if (values.keep !== undefined) {
    const percent = /^([\d.]+)\s*(%?)$/.exec(values.keep);
    const share = percent ? Number(percent[1]) / (percent[2] || Number(percent[1]) > 1 ? 100 : 1) : NaN;
    if (!(share > 0 && share <= 1))
      throw bad(`--keep ${values.keep}: a share between 0 and 100 % is expected, such as 50%.`);
    add('reduce', { until: 'share', share, deviation: 0.0005 });
  }
  if (values.deviation !== undefined) {
    const deviation = parseLength(values.deviation);
    if (!deviation) throw bad(`--deviation ${values.deviation}: a length is expected, such as 0.2mm.`);
    add('reduce', { until: 'deviation', share: 0.5, deviation });
  }
  return checkSteps(steps);
}

async function readJson(path: string): Promise<unknown> {
  let text: string;
  try {
    text = await readFile(path, 'utf8');
  } catch {
    throw new PrismError('not-found', `${path} cannot be read.`, { file: path });
  }
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new PrismError('bad-parameters', `${path} is not JSON: ${(error as Error).message}.`, { file: path });
  }
}
