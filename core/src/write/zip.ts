/**
 * Zips: of entries that are stored as they are, beginning at multiples of some bytes where they are to be read where they lie (usdz
 * specification 1.3, "Layout": 64), and of entries that are packed.
 */
import { PrismError } from '../errors.ts';
import type { Packed, Packer } from '../surroundings.ts';

export interface ZipEntry {
  name: string;
  /** As it is, or as it was packed. */
  content: Uint8Array | Packed;
}

const LOCAL = 30;
const CENTRAL = 46;

/** Packs by the stream that every platform has, where nothing faster is handed over. */
export const platformPacker: Packer = {
  open() {
    const stream = new CompressionStream('deflate-raw');
    const writer = stream.writable.getWriter();
    const packed = new Response(stream.readable).arrayBuffer();
    let [crc, length] = [0, 0];
    return {
      add(bytes) {
        crc = crc32(bytes, crc);
        length += bytes.length;
        return writer.write(bytes as Uint8Array<ArrayBuffer>);
      },
      async end() {
        await writer.close();
        return { packed: [new Uint8Array(await packed)], crc, length };
      },
    };
  },
};

/**
 * @param alignment of the beginning of each entry, bytes
 * @throws PrismError `too-large` where it would not fit a zip of 4 GB
 */
export function zipOf(files: readonly ZipEntry[], alignment = 1): Uint8Array {
  const encoder = new TextEncoder();
  const entries = [];
  let at = 0;
  for (const { name: text, content } of files) {
    const name = encoder.encode(text);
    const entry = content instanceof Uint8Array ? { packed: [content], crc: crc32(content), length: content.length, method: STORED } : { ...content, method: DEFLATED }; // prettier-ignore
    const size = entry.packed.reduce((sum, piece) => sum + piece.length, 0);
    // What is put before the content is an extra field of a kind that nobody reads; four bytes of it are its own head.
    const bare = at + LOCAL + name.length;
    let pad = (alignment - (bare % alignment)) % alignment;
    if (pad > 0 && pad < 4) pad += alignment;
    entries.push({ ...entry, name, size, start: at, pad });
    at = bare + pad + size;
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
  for (const { name, packed, method, size, length, start, pad, crc } of entries) {
    view.setUint32(start, 0x04034b50, true);
    view.setUint16(start + 4, 20, true);
    view.setUint16(start + 6, UTF8, true);
    view.setUint16(start + 8, method, true);
    common(view, start + 10, crc, size, length, name.length);
    view.setUint16(start + 28, pad, true);
    out.set(name, start + LOCAL);
    if (pad > 0) {
      view.setUint16(start + LOCAL + name.length, PADDING, true);
      view.setUint16(start + LOCAL + name.length + 2, pad - 4, true);
    }
    let to = start + LOCAL + name.length + pad;
    for (const piece of packed) {
      out.set(piece, to);
      to += piece.length;
    }
  }
  let entry = directory;
  for (const { name, method, size, length, start, crc } of entries) {
    view.setUint32(entry, 0x02014b50, true);
    view.setUint16(entry + 4, 20, true);
    view.setUint16(entry + 6, 20, true);
    view.setUint16(entry + 8, UTF8, true);
    view.setUint16(entry + 10, method, true);
    common(view, entry + 12, crc, size, length, name.length);
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

/** Check value of a zip's entry (ISO 3309). @param before that of what stands before it */
export function crc32(bytes: Uint8Array, before = 0): number {
  let value = (before ^ 0xffffffff) >>> 0;
  for (let i = 0; i < bytes.length; i++) value = TABLE[(value ^ bytes[i]) & 0xff] ^ (value >>> 8);
  return (value ^ 0xffffffff) >>> 0;
}
