/** Sets of rows of a scene: a byte for each row, so that a rule that names a million of them costs a megabyte. */

/** What steps and views ask of a set of rows; a plain set of numbers is one too. */
export interface RowSet extends Iterable<number> {
  readonly size: number;
  has(row: number): boolean;
}

export class Rows implements RowSet {
  readonly size: number;

  /** @param mask 1 for each row that is in the set */
  constructor(readonly mask: Uint8Array) {
    let size = 0;
    for (let row = 0; row < mask.length; row++) size += mask[row];
    this.size = size;
  }

  /** @param length how many rows there are */
  static of(length: number, rows: Iterable<number>): Rows {
    const mask = new Uint8Array(length);
    for (const row of rows) mask[row] = 1;
    return new Rows(mask);
  }

  has(row: number): boolean {
    return this.mask[row] === 1;
  }

  *[Symbol.iterator](): Iterator<number> {
    const { mask } = this;
    for (let row = mask.indexOf(1); row >= 0; row = mask.indexOf(1, row + 1)) yield row;
  }
}

export const NO_ROWS = new Rows(new Uint8Array());
