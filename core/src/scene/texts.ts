/**
 * Tables of texts. A table never changes; what is added to it is a further layer over the same older ones, so that scenes before and
 * after a step share what they have in common. Number 0 is the empty text, which stands for none.
 */

interface Layer {
  /** Numbers of the table before it. */
  start: number;
  length: number;
  at(index: number): string;
  mayBegin(index: number, codes: readonly number[], from: number): boolean;
}

/** Makes a text of an older one. */
export interface NameMaker {
  (text: string, index: number): string;
  /** What all of them begin with. */
  readonly start: string;
  /** True where the older text follows upon the start. */
  readonly goesOn: boolean;
}

/** Texts as they come: equal ones may have several numbers. For names, of which there are as many as rows. */
export class Texts {
  static readonly NONE = new Texts([listLayer(0, [''])]);
  readonly length: number;
  /** Hash of each text, made when it is first asked for. */
  #hashes: Int32Array | undefined;

  protected constructor(readonly layers: readonly Layer[]) {
    const last = layers.at(-1);
    this.length = last ? last.start + last.length : 0;
  }

  get(number: number): string {
    // The oldest layer first: most rows are as they were received.
    for (const layer of this.layers) if (number < layer.start + layer.length) return layer.at(number - layer.start);
    return '';
  }

  /**
   * False where a text surely does not begin with some letters, in either case; told without writing the text out. Letters beyond ASCII
   * have more forms than two, so that from the first of them on it may.
   * @param codes of small letters, ASCII
   */
  mayBegin(number: number, codes: readonly number[], from = 0): boolean {
    for (let i = 0; i < this.layers.length; i++) {
      const layer = this.layers[i];
      const index = number - layer.start;
      if (index < layer.length) return layer.mayBegin(index, codes, from);
    }
    return true;
  }

  with(added: readonly string[]): Texts {
    return added.length === 0 ? this : new Texts([...this.layers, listLayer(this.length, added)]);
  }

  /**
   * The table with texts more that are made of older ones when somebody reads them: new names for a million rows are no million strings.
   * @param of number of the older text that each is made of
   */
  derived(of: Int32Array, make: NameMaker): Texts {
    if (of.length === 0) return this;
    const at = (index: number) => make(this.get(of[index]), index);
    const { start } = make;
    const mayBegin = (index: number, codes: readonly number[], from: number) =>
      lettersMayBegin(start, 0, start.length, codes, from) &&
      (!make.goesOn || start.length > codes.length - from || this.mayBegin(of[index], codes, from + start.length));
    return new Texts([...this.layers, { start: this.length, length: of.length, at, mayBegin }]);
  }

  /** The same texts, and after them those of another table: number n of the other becomes `this.length + n`. */
  joined(other: Texts): Texts {
    if (other.length === 0) return this;
    const moved = other.layers.map((layer) => ({ ...layer, start: layer.start + this.length }));
    return new Texts([...this.layers, ...moved]);
  }

  /** The oldest texts alone. */
  first(count: number): Texts {
    if (count >= this.length) return this;
    const kept = this.layers.filter(({ start }) => start < count);
    return new Texts(kept.map((layer) => ({ ...layer, length: Math.min(layer.length, count - layer.start) })));
  }

  /** How many texts this table and another have in common, because they share the layers that hold them. */
  sharedWith(other: Texts): number {
    let shared = 0;
    for (let i = 0; i < this.layers.length && this.layers[i] === other.layers[i]; i++)
      shared = this.layers[i].start + this.layers[i].length;
    return shared;
  }

  /** A number for each text that is the same for equal texts (FNV-1a, 32 bits). */
  get hashes(): Int32Array {
    if (this.#hashes) return this.#hashes;
    const out = new Int32Array(this.length);
    for (const layer of this.layers) out.set(hashesOf(layer).subarray(0, layer.length), layer.start);
    return (this.#hashes = out);
  }

  /** Every text, in the order of the numbers. */
  [Symbol.iterator](): Iterator<string> {
    return this.since(0);
  }

  /** The texts from a number on. */
  *since(from: number): IterableIterator<string> {
    for (const { start, length, at } of this.layers)
      for (let i = Math.max(0, from - start); i < length; i++) yield at(i);
  }

  /** The table of texts that were written one after the other, with the place where each ends. Read without making a string of each. */
  static from(together: string, ends: Uint32Array): Texts {
    const at = (index: number) => together.slice(index === 0 ? 0 : ends[index - 1], ends[index]);
    const mayBegin = (index: number, codes: readonly number[], from: number) =>
      lettersMayBegin(together, index === 0 ? 0 : ends[index - 1], ends[index], codes, from);
    return new Texts([{ start: 0, length: ends.length, at, mayBegin }]);
  }
}

/** Equal texts have one number. For what is compared: meshes, materials, layers, classes, sources. */
export class Words {
  static readonly NONE = new Words(['']);
  readonly #texts: string[];
  readonly #numbers: Map<string, number>;
  readonly length: number;

  private constructor(texts: string[], numbers?: Map<string, number>) {
    this.#texts = texts;
    this.#numbers = numbers ?? new Map(texts.map((text, number) => [text, number]));
    this.length = texts.length;
  }

  get(number: number): string {
    return this.#texts[number];
  }

  /** -1 where it is not there. */
  find(text: string): number {
    const number = this.#numbers.get(text);
    // A younger table may have added to the lists that both share.
    return number !== undefined && number < this.length ? number : -1;
  }

  /** The table with some texts more; it shares the lists of this one, unless another has added to them before. */
  with(added: readonly string[]): Words {
    if (added.length === 0) return this;
    if (this.#texts.length > this.length) return new Words([...this.#texts.slice(0, this.length), ...added]);
    for (const text of added) this.#numbers.set(text, this.#texts.push(text) - 1);
    return new Words(this.#texts, this.#numbers);
  }

  /** The oldest words alone. */
  first(count: number): Words {
    return count >= this.length ? this : new Words(this.#texts.slice(0, count));
  }

  slice(from = 0): string[] {
    return this.#texts.slice(from, this.length);
  }

  static from(texts: string[]): Words {
    return new Words(texts);
  }
}

function listLayer(start: number, texts: readonly string[]): Layer {
  const mayBegin = (index: number, codes: readonly number[], from: number) =>
    lettersMayBegin(texts[index], 0, texts[index].length, codes, from);
  return { start, length: texts.length, at: (index) => texts[index], mayBegin };
}

/** Compares as many letters as there are on both sides: what a text lacks may follow. */
function lettersMayBegin(text: string, at: number, end: number, codes: readonly number[], from: number): boolean {
  for (let i = from; i < codes.length && at < end; i++, at++) {
    const code = text.charCodeAt(at);
    if (code > LAST_OF_ASCII) return true;
    if (code !== codes[i] && (code | 0x20) !== codes[i]) return false;
  }
  return true;
}

const LAST_OF_ASCII = 0x7e;

/** Hashes of the texts of a layer, made once for all tables that have it. */
const layerHashes = new WeakMap<Layer['at'], Int32Array>();

function hashesOf({ length, at }: Layer): Int32Array {
  let known = layerHashes.get(at);
  if (!known || known.length < length) {
    known = Int32Array.from({ length }, (_, i) => hashOfText(at(i)));
    layerHashes.set(at, known);
  }
  return known;
}

function hashOfText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
}
