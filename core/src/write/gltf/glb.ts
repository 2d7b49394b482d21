/** The bytes of a binary file of glTF (glTF 2.0, 4.4): its text and its numbers in chunks. */
import type { GLTF } from '@gltf-transform/core';
import { bytesOf } from '../../bytes.ts';
import { memorySpool } from '../../content.ts';
import type { Content, Spool } from '../../content.ts';

const [GLTF_FILE, JSON_CHUNK, BIN_CHUNK] = [0x46546c67, 0x4e4f534a, 0x004e4942];
const BLANK = 32;

/** @param numbers of its one buffer, one behind the other, each from a multiple of four bytes on */
export function glbOf(json: GLTF.IGLTF, numbers: readonly Content[], spool: Spool = memorySpool): Content {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const length = numbers.reduce((sum, part) => sum + padded(part.length), 0);
  const chunk = length > 0 ? 8 : 0;
  const file = spool.open();
  const write = (...values: number[]) => file.write(bytesOf(Uint32Array.from(values)));
  write(GLTF_FILE, 2, 20 + padded(text.length) + chunk + length, padded(text.length), JSON_CHUNK);
  file.write(text);
  file.write(new Uint8Array(padded(text.length) - text.length).fill(BLANK));
  if (length > 0) write(length, BIN_CHUNK);
  writeNumbers(file, numbers);
  return file.end();
}

/** The numbers as a file of their own. */
export function binOf(numbers: readonly Content[], spool: Spool = memorySpool): Content {
  const [only, ...others] = numbers.filter((part) => part.length > 0);
  if (only && others.length === 0 && only.length % 4 === 0) return only;
  const file = spool.open();
  writeNumbers(file, numbers);
  return file.end();
}

function writeNumbers(file: ReturnType<Spool['open']>, numbers: readonly Content[]): void {
  for (const part of numbers) {
    for (const piece of part.pieces()) file.write(piece);
    file.write(new Uint8Array(padded(part.length) - part.length));
  }
}

const padded = (length: number) => Math.ceil(length / 4) * 4;
