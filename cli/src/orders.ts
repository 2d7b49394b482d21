/** What `prism prepare` is to send to, and what it is to do: from the options, and from files that they name. */
import type { Step } from '@noble-prism/core/steps/kinds';
import { COORDINATES } from '@noble-prism/core/scene/origin';
import type { Coordinates } from '@noble-prism/core/scene/origin';
import { DEFAULT_TARGET, settingsFrom } from '@noble-prism/core/transmit/targets/target';
import { SPLITS } from '@noble-prism/core/transmit/targets/pieces';
import type { Split } from '@noble-prism/core/transmit/targets/pieces';
import type { TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { WRITERS, writerFor } from '@noble-prism/core/write/formats';
import type { FileUnit, UpAxis } from '@noble-prism/core/write/writer';
import { bad, readJson } from './given.ts';
import type { Values } from './given.ts';
import { stepsFrom } from './stepsFrom.ts';

export interface Orders {
  targets: { name: string; settings: TargetSettings }[];
  steps: Step[];
}

/** @throws PrismError `bad-parameters` saying which option and what it expects */
export async function ordersFrom(values: Values): Promise<Orders> {
  return { targets: await targetsFrom(values), steps: await stepsFrom(values) };
}

/** Targets as the options name them: those of a file, those of `--to`, or one. */
async function targetsFrom(values: Values): Promise<Orders['targets']> {
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
