/** Hashes of content: SHA-256 of bytes, and of plain data written in one canonical way. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { Hash } from './types.ts';

export function hashBytes(bytes: Uint8Array): Hash {
  return bytesToHex(sha256(bytes));
}

/** JSON with sorted keys and without undefined members: equal data gives equal text. */
export function canonicalJson(value: unknown): string {
  // Lists of picked keys are long, and canonical as they are.
  if (Array.isArray(value) && value.every((item) => typeof item === 'string')) return JSON.stringify(value);
  if (Array.isArray(value)) return `[${value.map((item) => canonicalJson(item ?? null)).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    const entries = Object.entries(value)
      .filter(([, member]) => member !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
    return `{${entries.map(([key, member]) => `${JSON.stringify(key)}:${canonicalJson(member)}`).join(',')}}`;
  }
  return JSON.stringify(value);
}

/** Hash of plain data. */
export function hashData(value: unknown): Hash {
  return hashBytes(utf8ToBytes(canonicalJson(value)));
}

/** So near are numbers taken for one: of a metre, or of one. */
const NEAR = 1e-8;

/**
 * Hash of plain data with places in it that were computed: two engines may find sines and roots that differ in the last bit, and still
 * have to know the same thing by the same name.
 */
export function hashPlaces(value: unknown): Hash {
  return hashData(rounded(value));
}

function rounded(value: unknown): unknown {
  // Adding zero turns -0 into 0.
  if (typeof value === 'number') return Math.round(value / NEAR) * NEAR + 0;
  if (Array.isArray(value)) return value.map(rounded);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, member]) => [key, rounded(member)]));
}
