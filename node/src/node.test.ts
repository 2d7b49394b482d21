// Blobs on disk and worker threads: written whole or not at all, and a task that is dropped costs its thread and nothing else.
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { packMesh, unpackMesh } from '@noble-prism/core/mesh/mesh';
import { ballMesh } from '@noble-prism/core/testing/meshes';
import { BlobFolder } from './blobFolder.ts';
import { ThreadWorkbench } from './threads.ts';

const folder = await mkdtemp(join(tmpdir(), 'noble-prism-blobs-'));
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a folder of blobs', () => {
  const blobs = new BlobFolder(folder);

  it('keeps bytes under their SHA-256 (example of FIPS 180-4), once', async () => {
    const hash = await blobs.put(new TextEncoder().encode('abc'));
    expect(hash).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
    await Promise.all(Array.from({ length: 5 }, () => blobs.put(new TextEncoder().encode('abc'))));
    expect(new TextDecoder().decode(await blobs.get(hash))).toBe('abc');
    expect(await readdir(join(folder, 'ba'))).toEqual([hash.slice(2)]);
  });

  it.each(['../../etc/passwd', '', 'BA78', `${'a'.repeat(63)}/`])('refuses the name %j', async (name) => {
    await expect(blobs.get(name)).rejects.toMatchObject({ code: 'missing-blob' });
  });
});

describe('worker threads', () => {
  // Triangles enough that the reduction takes a while.
  const heavy = packMesh(ballMesh(1, 700));
  const light = packMesh(ballMesh(1, 12));
  const half = { until: 'share', share: 0.5 } as const;

  it('run tasks, and end one that is cancelled while the others go on', async () => {
    const bench = new ThreadWorkbench({ width: 2 });
    try {
      const controller = new AbortController();
      const dropped = bench.run(
        'reduce',
        { blob: heavy, target: { until: 'deviation', deviation: 0.01 } },
        controller.signal,
      );
      const kept = bench.run('reduce', { blob: light, target: half });
      const waiting = bench.run('reduce', { blob: light, target: half });
      setTimeout(() => controller.abort(), 50);
      await expect(dropped).rejects.toMatchObject({ code: 'cancelled' });
      for (const { blob } of [await kept, await waiting]) expect(unpackMesh(blob).indices.length).toBeGreaterThan(0);
    } finally {
      await bench.close();
    }
  });

  it('stop a task that runs over its time, and take the next one', async () => {
    const bench = new ThreadWorkbench({ width: 1, timeLimit: 2000 });
    try {
      await bench.run('reduce', { blob: light, target: half });
      const long = bench.run('reduce', { blob: heavy, target: { until: 'deviation', deviation: 0.000001 } });
      await expect(long).rejects.toMatchObject({ code: 'timed-out', message: expect.stringContaining('coarser') });
      await expect(bench.run('reduce', { blob: light, target: half })).resolves.toBeDefined();
    } finally {
      await bench.close();
    }
  });

  it('tell the error of a task as the error it was', async () => {
    const bench = new ThreadWorkbench({ width: 1 });
    try {
      const damaged = bench.run('reduce', { blob: light.subarray(0, 40), target: half });
      await expect(damaged).rejects.toMatchObject({ name: 'PrismError', code: 'not-readable' });
    } finally {
      await bench.close();
      await expect(bench.run('reduce', { blob: light, target: half })).rejects.toMatchObject({ code: 'cancelled' });
    }
  });
});
