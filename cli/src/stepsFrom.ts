/** The steps that the command line stands for: the usual ones or those of a file, then the schedule, then the reduction. */
import { finishesStep } from '@noble-prism/core/steps/finishes';
import { readSchedule } from '@noble-prism/core/finish/scheduleFile';
import type { FinishRule } from '@noble-prism/core/finish/rule';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { parseAngle, parseLength } from '@noble-prism/core/typed';
import { bad, readJson, readText } from './given.ts';
import type { Values } from './given.ts';

/** @throws PrismError `bad-parameters`, `not-found` */
export async function stepsFrom(values: Values): Promise<Step[]> {
  const steps = values.steps === undefined ? usualSteps(values) : await stepsOf(values.steps, values);
  const add = (kind: string, parameters: object) =>
    steps.push({ id: `asked-${kind}`, kind, on: true, selector: { by: 'all' }, parameters });
  if (values.schedule !== undefined) add(finishesStep.kind, { rules: await rulesOf(values.schedule) });
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

/** Tessellate and turn, as fine as is asked for. */
function usualSteps(values: Values): Step[] {
  const chord = values.chord === undefined ? undefined : parseLength(values.chord);
  const angle = values.angle === undefined ? undefined : parseAngle(values.angle);
  if (values.chord !== undefined && !chord) throw bad(`--chord ${values.chord}: a length is expected, such as 0.1mm.`);
  if (values.angle !== undefined && !angle) throw bad(`--angle ${values.angle}: an angle is expected, such as 20deg.`);
  return defaultSteps({ ...(chord ? { chord } : {}), ...(angle ? { angle } : {}) });
}

async function stepsOf(path: string, values: Values): Promise<Step[]> {
  if (values.chord !== undefined || values.angle !== undefined)
    throw bad('--chord and --angle are for the usual steps; with --steps, say them in its Tessellate step.');
  const list = await readJson(path);
  if (!Array.isArray(list)) throw bad(`--steps ${path}: a JSON list of steps is expected.`);
  return checkSteps(list.map((step, i) => ({ id: `s${i + 1}`, on: true, selector: { by: 'all' }, ...(step as object) }))); // prettier-ignore
}

/** Materials are those of the library: what sources bring is not known before they are read. */
async function rulesOf(path: string): Promise<FinishRule[]> {
  const text = await readText(path);
  try {
    return readSchedule(text, { materials: {}, sources: [] });
  } catch (error) {
    throw bad(`--schedule ${path}: ${(error as Error).message}`);
  }
}
