/** All kinds of step by name, and the check of a whole step. */
import { canonicalJson } from '../scene/hash.ts';
import { array, boolean, lazy, mixed, number, object, string } from 'yup';
import { PrismError } from '../errors.ts';
import { checked } from '../fields/field.ts';
import { selectorSchema } from '../select/rules.ts';
import type { Selector } from '../select/selector.ts';
import { attachStep } from './attach.ts';
import { branchStep } from './branch.ts';
import { calibrateStep } from './calibrate.ts';
import { dissolveStep } from './dissolve.ts';
import { driveStep } from './drive.ts';
import { dropStep } from './drop.ts';
import { facesStep } from './faces.ts';
import { finishesStep } from './finishes.ts';
import { groupStep } from './group.ts';
import { handleStep } from './handle.ts';
import { joinStep } from './join.ts';
import { WHEREVER } from './kind.ts';
import type { StepKind } from './kind.ts';
import { leaveOutStep } from './leaveOut.ts';
import { linkStep } from './link.ts';
import { lockStep } from './lock.ts';
import { mapStep } from './map.ts';
import { measureStep } from './measure.ts';
import { mirrorStep } from './mirror.ts';
import { mergeMaterialsStep } from './mergeMaterials.ts';
import { moveStep } from './move.ts';
import { needlessStep } from './needless.ts';
import { ownMaterialsStep } from './ownMaterials.ts';
import { pivotStep } from './pivot.ts';
import { pointStep } from './point.ts';
import { putOnStep } from './putOn.ts';
import { rebaseStep } from './rebase.ts';
import { reduceStep } from './reduce.ts';
import { regroupStep } from './regroup.ts';
import { registerStep } from './register.ts';
import { renameStep } from './rename.ts';
import { rotateStep } from './rotate.ts';
import { runStep } from './run.ts';
import { scaleStep } from './scale.ts';
import { sidesStep } from './sides.ts';
import { splitStep } from './split.ts';
import type { Step } from './step.ts';
import { tessellateStep } from './tessellate.ts';
import { texturesStep } from './textures.ts';
import { turnStep } from './turn.ts';
import { unitStep } from './unit.ts';
import { upStep } from './up.ts';
import { unwrapStep } from './unwrap.ts';
import { uvStep } from './uv.ts';
import { variantStep } from './variant.ts';
import { wiresStep } from './wires.ts';

export type { Step } from './step.ts';

/** A kind among others: each is given parameters of its own only. */
const among = <P extends object>(kind: StepKind<P>) => kind as unknown as StepKind;

/** In the usual order of the work. */
const list = [
  among(wiresStep),
  among(leaveOutStep),
  among(unitStep),
  among(upStep),
  among(variantStep),
  among(tessellateStep),
  among(groupStep),
  among(attachStep),
  among(dissolveStep),
  among(needlessStep),
  among(regroupStep),
  among(joinStep),
  among(splitStep),
  among(renameStep),
  among(pivotStep),
  among(handleStep),
  among(lockStep),
  among(moveStep),
  among(rotateStep),
  among(scaleStep),
  among(putOnStep),
  among(dropStep),
  among(mirrorStep),
  among(turnStep),
  among(branchStep),
  among(calibrateStep),
  among(pointStep),
  among(registerStep),
  among(rebaseStep),
  among(mapStep),
  among(linkStep),
  among(driveStep),
  among(runStep),
  among(measureStep),
  among(finishesStep),
  among(ownMaterialsStep),
  among(mergeMaterialsStep),
  among(facesStep),
  among(sidesStep),
  among(uvStep),
  among(unwrapStep),
  among(texturesStep),
  among(reduceStep),
];

export const STEP_KINDS: ReadonlyMap<string, StepKind> = new Map(list.map((kind) => [kind.kind, kind]));

/** @throws PrismError `bad-parameters` for a kind that does not exist */
export function stepKind(kind: string): StepKind {
  const found = STEP_KINDS.get(kind);
  if (!found)
    throw new PrismError(
      'bad-parameters',
      `There is no kind of step “${kind}”. Known: ${[...STEP_KINDS.keys()].join(', ')}.`,
    );
  return found;
}

/** Yup schema of one step; the parameters are checked by the schema of its kind. */
const stepSchema = lazy((value: { kind?: string } | undefined) =>
  object({
    id: string().required().max(64),
    kind: string()
      .required()
      .oneOf(
        [...STEP_KINDS.keys()],
        `There is no kind of step “\${value}”. Known: ${[...STEP_KINDS.keys()].join(', ')}.`,
      ),
    on: boolean().required(),
    selector: selectorSchema,
    parameters: STEP_KINDS.get(value?.kind ?? '')?.schema.noUnknown() ?? mixed(),
    format: number().integer().min(1),
  }).noUnknown(),
);

const stepsSchema = array(stepSchema as never)
  .required()
  .max(500);

/**
 * Checks and fills a list of steps that came from outside, and brings those that an older program saved up to what this one takes.
 * @throws PrismError `bad-parameters` naming the step
 */
export function checkSteps(value: unknown): Step[] {
  const steps = Array.isArray(value) ? value.map((step) => (isStep(step) ? broughtUp(step) : step)) : value;
  return checked<Step[]>(stepsSchema, steps);
}

function isStep(value: unknown): value is Step {
  const { kind, parameters } = (value ?? {}) as Partial<Step>;
  return typeof kind === 'string' && typeof parameters === 'object' && parameters !== null;
}

/** True for a step that only a newer program can take: of a kind or a format that is not known here. */
export function isNewer({ kind, format = 1 }: Step): boolean {
  const known = STEP_KINDS.get(kind);
  return !known || format > known.format;
}

/** What a step is called, also where its kind is not known here. */
export function titleOf({ kind }: Pick<Step, 'kind'>): string {
  return STEP_KINDS.get(kind)?.title ?? kind;
}

/** What a step says, in a few words. */
export function summaryOf(step: Step): string {
  return isNewer(step) ? 'of a newer Noble Prism' : stepKind(step.kind).summary(step.parameters);
}

/**
 * A step as this program takes it: parameters of an older format go all ways up that lie between.
 * @throws PrismError `bad-parameters` where a newer program saved it
 */
export function broughtUp(step: Step, kind = STEP_KINDS.get(step.kind)): Step {
  if (!kind) return step;
  const { format: from = 1, ...rest } = step;
  if (from > kind.format)
    throw new PrismError(
      'bad-parameters',
      `A newer Noble Prism saved the step “${kind.title}” (format ${from}, this one takes up to ${kind.format}).`,
      { where: step.id },
    );
  const ways = kind.upgrades ?? [];
  const parameters = ways.slice(from - 1).reduce((before: object, way) => way({ ...before }), step.parameters);
  return { ...rest, parameters, ...(kind.format > 1 ? { format: kind.format } : {}) };
}

/** A new step as it is saved. */
export function newStep(id: string, kind: string, selector: Selector, parameters: object): Step {
  const { format, fields } = stepKind(kind);
  // What it makes is known by a name of its own from now on.
  const made = 'mark' in fields && !('mark' in parameters) ? { ...parameters, mark: id } : parameters;
  return { id, kind, on: true, selector, parameters: made, ...(format > 1 ? { format } : {}) };
}

/**
 * A list with steps that were made elsewhere, under ids of their own, each where its kind belongs and in their order. One that says what
 * a step of the list says already, or does again all that one did to the same parts, takes the place of that.
 */
export function withSteps(steps: readonly Step[], added: readonly Step[], newId: () => string): Step[] {
  return added.reduce<Step[]>(
    (list, step) => {
      const id = newId();
      const known = list.findIndex((other) => steps.includes(other) && isInPlaceOf(step, other));
      if (known >= 0) return list.with(known, { ...step, id: list[known].id });
      return list.toSpliced(placeFor(step.kind, list), 0, { ...step, id });
    },
    [...steps],
  );
}

function isInPlaceOf(step: Step, other: Step): boolean {
  if (step.kind !== other.kind || canonicalJson(step.selector) !== canonicalJson(other.selector)) return false;
  return STEP_KINDS.get(step.kind)?.replaces === true || canonicalJson(step.parameters) === canonicalJson(other.parameters); // prettier-ignore
}

/** Where a new step belongs in a list: see `place`. */
export function placeFor(kind: string, steps: readonly Step[]): number {
  // A kind of a newer program goes where most go.
  const { place = WHEREVER, before = [] } = STEP_KINDS.get(kind) ?? {};
  const behind = steps.findLastIndex((step) => (STEP_KINDS.get(step.kind)?.place ?? WHEREVER) <= place) + 1;
  const first = steps.findIndex((step) => before.includes(step.kind));
  return first < 0 ? behind : Math.min(behind, first);
}
