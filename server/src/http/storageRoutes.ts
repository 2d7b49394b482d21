/** Routes of what is stored: blobs, the room that they take, and the sweep. */
import { spaceUsed } from '../sweep/space.ts';
import { pictureType } from './pictureType.ts';
import type { Route } from './route.ts';

export const STORAGE_ROUTES: readonly Route[] = [
  {
    method: 'get',
    path: '/api/space',
    summary: 'Space that is used, and what the latest sweep freed',
    answer: '`{ used: { files, bytes }, uploads: { files, bytes }, database, latest? }`, bytes.',
    handle: async (_ctx, _body, { db, config, sweeper }) => spaceUsed(db, config.dataDir, sweeper.latest),
  },
  {
    method: 'post',
    path: '/api/sweep',
    summary: 'Cleans up now: what nothing refers to and is older than a day',
    answer: '`{ used, freed, results, sources }`.',
    handle: async (_ctx, _body, { sweeper }) => sweeper.run(),
  },
  {
    method: 'get',
    path: '/api/blobs/:hash',
    summary: 'A blob by the SHA-256 of its content',
    answer: 'The bytes; they never change.',
    handle: async (ctx, _body, { blobs }) => {
      const bytes = await blobs.get(ctx.params.hash);
      ctx.set('Cache-Control', 'private, max-age=31536000, immutable');
      // Pictures can be shown where they are referred to; everything else is bytes.
      ctx.type = pictureType(bytes) ?? 'application/octet-stream';
      return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
    },
  },
];
