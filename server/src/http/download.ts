/** Downloads: files under their names, in ranges where a download is taken up again. */
import type { RouterContext } from '@koa/router';
import { createReadStream } from 'node:fs';
import type { ReadStream } from 'node:fs';

interface Downloaded {
  name: string;
  mime: string;
  /** The same as long as the bytes are: a download that was broken off goes on only then. */
  tag: string;
}

/** A file on the disk of the server. */
interface OnDisk {
  path: string;
  length: number;
}

/** The bytes, or the part of them that is asked for (RFC 9110, 14), as they are read. */
export function download(ctx: RouterContext, { name, mime, tag }: Downloaded, { path, length }: OnDisk): ReadStream | Buffer {
  const etag = `"${tag}"`;
  ctx.set({ 'Content-Disposition': `attachment; filename="${name}"`, 'Accept-Ranges': 'bytes', ETag: etag });
  ctx.type = mime;
  const condition = ctx.get('If-Range');
  const range = condition === '' || condition === etag ? rangeOf(ctx.get('Range'), length) : undefined;
  if (range === 'outside') {
    ctx.status = 416;
    ctx.set('Content-Range', `bytes */${length}`);
    return Buffer.alloc(0);
  }
  if (range) {
    // What is packed on the way could not be put together again.
    ctx.compress = false;
    ctx.status = 206;
    ctx.set('Content-Range', `bytes ${range.start}-${range.end}/${length}`);
  }
  const { start, end } = range ?? { start: 0, end: length - 1 };
  if (length === 0) return Buffer.alloc(0);
  ctx.length = end - start + 1;
  return createReadStream(path, { start, end });
} // prettier-ignore

/** One range of bytes; several are answered with the whole. */
function rangeOf(header: string, length: number): { start: number; end: number } | 'outside' | undefined {
  const [, first, last] = /^bytes=(\d*)-(\d*)$/.exec(header) ?? [];
  if (first === undefined || (first === '' && last === '')) return undefined;
  const start = first === '' ? Math.max(0, length - Number(last)) : Number(first);
  const end = first === '' || last === '' ? length - 1 : Math.min(Number(last), length - 1);
  return start > end ? 'outside' : { start, end };
}
