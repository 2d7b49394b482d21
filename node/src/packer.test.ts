// Packing against another implementation: inflate of fflate, and the check value of the CRC-32 of zips ("123456789", ISO 3309).
import { inflateSync, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { randomNumbers } from '@noble-prism/core/testing/random';
import { MemoryContent } from '@noble-prism/core/content';
import { platformPacker, zipOf } from '@noble-prism/core/write/zip';
import { nodePacker } from './packer.ts';

/** Nine megabytes and a bit: over two parts that are packed apart, and not as a whole number of them. */
function content(): Uint8Array {
  const random = randomNumbers(7);
  const out = new Uint8Array(9_000_001);
  for (let i = 0; i < out.length; i++) out[i] = 48 + Math.floor(random() * 10);
  return out;
}

describe.each([
  ['Node', nodePacker],
  ['every platform', platformPacker],
])('the packer of %s', (_, packer) => {
  const pack = async (...pieces: Uint8Array[]) => {
    const packing = packer.open();
    for (const piece of pieces) await packing.add(piece);
    return packing.end();
  };

  const SAME = 'makes one stream that another implementation unpacks to the same bytes';
  if (packer === nodePacker) it(SAME, isUnpackedTheSame);
  else atLength(SAME, isUnpackedTheSame);

  async function isUnpackedTheSame(): Promise<void> {
    const bytes = content();
    for (const pieces of [[bytes], [bytes.subarray(0, 5), bytes.subarray(5, 8_000_000), bytes.subarray(8_000_000)], [], [Uint8Array.of(1)], [new Uint8Array(1 << 22)]]) {
      const { packed, length } = await pack(...pieces);
      const all = Buffer.concat(pieces);
      expect(length).toBe(all.length);
      // Compared as a whole: a million expectations would take minutes.
      expect(Buffer.compare(inflateSync(Buffer.concat(packed)), all)).toBe(0);
      if (length > 1) expect(packed.reduce((sum, piece) => sum + piece.length, 0)).toBeLessThan(length / 2);
    }
  } // prettier-ignore

  it('has the check value of the standard, in pieces too, and its zips are opened by another implementation', async () => {
    const text = new TextEncoder().encode('123456789');
    expect((await pack(text)).crc.toString(16)).toBe('cbf43926');
    expect((await pack(text.subarray(0, 4), text.subarray(4))).crc.toString(16)).toBe('cbf43926');
    const bytes = content().subarray(0, 100_000);
    const entries = [
      { name: 'a/b.txt', content: await pack(bytes) },
      { name: 'c', content: new MemoryContent(text) },
    ];
    const made = unzipSync(zipOf(entries, { alignment: 64 }).bytes());
    expect(Buffer.compare(made['a/b.txt'], bytes)).toBe(0);
    expect([...made.c]).toEqual([...text]);
  });
});
