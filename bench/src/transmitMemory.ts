/**
 * Memory while each format is written: a process of its own for each, with a scene of distinct shapes, in which another thread watches
 * what the process takes. The peak above what it took before, in sizes of the scene.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { arrange } from '@noble-prism/core/transmit/targets/arrange';
import { DEFAULT_TARGET, wayOf } from '@noble-prism/core/transmit/targets/target';
import { MESH_WRITERS, writerFor } from '@noble-prism/core/write/formats';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { FolderSpool } from '@noble-prism/node/folderSpool';
import { nodePacker } from '@noble-prism/node/packer';
import { watchedPeak } from './peak.ts';
import { placed } from './placed.ts';
import { print } from './report.ts';

const MB = 1e6;

async function measure(format: string): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'noble-prism-bench-'));
  const spool = new FolderSpool(folder);
  try {
    const { scene, blobs } = await placed(60, 60, 1500, new BlobFolder(join(folder, 'blobs')));
    const size = Object.values(scene.meshes).reduce((sum, mesh) => sum + mesh.bytes, 0);
    const settings = { ...DEFAULT_TARGET, format };
    const writer = writerFor(format)!;
    const write = async (of: typeof scene) => {
      const { written } = await arrange(of, blobs, settings, writer);
      return writer.write(written, blobs, 'x', { ...wayOf(settings, writer), packer: nodePacker, spool });
    };
    // What is loaded once is no part of it.
    await write((await placed(1, 1, 10, blobs)).scene);
    const peak = await watchedPeak();
    const files = await write(scene);
    const over = await peak();
    const bytes = files.reduce((sum, { content }) => sum + content.length, 0);
    process.stdout.write(JSON.stringify({ over, size, bytes }));
  } finally {
    spool.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

const [, , only] = process.argv;
if (only) await measure(only);
else
  for (const { target } of MESH_WRITERS) {
    const args = ['--expose-gc', import.meta.filename, target];
    const { over, size, bytes } = JSON.parse(execFileSync(process.execPath, args, { encoding: 'utf8' })) as Record<string, number>; // prettier-ignore
    print({
      name: `Memory while ${target} is written`,
      value: over / size,
      unit: 'times the scene',
      aim: { most: 2 },
      note: `${(over / MB).toFixed(0)} MB for a scene of ${(size / MB).toFixed(0)} MB, ${(bytes / MB).toFixed(0)} MB written`,
    });
  }
