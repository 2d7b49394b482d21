/** The command line: what may be asked. */
import type { Step } from '@noble-prism/core/steps/kinds';
import { COORDINATES } from '@noble-prism/core/scene/origin';
import type { Coordinates } from '@noble-prism/core/scene/origin';
import { DEFAULT_TARGET, settingsFrom } from '@noble-prism/core/transmit/targets/target';
import { SPLITS } from '@noble-prism/core/transmit/targets/pieces';
import type { Split } from '@noble-prism/core/transmit/targets/pieces';
import type { TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { WRITERS, writerFor } from '@noble-prism/core/write/formats';
import type { FileUnit, UpAxis } from '@noble-prism/core/write/writer';
import { bad, parse, readJson } from './given.ts';
import type { Values } from './given.ts';
import { stepsFrom } from './stepsFrom.ts';

export const USAGE = `prism help steps [KIND]
    What steps and rules there are, and what each takes.

prism survey FILE… [--json]
    What the files say of themselves, before any geometry is computed.

prism prepare FILE… --out DIR [options] [--json]
    Tessellates, turns z up to y up, applies what is asked for, writes and reads back. Of several files, and of every model in a
    folder, each is prepared by itself; one that fails costs itself alone, and a summary comes last.

    --steps FILE        a preparation, JSON list of steps, instead of the usual ones
    --chord 0.1mm       chord deviation (default 0.2mm)
    --angle 20deg       largest angle between triangles (default 16deg)
    --keep 50%          reduce to a share of the triangles, or
    --deviation 0.2mm   reduce within a measured deviation
    --schedule FILE     finish schedule, CSV, or JSON: { "rules": [{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }] }
    --to glb,stl        what to write, one or more of ${WRITERS.map((writer) => writer.target).join(', ')} (default glb)
    --targets FILE      targets with full settings, JSON list: { "name": "Print", "format": "3mf", "unit": "mm", "hierarchy": "flat" }
    --split layer       a file for each layer, storey, assembly or part, all with the origin of the job
    --modular           each distinct asset once in a folder of its own, and a scene file that places them (${WRITERS.filter(
      (writer) => writer.modules,
    )
      .map((writer) => writer.target)
      .join(', ')})
    --unit mm           unit of the files (m, cm, mm, in, ft), where the format leaves it open
    --up y|z            axis that points up, where the format leaves it open
    --coordinates local|restored|map
                        of the files: of the job (default), as received where a step set a local origin, or of the map
    --name NAME         name of the files without ending, of one file or with --together (default: that of the first source)
    --together          several files as one scene
    --side-by-side 4    files prepared at a time (default: as the processors and the memory allow)
    --tree              with --json: every row with its path, place, pivot, size, materials and mesh
`;

export interface Options {
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
    targets: await targetsFrom(values),
    steps: await stepsFrom(values),
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

/** Targets as the options name them: those of a file, those of `--to`, or one. */
async function targetsFrom(values: Values): Promise<Options['targets']> {
  const { coordinates = 'local', unit, up, split, modular } = values;
  if (!COORDINATES.includes(coordinates as Coordinates))
    throw bad(`--coordinates ${coordinates}: use one of ${COORDINATES.join(', ')}.`);
  if (unit !== undefined && !UNITS.includes(unit as FileUnit)) throw bad(`--unit ${unit}: use one of ${UNITS.join(', ')}.`); // prettier-ignore
  if (up !== undefined && up !== 'y' && up !== 'z') throw bad(`--up ${up}: use y or z.`);
  if (split !== undefined && !SPLITS.includes(split as Split)) throw bad(`--split ${split}: use one of ${SPLITS.join(', ')}.`); // prettier-ignore
  if (split !== undefined && modular) throw bad('Use either --split or --modular, not both.');
  if (values.targets !== undefined) {
    const both = (['to', 'unit', 'up', 'split', 'modular', 'coordinates'] as const).find(
      (name) => values[name] !== undefined,
    );
    if (both) throw bad(`Use either --${both} or --targets, not both: a file of targets says it for each.`);
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
    if (modular) settings.split = 'modular';
    // What a format does not leave open stays as it is there.
    if (unit !== undefined && writer.units.includes(unit as FileUnit)) settings.unit = unit as FileUnit;
    if (up !== undefined && writer.ups.includes(up as UpAxis)) settings.up = up as UpAxis;
    return { name: format, settings };
  });
}

const UNITS: readonly FileUnit[] = ['m', 'cm', 'mm', 'in', 'ft'];
