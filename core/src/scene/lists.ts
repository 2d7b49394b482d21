/**
 * Table of short lists of numbers (the materials of a part, its properties): equal lists have one number, and number 0 is the empty
 * list. It never changes; a younger table shares the lists of the older one.
 */
export class Lists {
  static readonly NONE = new Lists([[]]);
  readonly #lists: (readonly number[])[];
  readonly #numbers: Map<string, number>;
  readonly length: number;

  private constructor(lists: (readonly number[])[], numbers?: Map<string, number>) {
    this.#lists = lists;
    this.#numbers = numbers ?? new Map(lists.map((list, number) => [list.join(), number]));
    this.length = lists.length;
  }

  get(number: number): readonly number[] {
    return this.#lists[number];
  }

  /** -1 where it is not there. */
  find(list: readonly number[]): number {
    const number = this.#numbers.get(list.join());
    return number !== undefined && number < this.length ? number : -1;
  }

  with(added: readonly (readonly number[])[]): Lists {
    if (added.length === 0) return this;
    if (this.#lists.length > this.length) return new Lists([...this.#lists.slice(0, this.length), ...added]);
    for (const list of added) this.#numbers.set(list.join(), this.#lists.push(list) - 1);
    return new Lists(this.#lists, this.#numbers);
  }

  /** The oldest lists alone. */
  first(count: number): Lists {
    return count >= this.length ? this : new Lists(this.#lists.slice(0, count));
  }

  slice(from = 0): (readonly number[])[] {
    return this.#lists.slice(from, this.length);
  }

  static from(lists: (readonly number[])[]): Lists {
    return new Lists(lists);
  }
}
