/** How large a file may be. */
import { PrismError } from '../errors.ts';

/** Largest file that is taken, bytes: it is held in memory whole. */
export const MAX_FILE_BYTES = 1_000_000_000;

/** Refuses a file for its size before it is read into memory. */
export function checkFileSize(name: string, bytes: number): void {
  if (bytes === 0) throw new PrismError('empty-file', `${name} is empty (0 bytes). Ask for it again.`, { file: name });
  if (bytes > MAX_FILE_BYTES) {
    throw new PrismError(
      'too-large',
      `${name} is ${(bytes / 1e9).toFixed(1)} GB; at most ${MAX_FILE_BYTES / 1e9} GB can be read at once. Ask for it in sub-assemblies.`,
      { file: name },
    );
  }
}
