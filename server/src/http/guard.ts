/** Keeps other web pages out: the server answers only its own page on its own names, and tells the browser so. */
import type { Context, Middleware, Next } from 'koa';
import { randomBytes } from 'node:crypto';

/**
 * Refuses a Host that is not ours (a foreign name that resolves to this machine) and an Origin that is not ours.
 * @param names host names, without port, under which the server may be addressed
 */
export function guard(names: readonly string[]): Middleware {
  const isOurs = (host: string) => names.includes(host.replace(/:\d+$/, '').toLowerCase());
  return async (ctx: Context, next: Next) => {
    const origin = ctx.get('Origin');
    const site = ctx.get('Sec-Fetch-Site');
    if (!isOurs(ctx.get('Host'))) return refuse(ctx, 'This host name is not served here.');
    if (origin) {
      const host = URL.canParse(origin) ? new URL(origin).host : '';
      if (host !== ctx.get('Host')) return refuse(ctx, 'Requests from other sites are refused.');
    }
    if (site === 'cross-site' && ctx.get('Sec-Fetch-Mode') !== 'navigate')
      return refuse(ctx, 'Requests from other sites are refused.');
    return next();
  };
}

function refuse(ctx: Context, message: string): void {
  ctx.status = 403;
  ctx.body = { error: { code: 'not-readable', message } };
}

/** Security headers; styles and scripts run only with the nonce of this very answer. */
export function headers(): Middleware {
  return async (ctx, next) => {
    const nonce = randomBytes(16).toString('base64');
    ctx.state.nonce = nonce;
    ctx.set({
      'Content-Security-Policy': [
        "default-src 'self'",
        "script-src 'self'",
        `style-src 'self' 'nonce-${nonce}'`,
        "img-src 'self' data: blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "worker-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
      ].join('; '),
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
    });
    await next();
  };
}
