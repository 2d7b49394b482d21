/** Calls of libraries on files of others: what they throw at a damaged one, in whatever form, becomes a sentence for people. */
import { PrismError } from '../errors.ts';
import type { SourceFile } from './reader.ts';

/** @throws PrismError `not-readable` for whatever the library throws; our own errors and cancelling pass through */
export async function byLibrary<T>(file: SourceFile, advice: string, work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (thrown) {
    if (isOurs(thrown)) throw thrown;
    throw new PrismError('not-readable', `${file.name} is damaged: ${said(thrown)}. ${advice}`, { file: file.name });
  }
}

/** Errors that are sentences already, and those of being cancelled. */
export function isOurs(thrown: unknown): boolean {
  return thrown instanceof PrismError || (thrown instanceof Error && thrown.name === 'AbortError');
}

/** What compiled code throws may be no error at all, but a number or an object of its own. */
export function said(thrown: unknown): string {
  const message = thrown instanceof Error ? thrown.message.split('\n')[0] : '';
  return message || 'it cannot be translated';
}
