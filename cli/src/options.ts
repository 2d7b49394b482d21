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
import { DEFAULT_TARGET, settingsFrom } from '@noble-prism/core/transmit/targets/target';
import { SPLITS } from '@noble-prism/core/transmit/targets/pieces';
import type { Split } from '@noble-prism/core/transmit/targets/pieces';
import type { TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { WRITERS, writerFor } from '@noble-prism/core/write/formats';
import type { FileUnit, UpAxis } from '@noble-prism/core/write/writer';

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
    --to glb,stl        what to write, one or more of ${WRITERS.map((writer) => writer.target).join(', ')} (default glb)
    --targets FILE      targets with full settings, JSON list: { "name": "Print", "format": "3mf", "unit": "mm", "hierarchy": "flat" }
    --split layer       a file for each layer, storey, assembly or part, all with the origin of the job
    --unit mm           unit of the files (m, cm, mm, in, ft), where the format leaves it open
    --up y|z            axis that points up, where the format leaves it open
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
  targets: { name: string; settings: TargetSettings }[];
  name?: string;
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
  return { ...base, command, targets: await targetsFrom(values), steps: await stepsFrom(values) };
}

/** Targets as the options name them: those of a file, those of `--to`, or one. */
async function targetsFrom(values: Values): Promise<Options['targets']> {
  const { coordinates = 'local', unit, up, split } = values;
  if (!COORDINATES.includes(coordinates as Coordinates))
    throw bad(`--coordinates ${coordinates}: use one of ${COORDINATES.join(', ')}.`);
  if (unit !== undefined && !UNITS.includes(unit as FileUnit)) throw bad(`--unit ${unit}: use one of ${UNITS.join(', ')}.`); // prettier-ignore
  if (up !== undefined && up !== 'y' && up !== 'z') throw bad(`--up ${up}: use y or z.`);
  if (split !== undefined && !SPLITS.includes(split as Split)) throw bad(`--split ${split}: use one of ${SPLITS.join(', ')}.`); // prettier-ignore
  if (values.targets !== undefined) {
    if (values.to !== undefined) throw bad('Use either --to or --targets, not both.');
    const list = await readJson(values.targets);
    if (!Array.isArray(list) || list.length === 0) throw bad(`--targets ${values.targets}: a JSON list of targets is expected.`); // prettier-ignore
    return list.map((entry: unknown, i) => {
      if (typeof entry !== 'object' || entry === null) throw bad(`--targets ${values.targets}: entry ${i + 1} is no target.`); // prettier-ignore
      const { name, ...settings } = entry as Record<string, unknown>;
      const made = settingsFrom(settings);
      return { name: typeof name === 'string' && name.trim() ? name : made.format, settings: made };
    });
  }
  const formats = [...new Set((values.to ?? 'glb').split(',').map((word) => word.trim()))];
  return formats.map((format) => {
    const writer = writerFor(format);
    if (!writer) throw bad(`--to ${format}: use one of ${WRITERS.map((w) => w.target).join(', ')}.`);
    const settings: TargetSettings = { ...DEFAULT_TARGET, format, coordinates: coordinates as Coordinates };
    if (split !== undefined) settings.split = split as Split;
    // What a format does not leave open stays as it is there.
    if (unit !== undefined && writer.units.includes(unit as FileUnit)) settings.unit = unit as FileUnit;
    if (up !== undefined && writer.ups.includes(up as UpAxis)) settings.up = up as UpAxis;
    return { name: format, settings };
  });
}

const UNITS: readonly FileUnit[] = ['m', 'cm', 'mm', 'in', 'ft'];

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
        targets: text,
        unit: text,
        split: text,
        up: text,
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
