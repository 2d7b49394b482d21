/** Serves the built interface: hashed assets for ever, the page itself fresh with its nonce. */
import { createReadStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { extname, join, normalize } from 'node:path';
import type { Middleware } from 'koa';

const TYPES: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.woff2': 'font/woff2',
  '.woff': 'font/woff',
  '.json': 'application/json',
};

export function serveWeb(folder: string): Middleware {
  return async (ctx, next) => {
    if ((ctx.method !== 'GET' && ctx.method !== 'HEAD') || ctx.path === '/api' || ctx.path.startsWith('/api/'))
      return next();
    const path = join(folder, normalize(decodePath(ctx.path)));
    const info = path.startsWith(folder) && extname(path) ? await stat(path).catch(() => undefined) : undefined;
    if (info?.isFile() && extname(path) !== '.html') {
      ctx.set('Cache-Control', ctx.path.startsWith('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache');
      ctx.type = TYPES[extname(path)] ?? 'application/octet-stream';
      ctx.length = info.size;
      ctx.body = createReadStream(path);
      return;
    }
    if (extname(ctx.path) && extname(ctx.path) !== '.html') return next();
    const page = await readFile(join(folder, 'index.html'), 'utf8');
    ctx.set('Cache-Control', 'no-store');
    ctx.type = TYPES['.html'];
    ctx.body = page.replaceAll('__NONCE__', ctx.state.nonce as string);
  };
}

function decodePath(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return '/';
  }
}
