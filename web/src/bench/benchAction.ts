/** What can be done on the bench, and how it is found by words. */

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
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = ({ title, also = [], purpose = '' }: BenchAction): number | undefined => {
    let worst = 0;
    for (const word of words) {
      const name = title.toLowerCase();
      const at = name.startsWith(word)
        ? 0
        : name.split(/\W+/).some((part) => part.startsWith(word))
          ? 1
          : name.includes(word)
            ? 2
            : also.some((other) => other.toLowerCase().includes(word))
              ? 3
              : purpose.toLowerCase().includes(word)
                ? 4
                : undefined;
      if (at === undefined) return undefined;
      worst = Math.max(worst, at);
    }
    return worst;
  };
  return actions
    .flatMap((action) => {
      const at = rank(action);
      return at === undefined ? [] : [{ action, at }];
    })
    .sort((a, b) => a.at - b.at)
    .map(({ action }) => action);
}
