/** What core needs from where it runs. It is handed in, so that core itself knows no disk, no network and no threads. */
import type { Content } from './content.ts';
import type { Hash } from './scene/types.ts';
import type { TaskInputs, TaskName, TaskOutputs } from './tasks.ts';

/** Bytes under the SHA-256 of their content. */
export interface BlobStore {
  /** @throws PrismError `missing-blob` */
  get(hash: Hash): Promise<Uint8Array>;
  /** Stores whole or not at all; storing the same bytes again does nothing. */
  put(content: Uint8Array | Content): Promise<Hash>;
  has(hash: Hash): Promise<boolean>;
}

/** A picture as pixels: red, green, blue, opacity, a byte each, rows from the top. */
export interface Picture {
  width: number;
  height: number;
  data: Uint8Array;
}

/** What the head of a picture file says. */
export interface PictureFacts {
  width: number;
  height: number;
  /** Bits of a channel. */
  bits: number;
  /** Name of the colour profile that is embedded, where it is not that of sRGB. */
  profile?: string;
}

export interface PictureView {
  /** Pixels to scale it to; as it is where absent. */
  size?: { width: number; height: number };
  /** Numbers, not colours: taken as they are stored, whatever profile is embedded. Colours come as sRGB. */
  values?: boolean;
}

/** Kinds of file that pictures are made in. */
export type PictureKind = 'png' | 'jpeg' | 'webp' | 'ktx2';

/** Opens and makes picture files. */
export interface PictureCodec {
  /** @throws PrismError `not-readable`, `too-large` */
  facts(bytes: Uint8Array, mime: string): Promise<PictureFacts>;
  /** @throws PrismError `not-readable`, `too-large` */
  decode(bytes: Uint8Array, mime: string, view?: PictureView): Promise<Picture>;
  /** @returns a picture file: PNG where nothing is said. `exact` keeps every value, where the kind of file can. */
  encode(picture: Picture, as?: { kind: PictureKind; exact?: boolean }): Promise<Uint8Array>;
}

/** Packs bytes for zips, off this thread. */
export interface Packer {
  open(): Packing;
}

/** What is being packed, piece by piece. */
export interface Packing {
  /** @returns when it may go on: what waits to be packed is bounded */
  add(bytes: Uint8Array): Promise<void>;
  end(): Promise<Packed>;
}

/** An entry of a zip as it stands there. */
export interface Packed {
  /** A stream of RFC 1951, in pieces. */
  packed: readonly Uint8Array[];
  /** Check value of what was packed (ISO 3309). */
  crc: number;
  /** Bytes before they were packed. */
  length: number;
}

/** Results of finished work by key, so that nothing is computed twice. */
export interface Memo {
  get(keys: string[]): Promise<Map<string, unknown>>;
  set(key: string, value: unknown): Promise<void>;
}

/** Runs a heavy task somewhere: in this thread, in a worker thread, in a killable process. */
export interface Workbench {
  /** @param tell hears which share is done, of tasks that say so */
  run<K extends TaskName>(
    task: K,
    input: TaskInputs[K],
    signal?: AbortSignal,
    tell?: (share: number) => void,
  ): Promise<TaskOutputs[K]>;
  /** How many tasks run side by side. */
  readonly width: number;
}

export interface Progress {
  /** What is being done, for people. */
  what: string;
  done: number;
  total: number;
  /** What is counted, where it is not pieces: shares of the whole. */
  unit?: '%';
  /** When the task began, milliseconds since 1970: what is left is estimated from it. */
  since?: number;
  /** Of a large file that is being read: what has been seen of it so far. */
  seen?: Seen & { source: string };
}

/** What is known of a large file before it has been read to its end. */
export interface Seen {
  format: string;
  /** Version, program, or what else stands in its head. */
  head?: string;
  /** What its parts are called there, for counting: `objects`, `products`. */
  what: string;
  /** How many there have been, and the names of the latest few. */
  count: number;
  names: string[];
  triangles?: number;
}

export interface Surroundings {
  blobs: BlobStore;
  memo: Memo;
  workbench: Workbench;
  progress(progress: Progress): void;
  /** Told of each piece of work as it is finished. */
  finished?(key: string, result: unknown): void;
  /** Keys of work that somebody waits for: done before the rest. Asked before each piece. */
  wanted?(): Promise<readonly string[]>;
  signal?: AbortSignal;
}
