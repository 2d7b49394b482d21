/** All kinds of step by name, and the schema of a whole step. */
import { array, boolean, lazy, mixed, object, string } from 'yup';
import { PrismError } from '../errors.ts';
import { selectorSchema } from '../preparation/selector.ts';
import type { Selector } from '../preparation/selector.ts';
import { finishesStep } from './finishes.ts';
import type { StepKind } from './kind.ts';
import { leaveOutStep } from './leaveOut.ts';
import { pivotStep } from './pivot.ts';
import { reduceStep } from './reduce.ts';
import { renameStep } from './rename.ts';
import { tessellateStep } from './tessellate.ts';
import { texturesStep } from './textures.ts';
import { turnStep } from './turn.ts';
import { unitStep } from './unit.ts';
import { upStep } from './up.ts';
import { variantStep } from './variant.ts';
import { wiresStep } from './wires.ts';

/** One operation of a preparation. */
export interface Step {
  id: string;
  kind: string;
  on: boolean;
  selector: Selector;
  parameters: object;
}

const list: StepKind<never>[] = [
  wiresStep as StepKind<never>,
  leaveOutStep as StepKind<never>,
  unitStep as StepKind<never>,
  upStep as StepKind<never>,
  variantStep as StepKind<never>,
  tessellateStep as StepKind<never>,
  turnStep as StepKind<never>,
  finishesStep as StepKind<never>,
  texturesStep as StepKind<never>,
  pivotStep as StepKind<never>,
  renameStep as StepKind<never>,
  reduceStep as StepKind<never>,
];

export const STEP_KINDS: ReadonlyMap<string, StepKind> = new Map(
  list.map((kind) => [kind.kind, kind as unknown as StepKind]),
);

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
export const stepSchema = lazy((value: { kind?: string } | undefined) =>
  object({
    id: string().required().max(64),
    kind: string()
      .required()
      .oneOf([...STEP_KINDS.keys()]),
    on: boolean().required(),
    selector: selectorSchema,
    parameters: STEP_KINDS.get(value?.kind ?? '')?.schema.noUnknown() ?? mixed(),
  }).noUnknown(),
);

export const stepsSchema = array(stepSchema as never)
  .required()
  .max(500);

/**
 * Checks and fills a list of steps that came from outside.
 * @throws PrismError `bad-parameters` naming the step
 */
export function checkSteps(value: unknown): Step[] {
  try {
    return stepsSchema.validateSync(value, { strict: true }) as unknown as Step[];
  } catch (error) {
    const { path, message } = error as { path?: string; message: string };
    throw new PrismError('bad-parameters', message, path ? { where: path } : {});
  }
}
