/** Damages files at random, always in the same way, and sees to it that nothing comes of them but a scene or a sentence. */
import { expect } from 'vitest';
import { PrismError } from '../errors.ts';
import { Companions } from '../read/companions.ts';
import { readSource } from '../read/readSource.ts';

/** Bytes of blobs that a damaged file of some kilobytes may make. */
const MOST_BYTES = 50_000_000;

class CountingBlobs {
  bytes = 0;
  async put(bytes: Uint8Array): Promise<string> {
    this.bytes += bytes.length;
    return String(this.bytes);
  }
  async get(): Promise<Uint8Array> {
    return new Uint8Array();
  }
  async has(): Promise<boolean> {
    return false;
  }
}

/** Reads; true where something came of it. Anything but a sentence for people is an error of ours. */
export async function survives(name: string, bytes: Uint8Array, build: boolean): Promise<boolean> {
  const blobs = new CountingBlobs();
  try {
    const reading = await readSource({ name, bytes, beside: new Companions(new Map()) }, 's');
    if (build) {
      const scene = await reading.build(blobs);
      for (const { bounds } of Object.values(scene.meshes))
        expect([...bounds.min, ...bounds.max].some(Number.isNaN)).toBe(false);
    }
    expect(blobs.bytes).toBeLessThan(MOST_BYTES);
    return true;
  } catch (error) {
    if (!(error instanceof PrismError)) throw error;
    expect(error.code).not.toBe('internal');
    expect(`${error.message} ${error.file}`).toContain(name);
    return false;
  }
}

/** So many damages, each of the whole file. */
export async function survivesAll(rounds: number, name: string, bytes: Uint8Array, build: boolean): Promise<void> {
  const random = seeded();
  for (let round = 0; round < rounds; round++) await survives(name, damaged(bytes, random), build);
}

type Random = (below: number) => number;

function seeded(): Random {
  let seed = 20261125;
  return (below) => (seed = (seed * 48271) % 2147483647) % below;
}

function damaged(bytes: Uint8Array, random: Random): Uint8Array {
  const out = bytes.slice();
  const hits = 1 + random(8);
  for (let i = 0; i < hits; i++) {
    const at = random(out.length);
    const way = random(3);
    // Single bits, any byte, or digits: the last keep a text readable and its numbers wrong.
    if (way === 0) out[at] ^= 1 << random(8);
    else if (way === 1) out[at] = random(256);
    else out[at] = 48 + random(10);
  }
  return out;
}
