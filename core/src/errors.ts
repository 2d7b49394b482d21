/** The errors that Noble Prism shows to people: a code, a sentence, and the file and place they concern. */

/** What each code means to a person, in two or three words: the head of a notice that says the rest. */
export const ERROR_TITLES = {
  'not-readable': 'Not readable',
  'empty-file': 'Empty file',
  'too-large': 'Too large',
  'no-geometry': 'Nothing to send',
  'bad-parameters': 'Not possible so',
  'missing-blob': 'Geometry is missing',
  'bad-scene': 'Stored scene of no use',
  'solid-failed': 'A solid failed',
  cancelled: 'Cancelled',
  'timed-out': 'Took too long',
  'not-found': 'Not there',
  conflict: 'Saved by somebody else',
  internal: 'Something went wrong',
} as const;

export type ErrorCode = keyof typeof ERROR_TITLES;

export interface PrismErrorDetails {
  /** Name of the file it happened in, as the user knows it. */
  file?: string;
  /** Line, entity or step: whatever finds the spot again, e.g. `#120, line 44`. */
  where?: string;
}

/** An error meant to be read by a person: what happened, to which file, where in it, and what to try. */
export class PrismError extends Error {
  readonly code: ErrorCode;
  readonly file?: string;
  readonly where?: string;

  constructor(code: ErrorCode, message: string, details: PrismErrorDetails = {}) {
    super(message);
    this.name = 'PrismError';
    this.code = code;
    this.file = details.file;
    this.where = details.where;
  }

  /** The plain object that goes over the wire and into `--json`. */
  toJSON(): ErrorJson {
    return { code: this.code, message: this.message, file: this.file, where: this.where };
  }
}

/** Turns whatever was thrown into a PrismError, keeping the message. */
export function asPrismError(thrown: unknown, details: PrismErrorDetails = {}): PrismError {
  if (thrown instanceof PrismError) {
    return details.file && !thrown.file
      ? new PrismError(thrown.code, thrown.message, { ...details, where: thrown.where })
      : thrown;
  }
  if (thrown instanceof Error && thrown.name === 'AbortError')
    return new PrismError('cancelled', 'Cancelled.', details);
  return new PrismError('internal', thrown instanceof Error ? thrown.message : String(thrown), details);
}

/** What is noticed while a file is read: whether something of it is missing from the scene by that, or not where it belongs. */
export const WARNINGS = {
  truncated: 'lost',
  malformed: 'lost',
  dangling: 'lost',
  cyclic: 'lost',
  'not-readable': 'lost',
  'missing-file': 'lost',
  'bad-indices': 'lost',
  'bad-numbers': 'lost',
  'bad-keys': 'lost',
  'no-faces': 'lost',
  'no-geometry': 'lost',
  placement: 'lost',
  // Pictures and materials that were not sent along are asked for by name elsewhere.
  'missing-texture': 'noted',
  'missing-material': 'noted',
  'bad-picture': 'noted',
  'picture-profile': 'noted',
  ignored: 'noted',
  'not-placed': 'noted',
  'nothing-built': 'noted',
  orphans: 'noted',
  loose: 'noted',
  style: 'noted',
  unit: 'noted',
  'up-axis': 'noted',
  'decimal-comma': 'noted',
  'long-name': 'noted',
  'impossible-size': 'noted',
} as const satisfies Record<string, 'lost' | 'noted'>;

export type WarningCode = keyof typeof WARNINGS;

/** Something that was noticed and survived: shown beside the source, never thrown. */
export interface Warning {
  code: WarningCode;
  message: string;
  /** Entity, line or part. */
  where?: string;
}

/** An error as it goes over a wire or into a file. */
export interface ErrorJson {
  code: ErrorCode;
  message: string;
  file?: string;
  where?: string;
}
