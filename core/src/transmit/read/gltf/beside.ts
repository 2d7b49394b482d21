/** Files of glTF that lie beside each other, put together as one binary file: the loader would fetch what is named. */
import { WrittenFile } from '../../../write/writer.ts';

/** Stands for the numbers of a binary file; no file can be called so. */
const OWN_PART = '/';

/**
 * A text with its files beside it, as one binary file.
 * @throws Error where it cannot be read, or where a file that it names is not there
 */
export function together([text, ...beside]: readonly WrittenFile[]): Uint8Array {
  const json = JSON.parse(new TextDecoder().decode(text.bytes)) as GltfText;
  const files = new Map(beside.map((file) => [file.name, file]));
  const fileOf = (uri: string) => {
    const file = files.get(decodeURIComponent(uri));
    if (!file) throw new Error(`${uri} is named in it and not there`);
    return file;
  };
  // The loader fetches what is named; what lies beside is handed to it as one binary file: one buffer behind the other, then pictures.
  const buffers = json.buffers ?? [];
  const views = (json.bufferViews ??= []);
  const chunks: Uint8Array[] = [];
  const begins = new Map<number, number>();
  let length = 0;
  for (const [i, { uri, byteLength }] of buffers.entries()) {
    if (uri === undefined) continue;
    const { bytes } = fileOf(uri);
    if (bytes.length < byteLength) throw new Error(`${uri} is shorter than it is said to be`);
    begins.set(i, length);
    chunks.push(bytes);
    length += padded(bytes.length);
  }
  // Of packed numbers there is a second buffer, which is only how long they are when they are unpacked: it has no file.
  const without = buffers.filter(({ uri }) => uri === undefined);
  const move = (view: { buffer: number; byteOffset?: number }) => {
    const begin = begins.get(view.buffer);
    if (begin === undefined) view.buffer = 1 + without.indexOf(buffers[view.buffer]);
    else Object.assign(view, { buffer: 0, byteOffset: (view.byteOffset ?? 0) + begin });
  };
  for (const view of views) {
    move(view);
    if (view.extensions?.EXT_meshopt_compression) move(view.extensions.EXT_meshopt_compression);
  }
  for (const image of json.images ?? []) {
    if (image.uri === undefined) continue;
    const { bytes, mime } = fileOf(image.uri);
    delete image.uri;
    Object.assign(image, { mimeType: mime, bufferView: views.length });
    views.push({ buffer: 0, byteOffset: length, byteLength: bytes.length });
    chunks.push(bytes);
    length += padded(bytes.length);
  }
  json.buffers = [{ byteLength: length }, ...without];
  return binaryOf(json, chunks, length);
}

/** A binary file whose pictures lie beside it: its text and its numbers as files of their own. */
export function apart([file, ...beside]: readonly WrittenFile[]): WrittenFile[] {
  const { bytes } = file;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const head = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + head))) as GltfText;
  if (json.buffers?.[0]) json.buffers[0].uri = OWN_PART;
  const own = new WrittenFile(OWN_PART, file.mime, bytes.subarray(28 + head));
  return [new WrittenFile(file.name, file.mime, new TextEncoder().encode(JSON.stringify(json))), own, ...beside];
}

interface GltfText {
  buffers?: { uri?: string; byteLength: number }[];
  bufferViews?: {
    buffer: number;
    byteOffset: number;
    byteLength: number;
    extensions?: { EXT_meshopt_compression?: { buffer: number; byteOffset?: number } };
  }[];
  images?: { uri?: string }[];
}

const padded = (length: number) => Math.ceil(length / 4) * 4;

/** A binary file of a text and its chunks (glTF 2.0, 4.4). */
function binaryOf(json: GltfText, chunks: readonly Uint8Array[], length: number): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const head = padded(text.length);
  const out = new Uint8Array(28 + head + length).fill(32, 20, 20 + head);
  const view = new DataView(out.buffer);
  for (const [at, value] of [GLTF, 2, out.length, head, JSON_CHUNK].entries()) view.setUint32(at * 4, value, true);
  out.set(text, 20);
  view.setUint32(20 + head, length, true);
  view.setUint32(24 + head, BIN_CHUNK, true);
  let at = 28 + head;
  for (const chunk of chunks) {
    out.set(chunk, at);
    at += padded(chunk.length);
  }
  return out;
}

const [GLTF, JSON_CHUNK, BIN_CHUNK] = [0x46546c67, 0x4e4f534a, 0x004e4942];
