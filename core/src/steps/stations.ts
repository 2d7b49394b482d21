/** The stations that steps are edited in, in the order of the work. */
export const STEP_STATIONS = ['receive', 'arrange', 'finishes', 'lighten'] as const;
export type StepStation = (typeof STEP_STATIONS)[number];
