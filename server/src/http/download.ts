/** Downloads: files under their names, in ranges where a download is taken up again. */
import type { RouterContext } from '@koa/router';
import { PassThrough } from 'node:stream';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { zipOf as zipOfEntries } from '@noble-prism/core/write/zip';
import { packed } from '@noble-prism/node/packer';
import { Zip } from 'fflate';
import type { ZipInputFile } from 'fflate';

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

/**
 * The same files are the same zip: a download of it can be taken up again. Packed on other threads, so that nobody waits for it.
 * @throws PrismError `too-large` where it would not fit a zip of 4 GB
 */
export async function zipOf(files: Record<string, Uint8Array>): Promise<Uint8Array> {
  const entries = [];
  for (const [name, bytes] of Object.entries(files)) entries.push({ name, content: await packed(bytes) });
  return zipOfEntries(entries);
}

/** How entries are packed (APPNOTE 4.4.5). */
const DEFLATED = 8;

/** A file of a zip that is put together as it is sent. */
export interface Entry {
  name: string;
  /** Bytes, where they are known before. */
  size?: number;
  bytes(): Promise<Uint8Array>;
}

/** A zip of many files: one of them is in memory at a time. Where one cannot be had the download breaks off, and is seen to be broken. */
export function zipStream(ctx: RouterContext, name: string, entries: readonly Entry[]): PassThrough {
  const file = `${safeFileName(name)}.zip`;
  ctx.set({ 'Content-Disposition': `attachment; filename="${file}"` });
  ctx.type = 'application/zip';
  ctx.compress = false;
  const out = new PassThrough();
  const drained = () => (out.writableNeedDrain ? new Promise((resolve) => out.once('drain', resolve).once('close', resolve)) : undefined); // prettier-ignore
  const zip = new Zip((error, part, final) => {
    if (error) return void out.destroy(error);
    out.write(part);
    if (final) out.end();
  });
  void (async () => {
    for (const { name: path, bytes } of entries) {
      if (out.destroyed) return;
      const { packed: pieces, crc, length } = await packed(await bytes());
      const entry: ZipInputFile = { filename: path, size: length, crc, compression: DEFLATED, mtime: '1980-01-01T00:00:00' }; // prettier-ignore
      zip.add(entry);
      for (const [i, piece] of pieces.entries())
        entry.ondata?.(null, piece as Uint8Array<ArrayBuffer>, i === pieces.length - 1);
      await drained();
    }
    zip.end();
  })().catch((error: unknown) => out.destroy(error as Error));
  return out;
}
