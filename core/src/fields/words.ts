/** What the library that checks values says of them, in words that people use. Loaded before any schema is made. */
import { setLocale } from 'yup';

const KINDS: Record<string, string> = {
  number: 'a number',
  string: 'a text',
  boolean: 'yes or no (true, false)',
  array: 'a list',
  object: 'an object with named values',
  date: 'a date',
};

/** What was given, as people wrote it. */
function given(value: unknown): string {
  if (value === undefined || value === null) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'object') return 'an object';
  const text = String(value);
  return `“${text.length > 60 ? `${text.slice(0, 60)}…` : text}”`;
}

const called = (path: string) => (path === '' || path === 'this' ? 'This' : path);

setLocale({
  mixed: {
    default: ({ path }) => `${called(path)} cannot be used.`,
    required: ({ path }) => `${called(path)} is missing.`,
    defined: ({ path }) => `${called(path)} is missing.`,
    notNull: ({ path }) => `${called(path)} is missing.`,
    oneOf: ({ path, values }: { path: string; values: unknown }) => `${called(path)} has to be one of these: ${String(values)}.`,
    notType: ({ path, type, value }: { path: string; type: string; value: unknown }) => `${called(path)}: ${KINDS[type] ?? type} is expected, ${given(value)} was given.`,
  },
  string: {
    max: ({ path, max }: { path: string; max: unknown }) => `${called(path)} has more than ${String(max)} letters.`,
    min: ({ path, min }: { path: string; min: unknown }) => `${called(path)} has fewer than ${String(min)} letters.`,
    matches: ({ path }) => `${called(path)} is not written as it has to be.`,
  },
  number: {
    min: ({ path, min }: { path: string; min: unknown }) => `${called(path)} is less than ${String(min)}.`,
    max: ({ path, max }: { path: string; max: unknown }) => `${called(path)} is more than ${String(max)}.`,
    integer: ({ path }) => `${called(path)} has to be a whole number.`,
  },
  array: {
    max: ({ path, max }: { path: string; max: unknown }) => `${called(path)} has more than ${String(max)} entries.`,
    min: ({ path, min }: { path: string; min: unknown }) => `${called(path)} has fewer than ${String(min)} entries.`,
    length: ({ path, length }: { path: string; length: unknown }) => `${called(path)} has to have ${String(length)} entries.`,
  },
  object: {
    noUnknown: ({ path, unknown }: { path: string; unknown: unknown }) => `${called(path)} has what nothing is known of: ${String(unknown)}.`,
  },
}); // prettier-ignore
