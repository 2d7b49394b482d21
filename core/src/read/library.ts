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

/** What the engine says of code that met something unforeseen: true, and of no use to anybody who has the file. */
const ENGINE: readonly [RegExp, string][] = [
  [
    /is not a function|is not iterable|is not a constructor|Cannot (read|set|convert|use)|(undefined|null|not an object)\b.*\b(reading|setting|property)|is not defined|is undefined|is null/,
    'what it holds does not fit together as its format wants',
  ],
  [
    /Invalid (typed |array |string |data|count)|Array buffer allocation|[Oo]ffset is out|out of (bounds|range)|outside the bounds|should be a multiple|RangeError/,
    'it states sizes or places that cannot be',
  ],
  [/Maximum call stack/, 'it nests deeper than can be followed'],
  [
    /in JSON|JSON\.parse|JSON input|Unexpected (token|end|identifier|string|number)/,
    'its text breaks off, or is not written as its format wants',
  ],
];

/** What a library threw, as words for people. What compiled code throws may be no error at all, but a number or an object of its own. */
export function said(thrown: unknown): string {
  const message = thrown instanceof Error ? thrown.message.split('\n')[0] : '';
  const known = ENGINE.find(([pattern]) => pattern.test(message));
  return known?.[1] ?? (message || 'it cannot be translated');
}
