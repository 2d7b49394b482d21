/** Opens zips: sizes, counts and ratios are checked before anything is unpacked. */
import { unzipSync } from 'fflate';
import { PrismError } from '../errors.ts';
import { Companions } from './companions.ts';
import { said } from './library.ts';
import type { SourceFile } from './reader.ts';

const MAX_FILES = 20_000;
const MAX_UNPACKED = 2_000_000_000;
/** Text packs to a twentieth, rarely to a hundredth; beyond this it is a bomb. */
const MAX_RATIO = 400;

/** True for the signature of a zip with something in it. */
export function isZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}

/**
 * Files of a zip, or undefined where it is none.
 * @throws PrismError `too-large`, `not-readable`
 */
export function openPackage({ name, bytes }: SourceFile): Companions | undefined {
  if (!isZip(bytes)) return undefined;
  let count = 0;
  let unpacked = 0;
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ name: path, originalSize, size }) => {
        if (path.endsWith('/') || path.startsWith('__MACOSX/')) return false;
        count++;
        unpacked += originalSize;
        const bomb = originalSize > 1_000_000 && originalSize > size * MAX_RATIO;
        if (count > MAX_FILES || unpacked > MAX_UNPACKED || bomb)
          throw new PrismError(
            'too-large',
            `${name} unpacks to more than can be taken (${MAX_FILES} files, ${MAX_UNPACKED / 1e9} GB, packed by at most ${MAX_RATIO}). It stops at ${path}.`,
            { file: name, where: path },
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof PrismError) throw error;
    throw new PrismError('not-readable', `${name} is a damaged zip: ${said(error)}. Pack it again.`, {
      file: name,
    });
  }
  return new Companions(new Map(Object.entries(entries)));
}
