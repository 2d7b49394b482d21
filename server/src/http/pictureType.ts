/** Kind of a picture by its first bytes; undefined for everything that no browser draws. */
export function pictureType(bytes: Uint8Array): string | undefined {
  const starts = (...magic: number[]) => magic.every((value, i) => bytes[i] === value);
  if (starts(0xff, 0xd8, 0xff)) return 'image/jpeg';
  if (starts(0x89, 0x50, 0x4e, 0x47)) return 'image/png';
  const isWebp = starts(0x52, 0x49, 0x46, 0x46) && String.fromCharCode(...bytes.subarray(8, 12)) === 'WEBP';
  return isWebp ? 'image/webp' : undefined;
}
