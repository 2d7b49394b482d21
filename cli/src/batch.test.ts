// Many files at once, as a script prepares them: what fails costs itself alone.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { atLength } from '@noble-prism/core/testing/atLength';
import { StepText } from '@noble-prism/core/testing/stepText';
import { programFile } from '@noble-prism/node/programs';
import { nodePictures } from '@noble-prism/node/pictures';
import { prism, prismHere } from './testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-batch-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const models = join(folder, 'models');
mkdirSync(models);
const NAMES = Array.from({ length: 5 }, (_, i) => `wedge-${i + 1}`);
for (const [i, name] of NAMES.entries()) {
  const step = new StepText();
  step.product(name, [step.tetrahedron(10 * (i + 1)).solid]);
  writeFileSync(join(models, `${name}.stp`), step.bytes());
}
writeFileSync(join(models, 'broken.stp'), 'ISO-10303-21; HEADER; this is no model');

/** The broken one and some others. */
const FEW = ['broken', ...NAMES.slice(0, 3)].map((name) => join(models, `${name}.stp`));

interface BatchReport {
  summary: { files: number; prepared: number; incomplete: number; failed: number };
  files: {
    file: string;
    state: string;
    parts?: number;
    triangles?: number;
    error?: { code: string; message: string };
  }[];
  outputs: { source: string; file: string; format: string; bytes?: number; readBack?: { holds: boolean } }[];
}

describe('a batch', () => {
  it('of six files with one broken prepares five, with steps, schedule and targets from files, and says what became of each', () => {
    const out = join(folder, 'out');
    const targets = join(folder, 'targets.json');
    writeFileSync(targets, JSON.stringify([{ name: 'Print', format: 'stl', unit: 'mm' }, { name: 'Web', format: 'glb' }])); // prettier-ignore
    const steps = join(folder, 'steps.json');
    writeFileSync(steps, JSON.stringify([{ kind: 'tessellate', parameters: { preset: 'own', chord: 0.001, angle: 0.5 } }, { kind: 'turn', parameters: { direction: 'z-to-y' } }])); // prettier-ignore
    const schedule = join(folder, 'schedule.csv');
    writeFileSync(schedule, 'by;which;material\nname;wedge-*;lib:cast-iron\n');
    const { status, json } = prism('prepare', models, '--steps', steps, '--schedule', schedule, '--targets', targets, '--out', out, '--json'); // prettier-ignore
    expect(status).toBe(1);
    const { summary, files, outputs } = json() as unknown as BatchReport;
    expect(summary).toMatchObject({ files: 6, prepared: 5, incomplete: 0, failed: 1 });
    expect(files.find(({ state }) => state === 'failed')).toMatchObject({
      file: join(models, 'broken.stp'),
      error: { code: 'not-readable' },
    });
    const main = outputs.filter(({ readBack }) => readBack);
    expect(main).toHaveLength(10);
    expect(main.every(({ readBack }) => readBack?.holds)).toBe(true);
    expect(outputs.find(({ file }) => file.endsWith('wedge-3_mm.stl'))).toMatchObject({
      source: join(models, 'wedge-3.stp'),
      bytes: 84 + 4 * 50,
    });
    // Each came without a material and left with that of the schedule.
    expect(readFileSync(join(out, 'wedge-5.glb')).toString('latin1')).toContain('Cast iron');
    const made = NAMES.flatMap((name) => [`${name}.glb`, `${name}.manifest.json`, `${name}.report.html`, `${name}_mm.stl`]); // prettier-ignore
    expect(readdirSync(out).sort()).toEqual(made.sort());
  });

  atLength('says the same in words, one line for each and one for all', async () => {
    const [one, two] = NAMES.map((name) => join(models, `${name}.stp`));
    const { status, stdout } = await prismHere([
      'prepare',
      one,
      two,
      join(folder, 'nobody.stp'),
      '--out',
      join(folder, 'words'),
    ]);
    expect(status).toBe(1);
    const lines = stdout.trim().split('\n');
    expect(lines).toHaveLength(4);
    expect(lines[0]).toMatch(/wedge-1\.stp: prepared, 1 part, 4 triangles, [\d.]+\skB, [\d.]+ s$/);
    expect(lines[2]).toMatch(/nobody\.stp: failed: .*cannot be read/);
    expect(lines[3]).toMatch(/^3 files: 2 prepared, 1 failed; [\d.]+\skB written in [\d.]+ s$/);
  });

  atLength('keeps pictures of equal names apart', async () => {
    const lamps = join(folder, 'lamps');
    for (const [name, color] of [['desk', [255, 0, 0]], ['wall', [0, 0, 255]]] as const) {
      mkdirSync(join(lamps, 'maps', name), { recursive: true });
      writeFileSync(join(lamps, 'maps', name, 'shade.png'), await nodePictures.encode({ width: 1, height: 1, data: Uint8Array.from([...color, 255]) }));
      writeFileSync(join(lamps, `${name}.mtl`), `newmtl shade\nmap_Kd maps/${name}/shade.png\n`);
      writeFileSync(join(lamps, `${name}.obj`), `mtllib ${name}.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl shade\nf 1/1 2/2 3/3\n`); // prettier-ignore
    } // prettier-ignore
    const out = join(folder, 'lit');
    const { status } = await prismHere(['prepare', lamps, '--to', 'obj', '--out', out, '--json']);
    expect(status).toBe(0);
    expect(readdirSync(out).sort()).toEqual(['desk', 'wall']);
    const picture = (name: string) => {
      const [file] = readdirSync(join(out, name, 'textures'));
      return readFileSync(join(out, name, 'textures', file));
    };
    expect(picture('desk').equals(picture('wall'))).toBe(false);
  });

  atLength('makes one scene of several files where that is asked for', async () => {
    const files = NAMES.slice(0, 3).map((name) => join(models, `${name}.stp`));
    const { status, json } = await prismHere(['prepare', ...files, '--together', '--name', 'all', '--out', join(folder, 'one'), '--json']); // prettier-ignore
    expect(status).toBe(0);
    expect(json()).toMatchObject({ scene: { parts: 3, triangles: 12 } });
  });

  it.each([
    [['--name', 'all'], '--name is for one file'],
    [['--schedule', join(models, 'broken.stp')], '--schedule'],
    [['--side-by-side', 'many'], '--side-by-side many'],
  ])('refuses %j before anything is prepared', async (args, text) => {
    const { status, json } = await prismHere(['prepare', models, '--out', join(folder, 'refused'), ...args, '--json']);
    expect(status).toBe(2);
    expect(json().error.message).toContain(text);
  });
});

describe('a batch that is disturbed', () => {
  /** Begins one and does something as soon as the process for its first file is there. */
  async function disturbed(out: string, disturb: (parent: number, child: number) => void): Promise<BatchReport> {
    const args = ['prepare', ...FEW, '--out', out, '--side-by-side', '1', '--json'];
    const running = spawn(process.execPath, [programFile('prism'), ...args]);
    const parent = running.pid as number;
    let text = '';
    running.stdout.on('data', (data: Buffer) => (text += data.toString()));
    const ended = new Promise((resolve) => running.on('close', resolve));
    for (let child = 0; child === 0;) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      child = batchChildOf(parent) ?? 0;
      if (child) disturb(parent, child);
    }
    await ended;
    return JSON.parse(text) as BatchReport;
  }

  function batchChildOf(parent: number): number | undefined {
    const children = readFileSync(`/proc/${parent}/task/${parent}/children`, 'utf8').trim().split(' ');
    return children.map(Number).find((pid) => pid > 0 && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('batchChild')); // prettier-ignore
  }

  it('loses the file whose process dies, and goes on with the others', async () => {
    const { summary, files } = await disturbed(join(folder, 'killed'), (_parent, child) => process.kill(child, 'SIGKILL')); // prettier-ignore
    expect(files[0]).toMatchObject({ state: 'failed', error: { code: 'internal' } });
    expect(files[0].error?.message).toContain('SIGKILL');
    // The broken file comes first.
    expect(summary).toMatchObject({ files: 4, prepared: 3, failed: 1 });
  });

  it('ends when it is told to, says what was not prepared, and leaves no half file', async () => {
    const out = join(folder, 'stopped');
    const { summary, files } = await disturbed(out, (parent) => process.kill(parent, 'SIGINT'));
    expect(summary.failed).toBe(4);
    expect(files[3].error).toMatchObject({ code: 'cancelled' });
    expect(existing(out)).toEqual([]);
  });

  function existing(path: string): string[] {
    try {
      return readdirSync(path);
    } catch {
      return [];
    }
  }
});
