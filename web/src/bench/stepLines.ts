/** The steps of the job as lines of a list: number, words, figures and troubles of each. */
import { computed } from 'vue';
import type { ComputedRef } from 'vue';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { STEP_KINDS, summaryOf, titleOf } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { useKnown } from './known.ts';
import { troublesOf } from './stepTroubles.ts';

export interface StepLine {
  step: Step;
  /** Place in the order in which the steps are applied, from 1. */
  number: number;
  title: string;
  /** What it does, and what it does it to. */
  summary: string;
  rule: string;
  station: string;
  report?: StepReport;
  /** Triangles drawn after it, and how many more or fewer that are than before. */
  triangles?: number;
  change?: number;
  troubles: string[];
}

/** Station of steps that no station here knows. */
const NOWHERE = 'receive';

export function useStepLines(): ComputedRef<StepLine[]> {
  const store = useJob();
  const known = useKnown();
  return computed(() => {
    const reports = new Map((store.evaluation?.reports ?? []).map((report) => [report.id, report]));
    const isEmpty = store.base.nodes.length === 0;
    let before: number | undefined;
    return store.steps.map((step, i): StepLine => {
      const report = reports.get(step.id);
      const triangles = report?.on ? report.triangles : undefined;
      const change = triangles !== undefined && before !== undefined ? triangles - before : undefined;
      before = triangles ?? before;
      return {
        step,
        number: i + 1,
        title: titleOf(step),
        summary: summaryOf(step),
        rule: known.rule(step.selector),
        station: STEP_KINDS.get(step.kind)?.station ?? NOWHERE,
        ...(report ? { report } : {}),
        ...(triangles === undefined ? {} : { triangles }),
        ...(change === undefined ? {} : { change }),
        troubles: troublesOf(report, isEmpty),
      };
    });
  });
}

/** Lines in which all words are found, in title, words or rule. */
export function linesWith(lines: readonly StepLine[], sought: string): StepLine[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  return lines.filter(({ title, summary, rule, troubles }) => {
    const text = [title, summary, rule, ...troubles].join(' ').toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** The lines of the strip: those of a station first, then the others in their order. */
export function stationFirst(lines: readonly StepLine[], station: string): StepLine[] {
  return [...lines.filter((line) => line.station === station), ...lines.filter((line) => line.station !== station)];
}
