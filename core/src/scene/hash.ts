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
