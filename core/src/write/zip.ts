/**
 * Zips: of entries that are stored as they are, beginning at multiples of some bytes where they are to be read where they lie (usdz
 * specification 1.3, "Layout": 64), and of entries that are packed.
 */
import { memorySpool } from '../content.ts';
import type { Content, Spool, Spooling } from '../content.ts';
import { PrismError } from '../errors.ts';
import type { Packed, Packer } from '../surroundings.ts';

export interface ZipEntry {
  name: string;
  /** As it is, or as it was packed. */
  content: Content | Packed;
}

/** Bytes of the heads of an entry, without its name, and of the end. */
const [LOCAL, CENTRAL, END] = [30, 46, 22];

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

/** A zip that grows: an entry at a time, nothing of it is kept but where it stands. */
export class ZipFile {
  readonly #file: Spooling;
  readonly #alignment: number;
  readonly #entries: Entry[] = [];
  #at = 0;
  /** Bytes of the directory, which stands at the end. */
  #directory = END;

  /**
   * @param alignment of the beginning of each entry, bytes
   * @param spool where it grows
   */
  constructor({ alignment = 1, spool = memorySpool }: { alignment?: number; spool?: Spool } = {}) {
    this.#alignment = alignment;
    this.#file = spool.open();
  }

  /** @throws PrismError `too-large` where it would not fit a zip of 4 GB */
  add({ name: text, content }: ZipEntry): this {
    const name = new TextEncoder().encode(text);
    const entry: Entry =
      'crc' in content
        ? { name, method: DEFLATED, crc: content.crc, length: content.length, start: this.#at, size: content.packed.reduce((sum, piece) => sum + piece.length, 0) }
        : { name, method: STORED, crc: crcOf(content), length: content.length, start: this.#at, size: content.length }; // prettier-ignore
    // What is put before the content is an extra field of a kind that nobody reads; four bytes of it are its own head.
    const bare = this.#at + LOCAL + name.length;
    let pad = (this.#alignment - (bare % this.#alignment)) % this.#alignment;
    if (pad > 0 && pad < 4) pad += this.#alignment;
    this.#entries.push(entry);
    this.#at = bare + pad + entry.size;
    this.#directory += CENTRAL + name.length;
    this.#check();
    const head = new Uint8Array(LOCAL + name.length + pad);
    const view = new DataView(head.buffer);
    view.setUint32(0, 0x04034b50, true);
    view.setUint16(4, 20, true);
    common(view, 6, entry);
    view.setUint16(28, pad, true);
    head.set(name, LOCAL);
    if (pad > 0) {
      view.setUint16(LOCAL + name.length, PADDING, true);
      view.setUint16(LOCAL + name.length + 2, pad - 4, true);
    }
    this.#file.write(head);
    for (const piece of 'crc' in content ? content.packed : content.pieces()) this.#file.write(piece);
    return this;
  }

  end(): Content {
    const out = new Uint8Array(this.#directory);
    const view = new DataView(out.buffer);
    let at = 0;
    for (const entry of this.#entries) {
      view.setUint32(at, 0x02014b50, true);
      view.setUint16(at + 4, 20, true);
      view.setUint16(at + 6, 20, true);
      common(view, at + 8, entry);
      view.setUint32(at + 42, entry.start, true);
      out.set(entry.name, at + CENTRAL);
      at += CENTRAL + entry.name.length;
    }
    view.setUint32(at, 0x06054b50, true);
    view.setUint16(at + 8, this.#entries.length, true);
    view.setUint16(at + 10, this.#entries.length, true);
    view.setUint32(at + 12, at, true);
    view.setUint32(at + 16, this.#at, true);
    this.#file.write(out);
    return this.#file.end();
  }

  #check(): void {
    if (this.#at + this.#directory > 0xffffffff || this.#entries.length > 0xffff)
      throw new PrismError(
        'too-large',
        'The package would be larger than 4 GB, or have more than 65,535 files, which a zip cannot hold. Split it, or send it as another format.',
      );
  }
}

/** A zip of entries. @throws PrismError `too-large` where it would not fit a zip of 4 GB */
export function zipOf(entries: readonly ZipEntry[], options: { alignment?: number; spool?: Spool } = {}): Content {
  const zip = new ZipFile(options);
  for (const entry of entries) zip.add(entry);
  return zip.end();
}

interface Entry {
  name: Uint8Array;
  method: number;
  crc: number;
  /** Bytes as they are, and as they stand there. */
  length: number;
  size: number;
  start: number;
}

const [STORED, DEFLATED] = [0, 8];
/** Names are in UTF-8. */
const UTF8 = 0x0800;
/** A kind of extra field that stands for nothing. */
const PADDING = 0x1986;
/** The first of January 1980: the same content is the same file. */
const DATE = 0x21;

/** What both heads of an entry have alike. */
function common(view: DataView, at: number, { method, crc, size, length, name }: Entry): void {
  view.setUint16(at, UTF8, true);
  view.setUint16(at + 2, method, true);
  view.setUint16(at + 6, DATE, true);
  view.setUint32(at + 8, crc, true);
  view.setUint32(at + 12, size, true);
  view.setUint32(at + 16, length, true);
  view.setUint16(at + 20, name.length, true);
}

const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let value = n;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ 0xedb88320 : value >>> 1;
  return value;
});

function crcOf(content: Content): number {
  let crc = 0;
  for (const piece of content.pieces()) crc = crc32(piece, crc);
  return crc;
}

/** Check value of a zip's entry (ISO 3309). @param before that of what stands before it */
export function crc32(bytes: Uint8Array, before = 0): number {
  let value = (before ^ 0xffffffff) >>> 0;
  for (let i = 0; i < bytes.length; i++) value = TABLE[(value ^ bytes[i]) & 0xff] ^ (value >>> 8);
  return (value ^ 0xffffffff) >>> 0;
}
