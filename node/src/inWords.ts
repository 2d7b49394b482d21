/** What the operating system says of files, in words: what it means for those whose files they are, and what to do. */
import { PrismError } from '@noble-prism/core/errors';

const FULL = new Set(['ENOSPC', 'EDQUOT']);
const MANY = new Set(['EMFILE', 'ENFILE']);

/** @param thrown as file functions throw it; what is said in words already stays as it is */
export function inWords(thrown: unknown): unknown {
  const { code = '' } = (thrown ?? {}) as NodeJS.ErrnoException;
  if (thrown instanceof PrismError || typeof code !== 'string') return thrown;
  if (FULL.has(code))
    return new PrismError('internal', 'The disk is full: it was not stored, and what was there is as it was. Make room, and try again.'); // prettier-ignore
  if (MANY.has(code))
    return new PrismError('internal', 'The server has too many files open at once. Nothing is lost; try again in a moment.'); // prettier-ignore
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new PrismError(
      'internal',
      'The server may not write or read its folder of data. See who owns it (DATA_DIR).',
    );
  if (code === 'EIO') return new PrismError('internal', 'The disk of the server fails: it could not be read or written. See to the disk before you go on.'); // prettier-ignore
  return thrown;
}

/** True where a file is simply not there. */
export const isMissing = (thrown: unknown): boolean =>
  ['ENOENT', 'ENOTDIR'].includes((thrown as NodeJS.ErrnoException).code ?? '');
