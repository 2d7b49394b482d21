// Sending that is disturbed: cancelled, killed, or before a disk that takes nothing. No half delivery, nothing twice, nothing lost.
import { mkdir, readdir, readFile } from 'node:fs/promises';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { WrittenFile } from '@noble-prism/core/write/writer';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import { atLength } from '@noble-prism/core/testing/atLength';
import { models } from '@noble-prism/core/testing/reading';
import { putInFolder } from './services/deliveries.ts';
import { TestServer } from './testing.ts';
import type { TestJob } from './testing.ts';

let server: TestServer;
let job: TestJob;
beforeAll(async () => {
  server = await TestServer.start();
  const { id } = await server.makeJob('Engine');
  const path = join(models, 'glTF2', '2CylinderEngine-glTF-Binary', '2CylinderEngine.glb');
  await server.upload(id, 'engine.glb', new Uint8Array(readFileSync(path)));
  job = await server.until(id, ({ tasks, sources }) => sources[0]?.state === 'ready' && tasks.some(({ kind, state, result }) => kind === 'evaluate' && state === 'done' && result?.version)); // prettier-ignore
});
afterAll(() => server?.stop());

const FORMATS = ['glb', 'usda', 'obj', 'x3d'];

async function send(folder: boolean, formats = FORMATS): Promise<string> {
  const targets = formats.map((format) => ({ name: format, settings: { ...DEFAULT_TARGET, format } }));
  const body = { targets, name: 'Engine', version: job.version.number, folder };
  return (await server.call<{ task: string }>('POST', `/api/jobs/${job.id}/transmittals`, body)).body.task;
}

/** The task, once it has got so far. */
async function under(task: string, done: number): Promise<void> {
  await server.until(job.id, ({ tasks }) => tasks.some(({ id, progress }) => id === task && (progress?.done ?? 0) >= done)); // prettier-ignore
}

const delivered = () => readdir(join(server.dataDir, 'deliveries'), { recursive: true }).catch(() => [] as string[]);

describe('sending', () => {
  it('that is cancelled in the middle leaves no transmittal and no file, and the next one goes out', async () => {
    const task = await send(true);
    await under(task, 4);
    await server.call('POST', `/api/tasks/${task}/cancel`);
    const { transmittals } = await server.until(job.id, ({ tasks }) => tasks.some(({ id, state }) => id === task && state === 'cancelled')); // prettier-ignore
    expect(transmittals).toEqual([]);
    expect(await delivered()).toEqual([]);
    await send(false, ['glb']);
    const after = await server.until(job.id, ({ transmittals: sent }) => sent.length > 0);
    expect(after.transmittals[0].outputs.every(({ readBack }) => readBack?.holds)).toBe(true);
  });

  atLength('whose server and workers are killed in the middle is done once, and whole', async () => {
    const before = (await server.job(job.id)).transmittals.length;
    const task = await send(true);
    await under(task, 4);
    const below = await server.children();
    await server.kill();
    for (const pid of below)
      try {
        process.kill(pid, 'SIGKILL');
      } catch {
        // It went with the server.
      }
    await server.launch();
    const { transmittals } = await server.until(job.id, ({ transmittals: sent }) => sent.length > before, 55);
    expect(transmittals).toHaveLength(before + 1);
    const [{ id, files, folder }] = transmittals;
    for (const [number, { name, bytes }] of files.entries()) {
      const downloaded = await (await fetch(`${server.url}/api/transmittals/${id}/files/${number}`)).arrayBuffer();
      expect(downloaded.byteLength).toBe(bytes);
      expect((await readFile(join(server.dataDir, 'deliveries', folder!, name))).length).toBe(bytes);
    }
  });
});

describe('a folder of deliveries', () => {
  it('that takes only a part of the files is left as it was', async () => {
    const root = join(server.dataDir, 'narrow');
    await mkdir(root);
    const files = [
      new WrittenFile('a.glb', '', new Uint8Array(10)),
      // A name that no file system takes, behind one that was written.
      new WrittenFile(`${'b'.repeat(300)}.glb`, '', new Uint8Array(10)),
    ];
    await expect(putInFolder(root, 'engine/v2', files)).rejects.toMatchObject({ code: 'internal', message: expect.stringContaining('Nothing was left there') as string }); // prettier-ignore
    expect(await readdir(root)).toEqual([]);
  });

  it('gives each delivery a folder of its own, and never writes outside of it', async () => {
    const root = join(server.dataDir, 'wide');
    const file = (name: string) => [new WrittenFile(name, '', new Uint8Array(3))];
    expect(await putInFolder(root, 'engine/v2', file('a.glb'))).toBe('engine/v2');
    expect(await putInFolder(root, 'engine/v2', file('a.glb'))).toBe('engine/v2_2');
    await expect(putInFolder(root, 'engine/v3', file('../../a.glb'))).rejects.toThrow('would leave its folder');
    expect((await readdir(join(root, 'engine'))).sort()).toEqual(['v2', 'v2_2']);
  });
});
