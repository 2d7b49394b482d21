// The forecast against what really comes of it, and against the formula of the sagitta for one cylinder.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { readStep } from '../read/step/step.ts';
import { takeOff } from '../scene/facts.ts';
import type { Scene } from '../scene/types.ts';
import { modelOf } from '../testing/reading.ts';
import { cylinder, startKernel, stepOf } from '../testing/solids.ts';
import { evaluate } from './evaluate.ts';
import { forecast, forecastAt, FORECAST_CHORDS, sampleOf } from './forecast.ts';

beforeAll(() => startKernel(loadKernel));

async function sceneOf(name: string, bytes = modelOf(name).bytes) {
  const blobs = new MemoryBlobs();
  return { blobs, scene: await readStep({ name, bytes }, 's').build(blobs) };
}

describe('the forecast', () => {
  it('is what the tessellation then makes, where every solid is in the sample', async () => {
    const { blobs, scene } = await sceneOf('as1-tu-203.stp');
    const around = memorySurroundings({ blobs });
    const made = await forecast(scene, 0.3, around);
    expect(made).toMatchObject({ sampled: 5, solids: 5, share: 1, angle: 0.3 });
    expect(made.points.map(({ chord }) => chord)).toEqual([...FORECAST_CHORDS]);
    for (const chord of [0.001, 0.0001]) {
      const step = {
        id: 't',
        kind: 'tessellate',
        on: true,
        selector: { by: 'all' } as const,
        parameters: { chord, angle: 0.3, preset: 'own' },
      };
      const { scene: real } = await evaluate(scene, 'k', [step], around);
      expect(made.points.find((point) => point.chord === chord)?.triangles).toBe(takeOff(real).triangles);
    }
  });

  it('grows with the root of the inverse chord deviation on a cylinder', async () => {
    // A circle of radius r needs π / acos(1 - s/r) chords, about π √(r / 2s): four times finer, twice as many.
    const { blobs, scene } = await sceneOf('c.stp', await stepOf(cylinder(500, 100)));
    const { points } = await forecast(scene, 1.5, memorySurroundings({ blobs }));
    const at = (chord: number) => points.find((point) => point.chord === chord)?.triangles ?? 0;
    expect(at(0.0001) / at(0.001)).toBeGreaterThan(2.6);
    expect(at(0.0001) / at(0.001)).toBeLessThan(3.8);
  });

  it('remembers what it measured', async () => {
    const { blobs, scene } = await sceneOf('screw.step');
    const around = memorySurroundings({ blobs });
    const first = await forecast(scene, 0.3, around);
    const none = { width: 1, run: () => Promise.reject(new Error('measured again')) };
    expect(await forecast(scene, 0.3, { ...around, workbench: none })).toEqual(first);
  });

  it('takes the weightiest solids and some of the others, never more text than is quick', () => {
    const solids = Object.fromEntries(
      Array.from({ length: 400 }, (_, i) => [
        `s${i}`,
        { text: 't', bytes: 100_000 + i, faces: 1, entity: '#1', name: '', extent: 1 },
      ]),
    );
    const nodes = Object.keys(solids).map((solid, id) => ({ id, solid }));
    const { sample, all } = sampleOf({ solids, nodes } as unknown as Scene);
    expect(all).toHaveLength(400);
    expect(sample[0].id).toBe('s399');
    expect(sample.reduce((sum, { info }) => sum + info.bytes, 0)).toBeLessThanOrEqual(6_000_000);
  });

  it('reads between its points on logarithmic scales, and nothing outside', () => {
    const made = {
      angle: 1,
      sampled: 1,
      solids: 1,
      share: 1,
      points: [
        { chord: 0.01, triangles: 100 },
        { chord: 0.0001, triangles: 1000 },
      ],
    };
    expect(forecastAt(made, 0.001)).toBe(Math.round(Math.sqrt(100 * 1000)));
    expect(forecastAt(made, 0.01)).toBe(100);
    expect(forecastAt(made, 0.1)).toBeUndefined();
  });
});
