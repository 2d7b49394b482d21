/** Reads a file as it was dropped: of any format, or a package. */
import { PrismError, asPrismError } from '../errors.ts';
import { readerFor } from './formats.ts';
import { notRead } from './notRead.ts';
import { isOurs, said } from './library.ts';
import { readPackage } from './package.ts';
import type { Reading, SourceFile } from './reader.ts';
import { openPackage } from './zip.ts';

/**
 * Reads a file, or a package of files, with the reader that recognises it.
 * @throws PrismError naming the file, what is wrong with it, and what to ask for instead
 */
export async function readSource(file: SourceFile, sourceId: string): Promise<Reading> {
  const reader = readerFor(file);
  try {
    if (reader) return await reader.read(file, sourceId, readerFor);
    const inner = openPackage(file);
    if (inner) return await readPackage(file, inner, sourceId);
  } catch (error) {
    // What a library throws at a damaged file is not our fault, and does not get better by trying again.
    if (!isOurs(error))
      throw new PrismError('not-readable', `${file.name} is damaged: ${said(error)}. Ask for it again.`, {
        file: file.name,
      });
    throw asPrismError(error, { file: file.name });
  }
  throw new PrismError('not-readable', notRead(file), { file: file.name });
}
