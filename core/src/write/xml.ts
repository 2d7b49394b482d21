/** Text of XML documents: elements as they are written one after the other, with what would end a value written otherwise. */
import type { Content, Spool } from '../content.ts';
import { Pieces } from './pieces.ts';

/** Characters that XML 1.0 has no place for; lone halves of pairs are no characters at all. */
const IMPOSSIBLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

const SIGNS: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\n': '&#10;', '\t': '&#9;', '\r': '&#13;' }; // prettier-ignore

export function escaped(text: string): string {
  return text.replace(IMPOSSIBLE, '\ufffd').replace(/[&<>"\n\t\r]/g, (sign) => SIGNS[sign]);
}

type Attributes = Readonly<Record<string, string | number | undefined>>;

export class XmlText {
  readonly pieces: Pieces;
  readonly #open: string[] = [];

  constructor(spool?: Spool) {
    this.pieces = new Pieces(spool);
    this.pieces.text('<?xml version="1.0" encoding="UTF-8"?>\n');
  }

  /** An element that others stand in, up to {@link end}. */
  begin(name: string, attributes: Attributes = {}): this {
    this.#head(name, attributes).text('>\n');
    this.#open.push(name);
    return this;
  }

  end(): this {
    this.pieces.text(`</${this.#open.pop() ?? ''}>\n`);
    return this;
  }

  within(name: string, attributes: Attributes, fill: () => void): this {
    this.begin(name, attributes);
    fill();
    return this.end();
  }

  /** An element without content, or with a text. */
  leaf(name: string, attributes: Attributes = {}, text?: string): this {
    const head = this.#head(name, attributes);
    if (text === undefined) head.text('/>\n');
    else head.text(`>${escaped(text)}</${name}>\n`);
    return this;
  }

  /** An element with numbers. */
  numbers(name: string, attributes: Attributes, values: ArrayLike<number>, decimals: number): this {
    this.#head(name, attributes).text('>').numbers(values, 0, values.length, decimals).text(`</${name}>\n`);
    return this;
  }

  #head(name: string, attributes: Attributes): Pieces {
    const written = Object.entries(attributes).map(([key, value]) => (value === undefined ? '' : ` ${key}="${escaped(String(value))}"`)); // prettier-ignore
    return this.pieces.text(`<${name}${written.join('')}`);
  }

  content(): Content {
    return this.pieces.content();
  }
}

/** Names of elements: letters, digits and underscores, beginning with a letter, none twice. A hyphen begins what is added to one: no other name is that. */
export class XmlIds {
  readonly #taken = new Set<string>();
  readonly #last = new Map<string, number>();

  next(name: string): string {
    const plain = name.normalize('NFKD').replace(/[\u0300-\u036f]/g, '').replace(/[^A-Za-z0-9_]+/g, '_').replace(/^_+|_+$/g, '').slice(0, 200); // prettier-ignore
    const base = plain === '' ? 'Part' : /^[A-Za-z]/.test(plain) ? plain : `N${plain}`;
    let own = base;
    for (let n = (this.#last.get(base) ?? 1) + 1; this.#taken.has(own); n++) {
      own = `${base}_${n}`;
      this.#last.set(base, n);
    }
    this.#taken.add(own);
    return own;
  }
}
