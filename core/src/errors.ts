/** The errors that Noble Prism shows to people: a code, a sentence, and the file and place they concern. */

export type ErrorCode =
  | 'not-readable'
  | 'empty-file'
  | 'too-large'
  | 'no-geometry'
  | 'bad-parameters'
  | 'missing-blob'
  | 'bad-scene'
  | 'solid-failed'
  | 'cancelled'
  | 'timed-out'
  | 'not-found'
  | 'conflict'
  | 'internal';

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
  toJSON(): { code: ErrorCode; message: string; file?: string; where?: string } {
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

/** Something that was noticed and survived: shown beside the source, never thrown. */
export interface Warning {
  code: string;
  message: string;
  /** Entity, line or part. */
  where?: string;
}
