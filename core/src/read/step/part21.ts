/**
 * The index of a STEP file (ISO 10303-21): where each entity stands, its type, and what it refers to. Parameters are parsed only when
 * asked for, so that reading stays fast on files of any size.
 */
import type { Warning } from '../../errors.ts';
import { OPEN } from './characters.ts';
import type { Part21Header } from './header.ts';
import { ValueParser } from './values.ts';
import type { Value } from './values.ts';

/** Index of the entities of one file. Indices are positions in file order, ids are the numbers behind `#`. */
export class Part21 {
  readonly warnings: Warning[] = [];
  /** Type names by type number; a complex instance has the names of its parts joined by `+`. */
  readonly typeNames: string[] = [];
  readonly #typeNumbers = new Map<string, number>();
  readonly #byType = new Map<string, number[]>();
  #indexOfId: Int32Array | Map<number, number> = new Map();

  constructor(
    readonly bytes: Uint8Array,
    readonly ids: Int32Array,
    readonly starts: Float64Array,
    readonly ends: Float64Array,
    readonly types: Int32Array,
    /** `refs[refStarts[i] .. refStarts[i+1]]` are the ids that entity i refers to, in the order of the text. */
    readonly refStarts: Int32Array,
    readonly refs: Int32Array,
    typeNames: string[],
    readonly header: Part21Header,
  ) {
    this.typeNames = typeNames;
    typeNames.forEach((name, number) => this.#typeNumbers.set(name, number));
    this.#buildIndex();
  }

  get count(): number {
    return this.ids.length;
  }

  #buildIndex(): void {
    let max = 0;
    for (const id of this.ids) if (id > max) max = id;
    if (max < 4 * this.count + 1_000_000) {
      const dense = new Int32Array(max + 1).fill(-1);
      for (let i = 0; i < this.count; i++) dense[this.ids[i]] = i;
      this.#indexOfId = dense;
    } else {
      this.#indexOfId = new Map(Array.from(this.ids, (id, i) => [id, i]));
    }
    const buckets: number[][] = this.typeNames.map(() => []);
    for (let i = 0; i < this.count; i++) buckets[this.types[i]].push(i);
    this.typeNames.forEach((name, number) => {
      for (const member of new Set(name.split('+'))) {
        const list = this.#byType.get(member);
        if (list) list.push(...takeAll(buckets[number]));
        else this.#byType.set(member, buckets[number].slice());
      }
    });
  }

  /** Index of an id, or -1 where the file does not define it. */
  indexOf(id: number): number {
    if (this.#indexOfId instanceof Map) return this.#indexOfId.get(id) ?? -1;
    return id >= 0 && id < this.#indexOfId.length ? this.#indexOfId[id] : -1;
  }

  /** Indices of all entities of a type, complex instances that contain it included. */
  ofType(name: string): readonly number[] {
    return this.#byType.get(name) ?? [];
  }

  typeOf(index: number): string {
    return this.typeNames[this.types[index]];
  }

  /** True if the entity is of the type, or a complex instance with that part. */
  is(index: number, name: string): boolean {
    const type = this.typeNames[this.types[index]];
    return type === name || (type.includes('+') && type.split('+').includes(name));
  }

  /** Parameters of an entity; of a complex instance those of the part named. Errors: malformed text. */
  args(index: number, part?: string): Value[] {
    const parser = new ValueParser(this.bytes, this.starts[index], this.ends[index], this.ids[index]);
    if (!this.typeNames[this.types[index]].includes('+') && this.bytes[parser.skip()] !== OPEN)
      return parser.parameters();
    for (const record of parser.complex()) if (!part || record.type === part) return record.args;
    return [];
  }

  /** Line of the text that an entity starts on, counted from 1. */
  lineOf(index: number): number {
    let line = 1;
    for (let i = 0; i < this.starts[index]; i++) if (this.bytes[i] === 10) line++;
    return line;
  }

  /** `#12, line 40`: how an entity is named to people. */
  where(index: number): string {
    return `#${this.ids[index]}, line ${this.lineOf(index)}`;
  }
}

function* takeAll(list: number[]): Iterable<number> {
  yield* list;
}
