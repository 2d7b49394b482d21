/**
 * `prepare` as a whole (survey, cut, tessellate, write, read back) against the bare kernel's read and mesh of the whole file in
 * one thread. Each runs in a fresh process; neither counts the start of the process, both count loading the kernel.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { programFile } from '@noble-prism/node/programs';
import { demoFile, openFile, repeated } from './files.ts';
import { print } from './report.ts';

const CHORD = 0.1;
const ANGLE = 0.35;

function node(...args: string[]): string {
  const { status, stdout, stderr } = spawnSync(process.execPath, args, {
    encoding: 'utf8',
    maxBuffer: 1e9,
  });
  if (status !== 0) throw new Error(stderr || stdout);
  return stdout;
}

function bare(path: string): { seconds: number; triangles: number } {
  const runs = [0, 1].map(
    () =>
      JSON.parse(node(join(import.meta.dirname, 'bareKernel.mjs'), path, String(CHORD), String(ANGLE))) as {
        seconds: number;
        triangles: number;
      },
  );
  return runs[0].seconds < runs[1].seconds ? runs[0] : runs[1];
}

function ours(path: string): { seconds: number; triangles: number; parts: string } {
  const out = mkdtempSync(join(tmpdir(), 'noble-prism-bench-'));
  try {
    const runs = [0, 1].map(() => {
      const { seconds, scene, sources } = JSON.parse(
        node(
          programFile('prism'),
          'prepare',
          path,
          '--out',
          out,
          '--chord',
          `${CHORD}mm`,
          '--angle',
          `${ANGLE}rad`,
          '--json',
        ),
      ) as {
        seconds: Record<string, number>;
        scene: { triangles: number };
        sources: { parts: number; pieces: number }[];
      };
      const total = Object.values(seconds).reduce((sum, value) => sum + value, 0);
      return {
        seconds: total,
        triangles: scene.triangles,
        parts: `${sources[0].parts} parts of ${sources[0].pieces} solids`,
      };
    });
    return runs[0].seconds < runs[1].seconds ? runs[0] : runs[1];
  } finally {
    rmSync(out, { recursive: true, force: true });
  }
}

const cases: [string, number, string][] = [
  [await demoFile('drive-unit.stp'), 1, 'repeated parts'],
  [await demoFile('sheave-train.stp'), 1, 'repeated parts'],
  [openFile('as1-tu-203.stp'), 1, 'repeated parts, small'],
  [repeated('linkrods.step', 30), 0.65, 'thirty heavy distinct solids, two kernel threads'],
];
const only = process.argv[2];
for (const [path, most, what] of cases.filter(([path]) => !only || path.includes(only))) {
  const reference = bare(path);
  const own = ours(path);
  const note = `${what}: ${own.seconds.toFixed(2)} s for ${own.parts}, bare kernel ${reference.seconds.toFixed(2)} s; ${own.triangles} and ${reference.triangles} triangles`;
  print({
    name: `Prepare ${basename(path)}`,
    value: own.seconds / reference.seconds,
    unit: 'times the bare kernel',
    aim: { most },
    note,
  });
}
