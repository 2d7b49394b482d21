/** The text of a STEP file (ISO 10303-21): entities with their numbers, strings, reals; and whole pieces of text numbered anew. */
import type { Content, Spool } from '../../content.ts';
import { decimalsFor, Pieces, realText } from '../pieces.ts';

const [NEWLINE, QUOTE, HASH] = [10, 39, 35];
const [COMMA, OPENS, CLOSES] = [44, 40, 41];

export class StepFile {
  readonly #pieces: Pieces;
  #next = 1;

  /** @param schema as `FILE_SCHEMA` names it */
  constructor(title: string, schema: string, spool?: Spool) {
    this.#pieces = new Pieces(spool);
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
   * Adds an entity with many points: `((1.,2.,3.),(4.,5.,6.))` between what stands before and after.
   * @returns its number
   */
  addPoints(before: string, positions: ArrayLike<number>, after: string): number {
    let reach = 0;
    for (let i = 0; i < positions.length; i++) reach = Math.max(reach, Math.abs(positions[i]));
    // Finer than single precision: slivers must not become lines.
    const decimals = Math.min(15, decimalsFor(reach) + 2);
    return this.#addGroups(before, positions, 3, after, (value) => void this.#pieces.real(value, decimals));
  }

  /** The same with groups of whole numbers, each of them larger by some. */
  addWholes(before: string, values: ArrayLike<number>, size: number, by: number, after: string): number {
    return this.#addGroups(before, values, size, after, (value) => void this.#pieces.whole(value + by));
  }

  #addGroups(
    before: string,
    values: ArrayLike<number>,
    size: number,
    after: string,
    put: (value: number) => void,
  ): number {
    const pieces = this.#pieces.text(`#${this.#next}=${before}`);
    for (let i = 0; i < values.length; i++) {
      if (i > 0) pieces.sign(COMMA);
      if (i % size === 0) pieces.sign(OPENS);
      put(values[i]);
      if (i % size === size - 1) pieces.sign(CLOSES);
    }
    pieces.text(`${after};\n`);
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

  /** Ends the file. */
  content(): Content {
    return this.#pieces.text('ENDSEC;\nEND-ISO-10303-21;\n').content();
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

export const real = realText;

export const reals = (values: readonly number[]) => `(${values.map(real).join(',')})`;
export const list = (ids: readonly number[]) => `(${ids.map((id) => `#${id}`).join(',')})`;
