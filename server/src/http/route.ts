/** Routes as data: one list makes both the router and the OpenAPI description. */
import '@noble-prism/core/fields/words';
import type { RouterContext } from '@koa/router';
import type { AnySchema, SchemaDescription } from 'yup';
import type { BlobFolder } from '@noble-prism/node/blobFolder';
import type { Config } from '../config.ts';
import type { Db } from '../db/connect.ts';
import type { Zips } from '../services/zips.ts';
import type { Sweeper } from '../sweep/sweeper.ts';
import type { EventHub } from './hub.ts';

export interface Services {
  db: Db;
  blobs: BlobFolder;
  zips: Zips;
  config: Config;
  hub: EventHub;
  sweeper: Sweeper;
}

export interface Route {
  method: 'get' | 'post' | 'patch' | 'put' | 'delete';
  path: string;
  summary: string;
  /** Schema of the JSON body, checked before the handler runs. */
  body?: AnySchema;
  /** What comes back, for the description. */
  answer: string;
  status?: number;
  handle(ctx: RouterContext, body: never, services: Services): Promise<unknown>;
}

/** OpenAPI 3.1 document of a list of routes. */
export function describeRoutes(routes: readonly Route[]): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    const parameters = [...route.path.matchAll(/:(\w+)/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    (paths[path] ??= {})[route.method] = {
      summary: route.summary,
      ...(parameters.length > 0 ? { parameters } : {}),
      ...(route.body
        ? {
            requestBody: {
              required: true,
              content: { 'application/json': { schema: jsonSchema(route.body.describe()) } },
            },
          }
        : {}),
      responses: {
        [String(route.status ?? 200)]: { description: route.answer },
        default: { description: 'An error: `{ error: { code, message, file?, where? } }`.' },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Noble Prism',
      version: '0.1.0',
      description: 'Jobs, sources, preparations and transmittals. Loopback only.',
    },
    paths,
  };
}

/** JSON Schema of a Yup description, as far as the two agree. */
function jsonSchema(description: SchemaDescription | { type: string }): object {
  const { type } = description;
  const one = 'oneOf' in description && description.oneOf.length > 0 ? { enum: description.oneOf } : {};
  if (type === 'object' && 'fields' in description) {
    const fields = description.fields as Record<string, SchemaDescription>;
    const required = Object.entries(fields)
      .filter(([, field]) => 'optional' in field && !field.optional)
      .map(([name]) => name);
    return {
      type,
      properties: Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, jsonSchema(field)])),
      ...(required.length > 0 ? { required } : {}),
    };
  }
  if (type === 'array')
    return {
      type,
      items:
        'innerType' in description && description.innerType
          ? jsonSchema(description.innerType as SchemaDescription)
          : {},
    };
  if (['string', 'number', 'boolean'].includes(type)) return { type, ...one };
  return {};
}
