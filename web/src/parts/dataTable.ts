/** Columns of a table, and the order of its rows. */

export interface TableColumn<R> {
  id: string;
  /** With its unit. */
  title: string;
  /** A track of a grid: `80px`, `2fr`. */
  width?: string;
  /** Stands on the right edge, and is sorted from the largest. */
  figure?: boolean;
  text?(row: R): string;
  /** What it is sorted by; not at all where nothing is said. Undefined goes last, whichever way. */
  by?(row: R): number | string | undefined;
}

/** Sorted, equal ones as they stood. */
export function sortedBy<R>(
  rows: readonly R[],
  by: (row: R) => number | string | undefined,
  descending: boolean,
): readonly R[] {
  const keyed = rows.map((row) => ({ row, key: by(row) }));
  const way = descending ? -1 : 1;
  return keyed
    .sort(({ key: a }, { key: b }) => {
      if (a === undefined || b === undefined) return Number(a === undefined) - Number(b === undefined);
      if (typeof a === 'number' && typeof b === 'number') return way * (a - b);
      return way * String(a).localeCompare(String(b), 'en', { numeric: true });
    })
    .map(({ row }) => row);
}
