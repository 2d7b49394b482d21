/** The text of a layer of USD (usda), put together piece by piece: numbers, strings, names of prims. */
import type { Content, Spool } from '../../content.ts';
import { Pieces } from '../pieces.ts';

/** Levels that are set in. */
const DEEPEST = 8;

export class UsdText {
  readonly #pieces: Pieces;
  #depth = 0;

  constructor(spool?: Spool) {
    this.#pieces = new Pieces(spool);
  }

  line(text: string): void {
    this.piece(`${this.#indent}${text}\n`);
  }

  /** Levels are set in up to some depth: in a tree of thousands of levels the blanks would be most of the file. */
  get #indent(): string {
    return '    '.repeat(Math.min(this.#depth, DEEPEST));
  }

  /** Text as it is, within a line. */
  piece(text: string): void {
    this.#pieces.text(text);
  }

  /** A prim, or whatever stands in braces, up to the end. @param metadata lines between parentheses */
  begin(head: string, metadata: readonly string[] = []): void {
    if (metadata.length > 0) {
      this.line(`${head} (`);
      for (const text of metadata) this.line(`    ${text}`);
      this.line(')');
    } else this.line(head);
    this.line('{');
    this.#depth++;
  }

  end(): void {
    this.#depth--;
    this.line('}');
  }

  block(head: string, metadata: readonly string[], fill: () => void): void {
    this.begin(head, metadata);
    fill();
    this.end();
  }

  /** An attribute that is a list of values of so many numbers each. @param decimals of a number at most */
  list(head: string, values: ArrayLike<number>, width: number, decimals: number): void {
    const pieces = this.#pieces.text(`${this.#indent}${head} = [`);
    for (let i = 0; i < values.length; i += width) {
      if (i > 0) pieces.sign(COMMA).sign(BLANK);
      if (width > 1) pieces.sign(OPEN);
      for (let k = 0; k < width; k++) {
        if (k > 0) pieces.sign(COMMA).sign(BLANK);
        pieces.number(values[i + k], decimals);
      }
      if (width > 1) pieces.sign(CLOSE);
    }
    pieces.text(']');
  }

  /** Ends the line of a list. @param metadata of the attribute */
  endList(metadata = ''): void {
    this.piece(`${metadata}\n`);
  }

  content(): Content {
    return this.#pieces.content();
  }
}

const [COMMA, BLANK, OPEN, CLOSE] = [44, 32, 40, 41];

/** A number in double precision; what is none is nothing. */
export const double = (value: number) => (Number.isFinite(value) ? String(value) : '0');

export const tuple = (values: ArrayLike<number>, each = double) => `(${Array.from(values, each).join(', ')})`;

/** A string in quotes, with what would end it or the line written otherwise. */
export function quoted(text: string): string {
  const safe = text
    .replace(/[\\"]/g, '\\$&')
    .replace(/\n/g, '\\n')
    .replace(/\r/g, '\\r')
    .replace(/\t/g, '\\t')
    .replace(/[\u0000-\u001f]/g, ' ');
  return `"${safe}"`;
}

/** Names of prims below one another: letters, digits and underscores, none twice. */
export class PrimNames {
  readonly #taken: Set<string>;
  /** The number that was given last to others of one name. */
  readonly #last = new Map<string, number>();

  /** @param reserved names that are used otherwise */
  constructor(reserved: readonly string[] = []) {
    this.#taken = new Set(reserved);
  }

  next(name: string): string {
    const plain = name.normalize('NFKD').replace(/[^A-Za-z0-9]+/g, '_').replace(/^_+|_+$/g, ''); // prettier-ignore
    const base = plain === '' ? 'Part' : /^\d/.test(plain) ? `N${plain}` : plain;
    let own = base;
    for (let n = (this.#last.get(base) ?? 1) + 1; this.#taken.has(own); n++) {
      own = `${base}_${n}`;
      this.#last.set(base, n);
    }
    this.#taken.add(own);
    return own;
  }
}
