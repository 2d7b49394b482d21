/** Names of the files in a zip, from its directory alone: without unpacking, and without having the whole of it. */
import type { ByteSource } from './references.ts';

const END = 0x06054b50;
const ENTRY = 0x02014b50;
/** Bytes of the record at the end, and of the longest comment behind it (APPNOTE.TXT, 4.3.16). */
const END_BYTES = 22;
const LONGEST_COMMENT = 65_535;
/** Longest directory that is looked at. */
const MAX_DIRECTORY = 10_000_000;

/** Empty for what is no zip, or a damaged one. Folders are left out. */
export async function zipNames({ size, slice }: ByteSource): Promise<string[]> {
  const from = Math.max(0, size - END_BYTES - LONGEST_COMMENT);
  const tail = dataOf(await slice(from, size));
  let end = tail.byteLength - END_BYTES;
  // The mark may stand in a comment as well; the record is the one whose comment ends with the file.
  const isRecord = () =>
    tail.getUint32(end, true) === END && end + END_BYTES + tail.getUint16(end + 20, true) === tail.byteLength;
  while (end >= 0 && !isRecord()) end--;
  if (end < 0) return [];
  const length = tail.getUint32(end + 12, true);
  const start = tail.getUint32(end + 16, true);
  if (length > MAX_DIRECTORY || start + length > size) return [];
  const directory = dataOf(await slice(start, start + length));
  const names: string[] = [];
  for (let at = 0; at + 46 <= directory.byteLength && directory.getUint32(at, true) === ENTRY;) {
    const name = directory.getUint16(at + 28, true);
    if (at + 46 + name > directory.byteLength) break;
    const text = new TextDecoder().decode(new Uint8Array(directory.buffer, directory.byteOffset + at + 46, name));
    if (!text.endsWith('/')) names.push(text);
    at += 46 + name + directory.getUint16(at + 30, true) + directory.getUint16(at + 32, true);
  }
  return names;
}

const dataOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
