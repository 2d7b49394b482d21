/** Task: does the work of steps that somebody looks at before they are applied. No version is made; what was computed stays remembered. */
import type { Step } from '@noble-prism/core/steps/kinds';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

export const tryOut: Runner = async (task, context, progress, signal) => {
  const { steps } = task.payload as { steps: Step[] };
  const { counts } = await new EvaluationService(context, progress, signal).tried(task.job, steps);
  return { worked: counts.worked };
};
