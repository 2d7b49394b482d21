/** What is wrong with a step as it stands: shown by its mark in the list, and once more before anything is sent. */
import { counted } from '@noble-prism/core/units';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';

/** In words; empty where nothing is. @param empty true while no source has any row yet */
export function troublesOf(report: StepReport | undefined, empty: boolean): string[] {
  if (!report?.on || empty) return [];
  return [
    ...(report.matched === 0 ? ['finds nothing: no row matches its rule'] : []),
    ...(report.lost.length > 0
      ? [`${counted(report.lost.length, 'picked row is', 'picked rows are')} no longer there`]
      : []),
    ...report.problems,
  ];
}
