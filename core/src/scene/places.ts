/**
 * Table of places: affine matrices in doubles, twelve numbers each (the last row is always 0 0 0 1). Like the tables of texts it never
 * changes, and grows by layers. Number 0 is no place at all: the identity.
 */
import type { Matrix } from './matrix.ts';

/** Numbers per place: three columns of the linear part, and the translation. */
export const STRIDE = 12;

interface Layer {
  start: number;
  length: number;
  values: Float64Array;
}

export class Places {
  static readonly NONE = new Places([
    { start: 0, length: 1, values: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0) },
  ]);
  readonly length: number;

  private constructor(readonly layers: readonly Layer[]) {
    const last = layers.at(-1);
    this.length = last ? last.start + last.length : 0;
  }

  /** The layer that holds a place, and where it begins there. */
  locate(number: number): { values: Float64Array; at: number } {
    for (const { start, length, values } of this.layers)
      if (number < start + length) return { values, at: (number - start) * STRIDE };
    return { values: this.layers[0].values, at: 0 };
  }

  matrix(number: number): Matrix {
    const { values, at } = this.locate(number);
    return matrixAt(values, at);
  }

  /** True where two places, of this and of another table, are the same to the bit. */
  isSame(number: number, other: Places, otherNumber: number): boolean {
    const a = this.locate(number);
    const b = other.locate(otherNumber);
    if (a.values === b.values && a.at === b.at) return true;
    for (let i = 0; i < STRIDE; i++) if (a.values[a.at + i] !== b.values[b.at + i]) return false;
    return true;
  }

  /** @param values {@link STRIDE} numbers for each place */
  with(values: Float64Array): Places {
    if (values.length === 0) return this;
    return new Places([...this.layers, { start: this.length, length: values.length / STRIDE, values }]);
  }

  /** The same places, and after them those of another table: number n of the other becomes `this.length + n`. */
  joined(other: Places): Places {
    return new Places([
      ...this.layers,
      ...other.layers.map((layer) => ({ ...layer, start: layer.start + this.length })),
    ]);
  }

  /** The oldest places alone. */
  first(count: number): Places {
    if (count >= this.length) return this;
    const kept = this.layers.filter(({ start }) => start < count);
    return new Places(kept.map((layer) => ({ ...layer, length: Math.min(layer.length, count - layer.start) })));
  }

  /** How many places this table and another have in common, because they share the layers that hold them. */
  sharedWith(other: Places): number {
    let shared = 0;
    for (let i = 0; i < this.layers.length && this.layers[i] === other.layers[i]; i++)
      shared = this.layers[i].start + this.layers[i].length;
    return shared;
  }

  /** All values one after the other. */
  values(from = 0): Float64Array {
    const out = new Float64Array((this.length - from) * STRIDE);
    for (const { start, length, values } of this.layers) {
      const skip = Math.max(0, from - start);
      if (skip < length) out.set(values.subarray(skip * STRIDE), (start + skip - from) * STRIDE);
    }
    return out;
  }

  /** @param values of all places, the identity first */
  static from(values: Float64Array): Places {
    return new Places([{ start: 0, length: values.length / STRIDE, values }]);
  }
}

/** Sixteen numbers, column-major, of the twelve that stand at a place. */
export function matrixAt(v: Float64Array, at: number): number[] {
  return [
    v[at], v[at + 1], v[at + 2], 0, v[at + 3], v[at + 4], v[at + 5], 0,
    v[at + 6], v[at + 7], v[at + 8], 0, v[at + 9], v[at + 10], v[at + 11], 1,
  ]; // prettier-ignore
}

/** Writes a matrix as twelve numbers. */
export function putMatrix(m: Matrix, out: Float64Array | number[], at: number): void {
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 3; row++) out[at + column * 3 + row] = m[column * 4 + row];
}

/** out = a · b, each twelve numbers at its place; `out` may not be one of both. */
export function multiplyAt(a: Float64Array, i: number, b: Float64Array, j: number, out: Float64Array, k: number): void {
  for (let column = 0; column < 4; column++) {
    const [x, y, z] = [b[j + column * 3], b[j + column * 3 + 1], b[j + column * 3 + 2]];
    const at = k + column * 3;
    out[at] = a[i] * x + a[i + 3] * y + a[i + 6] * z;
    out[at + 1] = a[i + 1] * x + a[i + 4] * y + a[i + 7] * z;
    out[at + 2] = a[i + 2] * x + a[i + 5] * y + a[i + 8] * z;
  }
  out[k + 9] += a[i + 9];
  out[k + 10] += a[i + 10];
  out[k + 11] += a[i + 11];
}
