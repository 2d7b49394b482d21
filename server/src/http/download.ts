/** Downloads: files under their names, in ranges where a download is taken up again. */
import type { RouterContext } from '@koa/router';
import { zipSync } from 'fflate';

interface Downloaded {
  name: string;
  mime: string;
  /** The same as long as the bytes are: a download that was broken off goes on only then. */
  tag: string;
}

/** The bytes, or the part of them that is asked for (RFC 9110, 14). */
export function download(ctx: RouterContext, { name, mime, tag }: Downloaded, bytes: Uint8Array): Buffer {
  const etag = `"${tag}"`;
  ctx.set({ 'Content-Disposition': `attachment; filename="${name}"`, 'Accept-Ranges': 'bytes', ETag: etag });
  ctx.type = mime;
  const whole = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  const condition = ctx.get('If-Range');
  const range = condition === '' || condition === etag ? rangeOf(ctx.get('Range'), bytes.length) : undefined;
  if (!range) return whole;
  if (range === 'outside') {
    ctx.status = 416;
    ctx.set('Content-Range', `bytes */${bytes.length}`);
    return Buffer.alloc(0);
  }
  // What is packed on the way could not be put together again.
  ctx.compress = false;
  ctx.status = 206;
  ctx.set('Content-Range', `bytes ${range.start}-${range.end}/${bytes.length}`);
  return whole.subarray(range.start, range.end + 1);
}

/** One range of bytes; several are answered with the whole. */
function rangeOf(header: string, length: number): { start: number; end: number } | 'outside' | undefined {
  const [, first, last] = /^bytes=(\d*)-(\d*)$/.exec(header) ?? [];
  if (first === undefined || (first === '' && last === '')) return undefined;
  const start = first === '' ? Math.max(0, length - Number(last)) : Number(first);
  const end = first === '' || last === '' ? length - 1 : Math.min(Number(last), length - 1);
  return start > end ? 'outside' : { start, end };
}

/** The same files are the same zip: a download of it can be taken up again. Most of what is sent is packed already. */
export function zipOf(entries: Record<string, Uint8Array>): Uint8Array {
  return zipSync(entries, { level: 1, mtime: '1980-01-01T00:00:00' });
}
