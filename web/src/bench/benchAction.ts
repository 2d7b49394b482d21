/** What can be done on the bench, and how it is found by words. */

import { ranked } from '../parts/wordRank.ts';

export interface BenchAction {
  id: string;
  title: string;
  /** What it does, in a sentence. */
  purpose?: string;
  /** Other words that people look for it by. */
  also?: readonly string[];
  /** Heading that it stands under. */
  group: 'Selection' | 'Prepare' | 'View' | 'Steps' | 'Stations' | 'Bench';
  /** As people read it: `F`, `Ctrl Z`. */
  keys?: string;
  /** Key that is pressed without others; the ledger and the browser have keys of their own. */
  press?: string;
  /** True where it works on what is selected. */
  onSelection?: boolean;
  /** False where it cannot be done now. */
  enabled?: boolean;
  run(): void;
}

/** Actions that words are found in, best first: those that begin a title before those that stand elsewhere. All where nothing is sought. */
export function findActions(actions: readonly BenchAction[], sought: string): BenchAction[] {
  return ranked(actions, sought, ({ title, also = [], purpose = '' }) => ({ title, also: [...also, purpose] }));
}
