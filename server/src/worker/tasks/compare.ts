/** Task: tessellates one part at several settings. */
import { compareSettings } from '@noble-prism/core/preparation/compare';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

export const compare: Runner = async (task, context, progress, signal) => {
  const { part, settings } = task.payload as { part: string; settings: TessellateParameters[] };
  const service = new EvaluationService(context, progress, signal);
  const { base, baseKey, steps, around } = await service.untessellated(task.job);
  return { part, made: await compareSettings(base, baseKey, steps, part, settings, around, context.scenes) };
};
