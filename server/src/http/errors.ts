/** Turns what was thrown into an answer: a status, and the error as people read it. */
import type { Middleware } from 'koa';
import { ValidationError } from 'yup';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import type { ErrorCode } from '@noble-prism/core/errors';
import { DATABASE_AWAY, isDatabaseAway } from '../db/away.ts';
import { VersionConflict } from '../db/jobs.ts';
import { inWords } from '@noble-prism/node/inWords';
import { log } from '../log.ts';

/** Of PostgreSQL: signs that no text there can have (its appendix A). */
const NOT_A_TEXT = new Set(['22021', '22P05']);

const STATUS: Partial<Record<ErrorCode, number>> = {
  'not-found': 404,
  'missing-blob': 404,
  conflict: 409,
  'bad-parameters': 422,
  'not-readable': 422,
  'empty-file': 422,
  'too-large': 413,
};

/** Status of an answer; what is nobody's fault but ours is 500, and may be tried again. */
export function statusOf(error: PrismError): number {
  return STATUS[error.code] ?? 500;
}

export const answerErrors: Middleware = async (ctx, next) => {
  try {
    await next();
    if (ctx.status === 404 && ctx.body === undefined) {
      ctx.status = 404;
      ctx.body = { error: { code: 'not-found', message: 'There is nothing at this address.' } };
    }
  } catch (thrown) {
    const error = NOT_A_TEXT.has((thrown as { code?: string })?.code ?? '')
      ? new PrismError(
          'bad-parameters',
          'A text has a sign in it that cannot be kept (a zero, or half a letter). Take it out, and try again.',
        )
      : thrown instanceof ValidationError
        ? new PrismError('bad-parameters', thrown.message, { where: thrown.path })
        : asPrismError(inWords(thrown));
    ctx.status = statusOf(error);
    if (isDatabaseAway(thrown)) {
      ctx.status = 503;
      ctx.set('Retry-After', '3');
      log.warn({ path: ctx.path, code: (thrown as { code?: string }).code }, 'the database does not answer');
      ctx.body = { error: new PrismError('internal', DATABASE_AWAY).toJSON() };
      return;
    }
    if (ctx.status === 500) log.error({ err: thrown, path: ctx.path }, 'request failed');
    ctx.body = { error: error.toJSON(), ...(thrown instanceof VersionConflict ? { current: thrown.current } : {}) };
  }
};
