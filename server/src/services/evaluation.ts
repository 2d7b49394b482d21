/** Evaluates versions of jobs: their sources, their steps, and the results that are known. */
import { evaluate, figuresOf } from '@noble-prism/core/preparation/evaluate';
import type { Evaluation } from '@noble-prism/core/preparation/evaluate';
import { stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { tessellateStep } from '@noble-prism/core/steps/tessellate';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Progress, Surroundings } from '@noble-prism/core/surroundings';
import { tell } from '../db/events.ts';
import { findJob, findVersion } from '../db/jobs.ts';
import { CheckedMemo, DatabaseMemo } from '../db/memo.ts';
import { wantedKeys } from '../db/tasks.ts';
import type { WorkContext } from './context.ts';
import { sourceScenes } from './storage.ts';

/** What of an evaluation is kept as the result of its task. */
export interface EvaluationSummary {
  /** The name of the result: what the page computes from the same sources and steps has the same one. */
  key: string;
  /** What the steps did, in short: the page has to come to the same. */
  figures: string;
  counts: Evaluation['counts'];
  problems: number;
}

export class EvaluationService {
  constructor(
    readonly context: WorkContext,
    readonly progress: (progress: Progress) => void,
    readonly signal: AbortSignal,
  ) {}

  /**
   * Evaluates a version to the end; others hear of each result as it is there.
   * @param number the current version where nothing is said
   * @throws PrismError `not-found`, `cancelled`
   */
  async version(
    job: string,
    number?: number,
  ): Promise<{ evaluation: Evaluation; version: { number: number; steps: Step[]; sources: string[] } }> {
    const { db } = this.context;
    const version = number === undefined ? (await findJob(db, job)).version : await findVersion(db, job, number);
    return { evaluation: await this.#evaluated(job, version), version };
  }

  /** The sources of the current version with other steps, which nobody has saved. @throws PrismError `not-found`, `cancelled` */
  async tried(job: string, steps: Step[]): Promise<Evaluation> {
    const { version } = await findJob(this.context.db, job);
    return this.#evaluated(job, { ...version, steps });
  }

  async #evaluated(job: string, { sources, steps }: { sources: string[]; steps: Step[] }): Promise<Evaluation> {
    const { db, blobs, scenes } = this.context;
    const { base, key } = await sourceScenes(db, blobs, job, sources);
    const around: Surroundings = {
      ...this.#around(),
      wanted: () => wantedKeys(db, job),
      finished: (result, value) => void tell(db, { type: 'result', job, key: result, value }).catch(() => {}),
    };
    return evaluate(base, key, steps, around, scenes);
  }

  /** The sources of a job after the steps that decide what there is to tessellate, and how large it is. */
  async untessellated(
    job: string,
  ): Promise<{ base: Scene; baseKey: string; steps: Step[]; scene: Scene; around: Surroundings }> {
    const { db, blobs, scenes } = this.context;
    const { version } = await findJob(db, job);
    const { base, key } = await sourceScenes(db, blobs, job, version.sources);
    const steps = version.steps.filter(({ kind }) => stepKind(kind).place < tessellateStep.place);
    const around = this.#around();
    const { scene } = await evaluate(base, key, steps, around, scenes);
    return { base, baseKey: key, steps, scene, around };
  }

  #around(): Surroundings {
    const { db, blobs, workbench } = this.context;
    return {
      blobs,
      workbench,
      memo: new CheckedMemo(new DatabaseMemo(db), blobs),
      progress: this.progress,
      signal: this.signal,
    };
  }
}

export function summarized({ key, counts, reports, scene }: Evaluation): EvaluationSummary {
  return {
    key,
    figures: figuresOf({ reports, scene }),
    counts,
    problems: reports.reduce((sum, report) => sum + report.problems.length, 0),
  };
}
