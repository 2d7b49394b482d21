/** The text of a layer of USD (usda), put together piece by piece: numbers, strings, names of prims. */

/** Characters after which text becomes bytes: one string of a large model would be longer than strings may be. */
const PIECE = 1 << 20;

/** Levels that are set in. */
const DEEPEST = 8;

export class UsdText {
  readonly #encoder = new TextEncoder();
  readonly #done: Uint8Array[] = [];
  #open: string[] = [];
  #length = 0;
  #depth = 0;

  line(text: string): void {
    this.piece(`${this.#indent}${text}\n`);
  }

  /** Levels are set in up to some depth: in a tree of thousands of levels the blanks would be most of the file. */
  get #indent(): string {
    return '    '.repeat(Math.min(this.#depth, DEEPEST));
  }

  /** Text as it is, within a line. */
  piece(text: string): void {
    this.#open.push(text);
    this.#length += text.length;
    if (this.#length > PIECE) this.#flush();
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

  /** An attribute that is a list. @param each text of the value that begins at a number of the list */
  list(head: string, values: ArrayLike<number>, width: number, each: (value: number) => string): void {
    this.piece(`${this.#indent}${head} = [`);
    for (let i = 0; i < values.length; i += width) {
      const own: string[] = [];
      for (let k = 0; k < width; k++) own.push(each(values[i + k]));
      this.piece(`${i > 0 ? ', ' : ''}${width > 1 ? `(${own.join(', ')})` : own[0]}`);
    }
    this.piece(']');
  }

  /** Ends the line of a list. @param metadata of the attribute */
  endList(metadata = ''): void {
    this.piece(`${metadata}\n`);
  }

  bytes(): Uint8Array {
    this.#flush();
    const out = new Uint8Array(this.#done.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const piece of this.#done) {
      out.set(piece, at);
      at += piece.length;
    }
    return out;
  }

  #flush(): void {
    this.#done.push(this.#encoder.encode(this.#open.join('')));
    this.#open = [];
    this.#length = 0;
  }
}

/** A number in double precision; what is none is nothing. */
export const double = (value: number) => (Number.isFinite(value) ? String(value) : '0');

/** A number in single precision, in as few digits as tell it from its neighbours. */
export function float(value: number): string {
  if (Number.isInteger(value) && Math.abs(value) < 1e7) return String(value);
  const single = Math.fround(value);
  for (const digits of [6, 7, 8]) {
    const text = Number(single.toPrecision(digits));
    if (Math.fround(text) === single) return String(text);
  }
  return Number.isFinite(single) ? String(Number(single.toPrecision(9))) : '0';
}

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
