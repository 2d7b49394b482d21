/** Task: reads what is exact in some solids of a job. */
import { readShapes } from '@noble-prism/core/preparation/exact';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

export const exact: Runner = async (task, context, progress, signal) => {
  const { scene, around } = await new EvaluationService(context, progress, signal).untessellated(task.job);
  return { shapes: await readShapes(scene, task.payload.solids as string[], around) };
};
