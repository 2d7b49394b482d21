/** A step as it is kept: which kind, on or off, what it concerns, its parameters. */
import type { Selector } from '../select/selector.ts';

/** One operation of a preparation. */
export interface Step {
  id: string;
  kind: string;
  on: boolean;
  selector: Selector;
  parameters: object;
  /** Format of the parameters, as the kind counts it; 1 where nothing is said. */
  format?: number;
}
