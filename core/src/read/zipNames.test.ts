// Directories of zips that another library packed (APPNOTE.TXT, 4.3.12 and 4.3.16), and damaged ones.
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { sourceOfBytes } from './references.ts';
import { zipNames } from './zipNames.ts';

const packed = zipSync({ 'B/frame.stp': new Uint8Array(3000), 'Ü.obj': new Uint8Array([1]), 'pictures/': new Uint8Array() }); // prettier-ignore

describe('the names in a zip', () => {
  it('are read from its directory', async () => {
    expect(await zipNames(sourceOfBytes(packed))).toEqual(['B/frame.stp', 'Ü.obj']);
  });

  it('stand behind a comment too', async () => {
    const comment = new TextEncoder().encode('PK\u0005\u0006 is how a zip ends');
    const bytes = new Uint8Array([...packed, ...comment]);
    new DataView(bytes.buffer).setUint16(packed.length - 2, comment.length, true);
    expect(await zipNames(sourceOfBytes(bytes))).toEqual(['B/frame.stp', 'Ü.obj']);
  });

  it('are none where it is cut off, or no zip at all', async () => {
    expect(await zipNames(sourceOfBytes(packed.subarray(0, packed.length - 30)))).toEqual([]);
    expect(await zipNames(sourceOfBytes(new TextEncoder().encode('solid cube')))).toEqual([]);
    expect(await zipNames(sourceOfBytes(new Uint8Array()))).toEqual([]);
  });
});
