/** Thirty small files prepared in one batch against thirty runs of one file each; starts of processes are counted in both. */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import { programFile } from '@noble-prism/node/programs';
import { openFile } from './files.ts';
import { print } from './report.ts';

const FILES = 30;
const SMALL = ['OBJ/box.obj', '3MF/box.3mf', 'as1-tu-203.stp'];

function seconds(...args: string[]): number {
  const started = performance.now();
  const { status, stderr } = spawnSync(process.execPath, [programFile('prism'), 'prepare', ...args], {
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (status !== 0) throw new Error(stderr);
  return (performance.now() - started) / 1000;
}

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-bench-'));
try {
  const models = join(folder, 'models');
  mkdirSync(models);
  const paths = Array.from({ length: FILES }, (_, i) => {
    const from = openFile(SMALL[i % SMALL.length]);
    const path = join(models, `part-${i + 1}${extname(from)}`);
    copyFileSync(from, path);
    return path;
  });
  const single = paths.reduce((sum, path) => sum + seconds(path, '--out', join(folder, 'single')), 0);
  const together = seconds(models, '--out', join(folder, 'batch'));
  print({
    name: `A batch of ${FILES} small files`,
    value: together / single,
    unit: `times ${FILES} single runs`,
    aim: { most: 0.6 },
    note: `${together.toFixed(1)} s and ${single.toFixed(1)} s`,
  });
} finally {
  rmSync(folder, { recursive: true, force: true });
}
