/**
 * Zips: of entries that are stored as they are, beginning at multiples of some bytes where they are to be read where they lie (usdz
 * specification 1.3, "Layout": 64), and of entries that are packed.
 */
import { PrismError } from '../errors.ts';

export interface ZipEntry {
  name: string;
  /** As it is. */
  bytes: Uint8Array;
  /** As it stands in the zip, where it is packed (RFC 1951). */
  packed?: Uint8Array;
}

const LOCAL = 30;
const CENTRAL = 46;

/** Packs bytes by the platform's own deflate, which is many times as fast as one in script, and off this thread. */
export async function deflated(bytes: Uint8Array): Promise<Uint8Array> {
  const stream = new Blob([bytes as Uint8Array<ArrayBuffer>])
    .stream()
    .pipeThrough(new CompressionStream('deflate-raw'));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

/**
 * @param alignment of the beginning of each entry, bytes
 * @throws PrismError `too-large` where it would not fit a zip of 4 GB
 */
export function zipOf(files: readonly ZipEntry[], alignment = 1): Uint8Array {
  const encoder = new TextEncoder();
  const entries: { name: Uint8Array; bytes: Uint8Array; packed?: Uint8Array; at: number; pad: number; crc: number }[] =
    [];
  let at = 0;
  for (const { name: text, bytes, packed } of files) {
    const name = encoder.encode(text);
    // What is put before the content is an extra field of a kind that nobody reads; four bytes of it are its own head.
    const bare = at + LOCAL + name.length;
    let pad = (alignment - (bare % alignment)) % alignment;
    if (pad > 0 && pad < 4) pad += alignment;
    entries.push({ name, bytes, at, pad, crc: crc32(bytes), ...(packed ? { packed } : {}) });
    at = bare + pad + (packed ?? bytes).length;
  }
  const directory = at;
  const end = directory + entries.reduce((sum, { name }) => sum + CENTRAL + name.length, 0);
  if (end + 22 > 0xffffffff)
    throw new PrismError(
      'too-large',
      'The package would be larger than 4 GB, which a zip cannot hold. Split it, or send it as another format.',
    );
  const out = new Uint8Array(end + 22);
  const view = new DataView(out.buffer);
  for (const { name, bytes, packed, at: start, pad, crc } of entries) {
    view.setUint32(start, 0x04034b50, true);
    view.setUint16(start + 4, 20, true);
    view.setUint16(start + 6, UTF8, true);
    view.setUint16(start + 8, packed ? DEFLATED : STORED, true);
    common(view, start + 10, crc, (packed ?? bytes).length, bytes.length, name.length);
    view.setUint16(start + 28, pad, true);
    out.set(name, start + LOCAL);
    if (pad > 0) {
      view.setUint16(start + LOCAL + name.length, PADDING, true);
      view.setUint16(start + LOCAL + name.length + 2, pad - 4, true);
    }
    out.set(packed ?? bytes, start + LOCAL + name.length + pad);
  }
  let entry = directory;
  for (const { name, bytes, packed, at: start, crc } of entries) {
    view.setUint32(entry, 0x02014b50, true);
    view.setUint16(entry + 4, 20, true);
    view.setUint16(entry + 6, 20, true);
    view.setUint16(entry + 8, UTF8, true);
    view.setUint16(entry + 10, packed ? DEFLATED : STORED, true);
    common(view, entry + 12, crc, (packed ?? bytes).length, bytes.length, name.length);
    view.setUint32(entry + 42, start, true);
    out.set(name, entry + CENTRAL);
    entry += CENTRAL + name.length;
  }
  view.setUint32(end, 0x06054b50, true);
  view.setUint16(end + 8, entries.length, true);
  view.setUint16(end + 10, entries.length, true);
  view.setUint32(end + 12, end - directory, true);
  view.setUint32(end + 16, directory, true);
  return out;
}

const [STORED, DEFLATED] = [0, 8];
/** Names are in UTF-8. */
const UTF8 = 0x0800;
/** A kind of extra field that stands for nothing. */
const PADDING = 0x1986;
/** The first of January 1980: the same content is the same file. */
const DATE = 0x21;

/** What both heads of an entry have alike, from the time on. */
function common(view: DataView, at: number, crc: number, packed: number, length: number, name: number): void {
  view.setUint16(at + 2, DATE, true);
  view.setUint32(at + 4, crc, true);
  view.setUint32(at + 8, packed, true);
  view.setUint32(at + 12, length, true);
  view.setUint16(at + 16, name, true);
}

const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let value = n;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ 0xedb88320 : value >>> 1;
  return value;
});

/** Checksum of a zip's entry (ISO 3309). */
export function crc32(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (let i = 0; i < bytes.length; i++) value = TABLE[(value ^ bytes[i]) & 0xff] ^ (value >>> 8);
  return (value ^ 0xffffffff) >>> 0;
}
