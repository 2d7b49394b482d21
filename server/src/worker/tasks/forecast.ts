/** Task: forecasts the triangles of the solids of a job at several limits. */
import { forecast as forecastOf } from '@noble-prism/core/preparation/forecast';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

export const forecast: Runner = async (task, context, progress, signal) => {
  const { scene, around } = await new EvaluationService(context, progress, signal).untessellated(task.job);
  return { ...(await forecastOf(scene, Number(task.payload.angle), around)) };
};
