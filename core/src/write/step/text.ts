/** The text of a STEP file (ISO 10303-21): entities with their numbers, strings, reals; and whole pieces of text numbered anew. */
import { Pieces } from '../pieces.ts';

const [NEWLINE, QUOTE, HASH] = [10, 39, 35];
/** Letters that are put together before they become bytes. */
const LONG = 8192;

export class StepFile {
  readonly #pieces = new Pieces();
  #next = 1;

  /** @param schema as `FILE_SCHEMA` names it */
  constructor(title: string, schema: string) {
    // The same content is the same file: no time of making stands in it.
    this.#pieces.text(
      `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME(${string(title)},'1980-01-01T00:00:00',(''),(''),'Noble Prism','Noble Prism','');\n` +
        `FILE_SCHEMA(('${schema}'));\nENDSEC;\nDATA;\n`,
    );
  }

  /** Adds an entity. @returns its number */
  add(text: string): number {
    this.#pieces.text(`#${this.#next}=${text};\n`);
    return this.#next++;
  }

  /**
   * Adds an entity with many numbers, in groups: `((1.,2.,3.),(4.,5.,6.))` between what stands before and after.
   * @returns its number
   */
  addLong(
    before: string,
    values: ArrayLike<number>,
    size: number,
    say: (value: number) => string,
    after: string,
  ): number {
    const pieces = this.#pieces.text(`#${this.#next}=${before}`);
    let part = '';
    for (let i = 0; i < values.length; i++) {
      part += `${i % size === 0 ? (i > 0 ? ',(' : '(') : ','}${say(values[i])}${i % size === size - 1 ? ')' : ''}`;
      if (part.length < LONG) continue;
      pieces.text(part);
      part = '';
    }
    pieces.text(`${part}${after};\n`);
    return this.#next++;
  }

  /**
   * Adds the first entities of another text, numbered anew: what is number 1 there gets the number that is returned.
   * @param count how many
   */
  adopt(entities: Uint8Array, count: number): number {
    const first = this.#next;
    const by = first - 1;
    const out = new Uint8Array(entities.length + count * 2 + (entities.length >> 1) + 64);
    let at = 0;
    let inText = false;
    for (let i = 0; i < entities.length; i++) {
      const c = entities[i];
      out[at++] = c;
      if (c === QUOTE) inText = !inText;
      if (c !== HASH || inText) continue;
      let id = 0;
      while (entities[i + 1] >= 48 && entities[i + 1] <= 57) id = id * 10 + entities[++i] - 48;
      for (const digit of String(id + by)) out[at++] = digit.charCodeAt(0);
    }
    this.#pieces.raw(out.slice(0, at));
    if (entities.at(-1) !== NEWLINE) this.#pieces.text('\n');
    this.#next += count;
    return first;
  }

  bytes(): Uint8Array {
    return this.#pieces.text('ENDSEC;\nEND-ISO-10303-21;\n').bytes();
  }
}

/** A string; what is not ASCII as UTF-16 (ISO 10303-21, 6.4.3). */
export function string(text: string): string {
  let out = '';
  let open = false;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    const isPlain = code >= 32 && code < 127;
    if (isPlain === open) {
      out += open ? '\\X0\\' : '\\X2\\';
      open = !open;
    }
    if (!isPlain) out += code.toString(16).toUpperCase().padStart(4, '0');
    else out += text[i] === "'" ? "''" : text[i] === '\\' ? '\\\\' : text[i];
  }
  return `'${out}${open ? '\\X0\\' : ''}'`;
}

/** A real has a point: `1.`, `1.E-7`. */
export function real(value: number): string {
  const [mantissa, exponent] = String(value + 0).split('e');
  const whole = mantissa.includes('.') ? mantissa : `${mantissa}.`;
  return exponent === undefined ? whole : `${whole}E${Number(exponent)}`;
}

export const reals = (values: readonly number[]) => `(${values.map(real).join(',')})`;
export const list = (ids: readonly number[]) => `(${ids.map((id) => `#${id}`).join(',')})`;
