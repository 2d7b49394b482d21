/** Task: computes what the current version of a job needs. */
import { EvaluationService, summarized } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

export const evaluate: Runner = async (task, context, progress, signal) => {
  const { evaluation, version } = await new EvaluationService(context, progress, signal).version(task.job);
  return {
    // What was computed of a beginning is no version of the job.
    ...(task.payload.beginning ? { beginning: true } : { version: version.number }),
    ...summarized(evaluation),
  };
};
