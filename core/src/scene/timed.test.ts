// Movements in another time, against what the same keys say at the moment that is meant.
import { describe, expect, it } from 'vitest';
import { MemoryBlobs } from '../memoryStores.ts';
import { sample } from './motion.ts';
import type { AnimationKeys, Channel } from './motion.ts';
import { timed } from './timed.ts';
import { EMPTY_SCENE } from './types.ts';
import type { Scene } from './types.ts';

const LINEAR: Channel = { times: [0, 1, 4], values: [0, 0, 0, 2, 0, 0, 8, 0, 0], interpolation: 'linear' };
/** A parabola x = t² by its tangents (any handbook: cubic Hermite curves hold it exactly). */
const CURVE: Channel = { times: [0, 2], values: [0, 0, 0, 0, 0, 0, 0, 0, 0, 4, 0, 0, 4, 0, 0, 4, 0, 0], interpolation: 'cubic' }; // prettier-ignore

async function with_(channel: Channel, timing: Parameters<typeof timed>[2]): Promise<{ duration: number; at(time: number): number }> {
  const blobs = new MemoryBlobs();
  const keys = await blobs.put(new TextEncoder().encode(JSON.stringify({ tracks: [{ translation: channel }] })));
  const scene: Scene = { ...EMPTY_SCENE, animations: { a: { id: 'a', name: 'Run', source: 's', duration: 4, nodes: 1, keys } } };
  const { animations } = await timed(scene, blobs, timing);
  const made = JSON.parse(new TextDecoder().decode(await blobs.get(animations.a.keys!))) as AnimationKeys;
  return { duration: animations.a.duration, at: (time) => sample(made.tracks[0].translation!, time, 'translation')[0] };
} // prettier-ignore

describe('movements in another time', () => {
  it('go as much faster as is said', async () => {
    const run = await with_(LINEAR, { speed: 2 });
    expect(run.duration).toBe(2);
    for (const time of [0, 0.25, 0.5, 1.3, 2]) expect(run.at(time)).toBeCloseTo(sample(LINEAR, time * 2, 'translation')[0], 12); // prettier-ignore
    const curve = await with_(CURVE, { speed: 4 });
    // Tangents are changes in a second: four times as many.
    for (const time of [0.1, 0.25, 0.4]) expect(curve.at(time)).toBeCloseTo((time * 4) ** 2, 9);
  });

  it('are cut at both ends, between keys too, and begin at zero', async () => {
    const run = await with_(LINEAR, { from: 0.5, to: 2.5 });
    expect(run.duration).toBe(2);
    for (const time of [0, 0.5, 1, 2]) expect(run.at(time)).toBeCloseTo(sample(LINEAR, time + 0.5, 'translation')[0], 12);
    const curve = await with_(CURVE, { from: 1 });
    expect([curve.at(0), curve.at(1)]).toEqual([1, 4]);
    // A piece of it is the same parabola, at any moment.
    for (const time of [0.1, 0.37, 0.5, 0.9]) expect(curve.at(time)).toBeCloseTo((1 + time) ** 2, 12);
  }); // prettier-ignore

  it('beyond their end hold the last place; nothing asked for changes nothing', async () => {
    expect((await with_(LINEAR, { from: 10 })).at(0)).toBe(8);
    expect(await timed(EMPTY_SCENE, new MemoryBlobs(), {})).toBe(EMPTY_SCENE);
  });
});
