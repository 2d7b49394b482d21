/** The application: guard, headers, uploads, routes, interface. */
import Router from '@koa/router';
import Koa from 'koa';
import compress from 'koa-compress';
import type { AnySchema } from 'yup';
import { PrismError } from '@noble-prism/core/errors';
import { answerErrors } from './errors.ts';
import { guard, headers } from './guard.ts';
import { describeRoutes } from './route.ts';
import type { Services } from './route.ts';
import { ROUTES } from './routes.ts';
import { serveWeb } from './static.ts';
import { uploads } from './uploads.ts';

/** Largest JSON body, bytes: a preparation with tens of thousands of picked parts fits. */
const MAX_BODY = 20_000_000;

export async function makeApp(services: Services): Promise<Koa> {
  const { config } = services;
  const app = new Koa();
  app.silent = true;
  app.use(answerErrors);
  app.use(guard(['127.0.0.1', 'localhost', '[::1]', config.host]));
  app.use(headers());
  app.use(await uploads(services));
  app.use(compress({ threshold: 2048, br: false, filter: (type) => !/event-stream/.test(type) }));
  const router = new Router();
  const description = describeRoutes(ROUTES);
  router.get('/api', (ctx) => {
    ctx.body = description;
  });
  for (const route of ROUTES) {
    router[route.method](route.path, async (ctx) => {
      const body = route.body ? await checkedBody(ctx.req, route.body) : undefined;
      // What is partial says so itself.
      ctx.status = route.status ?? 200;
      const answer = await route.handle(ctx, body as never, services);
      if (ctx.type === 'text/event-stream') ctx.compress = false;
      ctx.body = answer;
    });
  }
  app.use(router.routes());
  if (config.webDir) app.use(serveWeb(config.webDir));
  return app;
}

async function checkedBody(request: AsyncIterable<Buffer>, schema: AnySchema): Promise<unknown> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request) {
    size += chunk.length;
    if (size > MAX_BODY) throw new PrismError('too-large', 'The request is too large.');
    chunks.push(chunk);
  }
  let value: unknown;
  try {
    value = JSON.parse(Buffer.concat(chunks).toString('utf8') || '{}');
  } catch {
    throw new PrismError('bad-parameters', 'The request is not JSON.');
  }
  return schema.validate(value, { strict: true });
}
