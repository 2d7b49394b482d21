/** Tells how far the rows of a large file are, with the names of the latest of them. */
import type { Seen } from '../surroundings.ts';
import type { SourceFile } from './reader.ts';
import { SEEN_NAMES } from './scanner.ts';

/** Rows between two reports. */
export const ROWS_REPORTED = 20_000;

export class RowProgress {
  #count = 0;
  readonly #names: string[] = [];

  /**
   * @param so what is known of the file
   * @param total rows that are expected
   * @param from share of the whole that was done before the first row, 0 to 1
   */
  constructor(
    readonly tell: SourceFile['progress'],
    readonly so: Pick<Seen, 'format' | 'head' | 'what'>,
    readonly total: number,
    readonly from: number,
  ) {}

  /** A row has come by. */
  row(name: string): void {
    const left = ++this.#count % ROWS_REPORTED;
    if (left > 0 && left <= ROWS_REPORTED - SEEN_NAMES) return;
    this.#names.push(name);
    if (left > 0) return;
    const share = Math.min(1, this.#count / Math.max(1, this.total));
    this.tell?.(this.from + (1 - this.from) * share, { ...this.so, count: this.#count, names: this.#names.splice(0) }); // prettier-ignore
  }
}
