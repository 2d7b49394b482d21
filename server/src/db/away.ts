/** A database that does not answer: told from errors that the request itself has made. */

export const DATABASE_AWAY =
  'The database does not answer at the moment. What was saved is safe, and the server goes on by itself when it is back: try again in a moment.';

/** Of sockets, and of PostgreSQL while it starts, stops or has no connection left (its appendix A, classes 08, 53 and 57). */
const CODES = /^(ECONNREFUSED|ECONNRESET|ENOENT|EPIPE|ETIMEDOUT|EHOSTUNREACH|08\w{3}|53300|57P0[123])$/;
/** What is said of a database that is being worked on, and by the client library without a code. */
const WORDS = /not currently accepting connections|connection terminated|connection ended|timeout exceeded when trying to connect|client has encountered a connection error/i; // prettier-ignore

export function isDatabaseAway(thrown: unknown): boolean {
  if (!(thrown instanceof Error)) return false;
  const { code, syscall, errors = [] } = thrown as NodeJS.ErrnoException & { errors?: unknown[] };
  // A file that is not there is no database; a socket of it is connected to.
  if (code === 'ENOENT' && syscall !== 'connect') return false;
  return CODES.test(code ?? '') || WORDS.test(thrown.message) || errors.some(isDatabaseAway);
}
