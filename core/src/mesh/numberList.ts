/** Lists of numbers that grow in one typed array. */

type Numbers = Float32Array | Float64Array | Uint32Array | Int32Array;

export class NumberList<T extends Numbers> {
  length = 0;
  #array: T;
  readonly #make: new (length: number) => T;

  constructor(make: new (length: number) => T, capacity = 1024) {
    this.#make = make;
    this.#array = new make(capacity);
  }

  push(value: number): void {
    if (this.length === this.#array.length) this.#grow();
    this.#array[this.length++] = value;
  }

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.#array.length) this.#grow();
    const array = this.#array;
    array[this.length] = a;
    array[this.length + 1] = b;
    array[this.length + 2] = c;
    this.length += 3;
  }

  pushAll(values: T): void {
    while (this.length + values.length > this.#array.length) this.#grow();
    this.#array.set(values, this.length);
    this.length += values.length;
  }

  /** The numbers so far; the same memory, until the list grows. */
  get values(): T {
    return this.#array.subarray(0, this.length) as T;
  }

  at(index: number): number {
    return this.#array[index];
  }

  set(index: number, value: number): void {
    this.#array[index] = value;
  }

  /** The numbers so far, in memory of their own. */
  copy(): T {
    return this.#array.slice(0, this.length) as T;
  }

  #grow(): void {
    const wider = new this.#make(Math.ceil(this.#array.length * 1.6) + 16);
    wider.set(this.#array);
    this.#array = wider;
  }
}
