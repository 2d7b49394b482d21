/** Resumable uploads (tus protocol). A finished upload becomes a source of its job. */
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Middleware } from 'koa';
import { Server } from '@tus/server';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import { checkFileSize } from '@noble-prism/core/read/fileSize';
import { findJob } from '../db/jobs.ts';
import { receiveSource, refuseSource } from '../db/sources.ts';
import { tell } from '../db/events.ts';
import { statusOf } from './errors.ts';
import { UploadStore } from './uploadStore.ts';
import type { Services } from './route.ts';

const PATH = '/api/uploads';

export async function uploads({ db, blobs, config }: Services): Promise<Middleware> {
  const directory = join(config.dataDir, 'uploads');
  await mkdir(directory, { recursive: true });
  const store = new UploadStore({ directory, expirationPeriodInMilliseconds: 7 * 24 * 3600_000 });
  const refuse = (error: unknown): never => {
    const known = asPrismError(error);
    throw { status_code: statusOf(known), body: JSON.stringify({ error: known.toJSON() }) };
  };
  const tus = new Server({
    path: PATH,
    datastore: store,
    maxSize: config.maxUpload,
    relativeLocation: true,
    async onUploadCreate(_request, upload) {
      const name = fileName(upload.metadata?.filename);
      const job = upload.metadata?.job ?? '';
      try {
        await findJob(db, job);
        checkFileSize(name, upload.size ?? 1);
        await store.checkRoom(name, upload.size ?? 0);
      } catch (error) {
        const known = asPrismError(error);
        // A job of a batch would wait for it for ever.
        if (known.file !== undefined && (await refuseSource(db, { job, name, error: known.toJSON() }))) await tell(db, { type: 'job', job }); // prettier-ignore
        refuse(error);
      }
      return {};
    },
    async onUploadFinish(_request, upload) {
      try {
        const job = upload.metadata?.job ?? '';
        const name = fileName(upload.metadata?.filename);
        const bytes = upload.size ?? 0;
        // The blob is on disk before the row is written, and the row before the browser hears that all is well.
        const blob = await blobs.take(join(directory, upload.id), store.sumOf(upload.id, bytes));
        const slot = upload.metadata?.slot ?? undefined;
        await receiveSource(db, { id: upload.id, job, name, bytes, blob, ...(slot ? { slot } : {}) });
        await tell(db, { type: 'job', job });
        await store.remove(upload.id).catch(() => {});
      } catch (error) {
        refuse(error);
      }
      return {};
    },
    onResponseError(_request, error) {
      const known = error instanceof PrismError ? error : undefined;
      return known && { status_code: statusOf(known), body: JSON.stringify({ error: known.toJSON() }) };
    },
  });
  return async (ctx, next) => {
    if (ctx.path !== PATH && !ctx.path.startsWith(`${PATH}/`)) return next();
    ctx.respond = false;
    await tus.handle(ctx.req, ctx.res);
  };
}

/** The last part of whatever path a client sent; only ever shown, never opened. */
function fileName(given: string | null | undefined): string {
  const name = (given ?? '')
    .replace(/[\u0000-\u001f]/g, '')
    .split(/[/\\]/)
    .at(-1)
    ?.trim()
    .slice(0, 300);
  return name || 'file without a name';
}
