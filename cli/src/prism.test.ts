// The command line as a script uses it: `npm run --silent prism -- …`, JSON out, an exit code that tells.
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { zipSync } from 'fflate';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { StepText } from '@noble-prism/core/testing/stepText';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import { models } from '@noble-prism/core/testing/reading';
import { prism, prismHere } from './testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-cli-'));
const workbench = new ThreadWorkbench({ width: 1 });
const here = (...args: string[]) => prismHere(args, workbench);
afterAll(async () => {
  await workbench.close();
  rmSync(folder, { recursive: true, force: true });
});

const step = new StepText();
const unit = step.product('Unit');
const tetra = step.tetrahedron(20);
const part = step.product('Wedge', [tetra.solid]);
step.place(unit, part, step.axis());
step.place(unit, part, step.axis([50, 0, 0]));
step.layer('MACHINE', tetra.solid);
const file = join(folder, 'unit.stp');
writeFileSync(file, step.bytes());
const schedule = join(folder, 'schedule.json');
writeFileSync(schedule, JSON.stringify({ rules: [{ by: 'layer', match: 'MACHINE', material: 'lib:cast-iron' }] }));

describe('prism survey', () => {
  it('finds material file and pictures in the folder of a mesh, and reads nothing outside of it', async () => {
    mkdirSync(join(folder, 'lamp', 'tex'), { recursive: true });
    writeFileSync(join(folder, 'secret.png'), 'x');
    writeFileSync(join(folder, 'lamp', 'tex', 'Shade.png'), 'picture');
    writeFileSync(
      join(folder, 'lamp', 'lamp.mtl'),
      'newmtl shade\nmap_Kd tex/shade.png\nnewmtl other\nmap_Kd ../secret.png\n',
    );
    const lamp = join(folder, 'lamp', 'lamp.obj');
    writeFileSync(lamp, 'mtllib lamp.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl shade\nf 1 2 3\nusemtl other\nf 1 3 2\n');
    const [source] = (await here('survey', lamp, '--json')).json().sources as unknown as [Record<string, unknown>];
    expect(source).toMatchObject({
      format: 'OBJ',
      parts: 1,
      holds: { triangles: 2 },
      textures: [
        { name: 'tex/Shade.png', state: 'found' },
        { name: 'secret.png', state: 'missing' },
      ],
    });
  });

  it('lists each model of a zip as a source, with its own unit and up axis, and what is none', async () => {
    const zip = join(folder, 'mixed.zip');
    const obj = new TextEncoder().encode('mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
    const other = new TextEncoder().encode('newmtl a\n');
    const bad = new TextEncoder().encode('ply\nformat ascii 1.0\n');
    writeFileSync(
      zip,
      zipSync({ 'unit.stp': step.bytes(), 'a.obj': obj, 'a.mtl': other, 'note.txt': other, 'bad.ply': bad }),
    );
    const { json, status } = await here('survey', zip, '--json');
    expect(status).toBe(0);
    const report = json() as unknown as { sources: Record<string, unknown>[] };
    expect(report).toMatchObject({
      sources: [
        { file: 'unit.stp', format: 'STEP', unit: { name: 'mm' }, upAxis: { axis: 'z' }, parts: 2 },
        { file: 'a.obj', format: 'OBJ', unit: { name: 'm' }, upAxis: { axis: 'y' }, parts: 1 },
      ],
      ignored: [{ file: 'mixed.zip', names: ['note.txt'] }],
      failed: [{ file: 'bad.ply', error: { code: 'not-readable' } }],
    });
    expect(report.sources).toHaveLength(2);
  });

  it('of several files says what can be said, and which cannot be read', async () => {
    const none = join(folder, 'none.stp');
    writeFileSync(none, 'this is no model');
    const { json, status, stdout } = await here('survey', file, none, join(folder, 'nobody.stp'), schedule, '--json');
    expect(status).toBe(1);
    const { sources, failed } = json() as unknown as { sources: { file: string }[]; failed: { file: string; error: { code: string } }[] }; // prettier-ignore
    expect(sources.map((source) => source.file)).toEqual(['unit.stp']);
    expect(failed.map((one) => [one.file.split('/').at(-1), one.error.code])).toEqual([
      ['none.stp', 'not-readable'],
      ['nobody.stp', 'not-found'],
      ['schedule.json', 'not-readable'],
    ]);
    expect(stdout).toContain('unit.stp');
    // By itself it is an error.
    expect((await here('survey', none)).stderr).toContain('none.stp');
  });

  it('says what a file says of itself', () => {
    const { status, json } = prism('survey', file, '--json');
    expect(status).toBe(0);
    expect(json()).toMatchObject({
      sources: [
        {
          file: 'unit.stp',
          format: 'STEP',
          unit: { name: 'mm', metres: 0.001, declared: true },
          upAxis: { axis: 'z' },
          parts: 2,
          pieces: 1,
          layers: [{ name: 'MACHINE', parts: 2 }],
          warnings: [],
        },
      ],
    });
  });
});

describe('prism prepare', () => {
  it('writes a file and a manifest, reads back, and reports in one object', () => {
    const out = join(folder, 'out');
    const { status, json } = prism(
      'prepare',
      file,
      '--out',
      out,
      '--chord',
      '0.1mm',
      '--angle',
      '20deg',
      '--schedule',
      schedule,
      '--json',
    );
    expect(status).toBe(0);
    expect(json()).toMatchObject({
      scene: { parts: 2, meshes: 1, triangles: 8, uniqueTriangles: 4, materials: 1, layers: 1 },
      steps: [{ kind: 'tessellate' }, { kind: 'turn' }, { kind: 'finishes', changed: 2 }],
      outputs: [{ format: 'glb', readBack: { holds: true } }, { format: 'manifest' }, { format: 'report' }],
      seconds: {
        survey: expect.any(Number),
        build: expect.any(Number),
        steps: expect.any(Number),
        write: expect.any(Number),
      },
    });
    // 20 mm high, z up turned to y up: 0.07 m along x, 0.02 m along y.
    const bounds = (json().scene as { bounds: { max: number[] } }).bounds;
    expect(bounds.max[0]).toBeCloseTo(0.07, 6);
    expect(bounds.max[1]).toBeCloseTo(0.02, 6);
    expect(readdirSync(out).sort()).toEqual(['unit.glb', 'unit.manifest.json', 'unit.report.html']);
    expect(readFileSync(join(out, 'unit.glb')).toString('latin1', 0, 4)).toBe('glTF');
    expect(readFileSync(join(out, 'unit.report.html'), 'utf8')).toContain('<img src="data:image/png;base64,');
  });

  it('writes several formats at once, in the unit and with the axis that is asked for, and says what of the job each carries', async () => {
    const out = join(folder, 'many');
    const { status, json } = await here('prepare', file, '--to', 'glb,stl,3mf,obj', '--unit', 'mm', '--up', 'z', '--out', out, '--json'); // prettier-ignore
    expect(status).toBe(0);
    type OutputReport = { file: string; format: string; bytes: number; triangles?: number; readBack?: { holds: boolean; differences: string[] }; carryOver?: { lines: { what: string; state: string; others?: string[] }[] } };
    const outputs = (json() as unknown as { outputs: OutputReport[] }).outputs.filter(({ triangles }) => triangles);
    expect(outputs.map(({ format, triangles, readBack }) => [format, triangles, readBack])).toMatchObject(
      ['glb', 'stl', '3mf', 'obj'].map((format) => [format, 8, { holds: true, differences: [] }]),
    );
    expect(outputs.map((output) => output.file.slice(out.length + 1))).toEqual(['unit.glb', 'unit_mm.stl', 'unit.3mf', 'unit.obj']); // prettier-ignore
    const stl = readFileSync(join(out, 'unit_mm.stl'));
    expect(stl.toString('latin1', 0, 40)).toContain('unit mm; z up');
    expect(stl).toHaveLength(84 + 8 * 50);
    const names = outputs[1].carryOver?.lines.find(({ what }) => what === 'names');
    expect(names).toMatchObject({ state: 'lost', others: expect.arrayContaining(['Binary glTF 2.0']) as string[] });
  }); // prettier-ignore

  it('takes targets with all their settings from a file; one that cannot be written costs itself alone', async () => {
    const out = join(folder, 'targets');
    const targets = join(folder, 'targets.json');
    writeFileSync(targets, JSON.stringify([
      { name: 'Nothing', format: 'glb', without: { by: 'all' } },
      { name: 'Flat', format: 'usda', unit: 'cm', hierarchy: 'flat', names: 'safe' },
    ])); // prettier-ignore
    const { status, json } = await here('prepare', file, '--targets', targets, '--out', out, '--json');
    expect(status).toBe(1);
    expect(json()).toMatchObject({
      outputs: [
        { target: 'Nothing', format: 'glb', error: { code: 'no-geometry' } },
        { format: 'usda', readBack: { holds: true } },
        { format: 'manifest' },
        { format: 'report' },
      ],
    });
    expect(readdirSync(out).sort()).toEqual(['unit.manifest.json', 'unit.report.html', 'unit.usda']);
    expect(readFileSync(join(out, 'unit.usda'), 'utf8')).toContain('metersPerUnit = 0.01');
  });

  it('sends modules: each distinct asset once in a folder of its own, and a file that places them', async () => {
    const out = join(folder, 'modules');
    const { status, json } = await here('prepare', file, '--to', 'gltf,stl', '--modular', '--out', out, '--json');
    expect(status).toBe(1);
    const outputs = json().outputs as unknown as { file?: string; format: string; error?: { message: string }; readBack?: object }[]; // prettier-ignore
    expect(outputs[0]).toMatchObject({
      file: join(out, 'unit.gltf'),
      triangles: 8,
      readBack: { holds: true, differences: [] },
    });
    expect(outputs.find(({ format }) => format === 'stl')?.error?.message).toContain('cannot refer to other files');
    expect(readdirSync(join(out, 'assets'))).toEqual(['Wedge']);
    expect(readdirSync(join(out, 'assets', 'Wedge')).sort()).toEqual(['Wedge.bin', 'Wedge.gltf', 'thumbnail.png']);
  });

  it('adds every row with its place, pivot and size where that is asked for', async () => {
    const out = join(folder, 'tree');
    const { status, json } = await here('prepare', file, '--out', out, '--json', '--tree');
    expect(status).toBe(0);
    const tree = (json() as unknown as { tree: { path: string; kind: string; pivot: number[]; size: number[]; mesh: string }[] }).tree; // prettier-ignore
    const bounds = (json().scene as { bounds: { min: number[]; max: number[] } }).bounds;
    const [top] = tree;
    top.size.forEach((side, axis) => expect(side).toBeCloseTo(bounds.max[axis] - bounds.min[axis], 9));
    const parts = tree.filter(({ kind }) => kind === 'part');
    expect(new Set(tree.map(({ path }) => path)).size).toBe(tree.length);
    // Two places of one mesh.
    expect(parts.map(({ mesh }) => mesh)).toEqual([parts[0].mesh, parts[0].mesh]);
    expect(parts[0].pivot).not.toEqual(parts[1].pivot);
  });

  it('takes steps that name sources by their files, and what other steps made by its name', async () => {
    const [out, steps, other] = [join(folder, 'named'), join(folder, 'steps.json'), join(folder, 'plate.obj')];
    writeFileSync(other, 'o Plate\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
    const list = [
      { kind: 'tessellate', parameters: { chord: 0.001, angle: 0.5, preset: 'near' } },
      { kind: 'leave-out', selector: { by: 'source', sources: ['plate.obj'] }, parameters: {} },
      { kind: 'group', selector: { by: 'picked', keys: ['unit.stp:/Unit/Wedge', 'unit.stp:/Unit/Wedge#2'] }, parameters: { name: 'Pair', pivot: 'base-centre' } },
      { kind: 'move', selector: { by: 'picked', keys: ['+group Pair'] }, parameters: { x: 2, y: 0, z: 0 } },
    ];
    writeFileSync(steps, JSON.stringify(list));
    const { status, json } = await here('prepare', file, other, '--together', '--steps', steps, '--out', out, '--json', '--tree');
    expect(status).toBe(0);
    const report = json() as unknown as { tree: { path: string; pivot: number[] }[]; steps: { matched: number; problems: string[] }[] };
    expect(report.steps.map(({ matched, problems }) => [matched > 0, problems])).toEqual(list.map(() => [true, []]));
    expect(report.tree.map(({ path }) => path).sort()).toEqual(['/Unit', '/Unit/Pair', '/Unit/Pair/Wedge', '/Unit/Pair/Wedge#2']);
    const pair = report.tree.find(({ path }) => path === '/Unit/Pair');
    expect(pair?.pivot[0]).toBeGreaterThan(1.9);
  }); // prettier-ignore

  it('means the first of two files that are called the same', async () => {
    const [out, steps] = [join(folder, 'same'), join(folder, 'same.json')];
    const files = ['one', 'two'].map((name) => {
      mkdirSync(join(folder, name), { recursive: true });
      const path = join(folder, name, 'same.obj');
      writeFileSync(path, `o ${name}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n`);
      return path;
    });
    writeFileSync(steps, JSON.stringify([{ kind: 'leave-out', selector: { by: 'source', sources: ['same.obj'] }, parameters: {} }])); // prettier-ignore
    const { status, json } = await here('prepare', ...files, '--together', '--steps', steps, '--out', out, '--json', '--tree'); // prettier-ignore
    expect(status).toBe(0);
    expect((json() as unknown as { tree: { path: string }[] }).tree.map(({ path }) => path)).toEqual(['/two']);
  });

  it.each([
    [['prepare', file], 2, 'bad-parameters', '--out'],
    [['survey', file, '--tree'], 2, 'bad-parameters', '--tree goes with prepare and --json'],
    [['prepare', file, '--out', folder, '--chord', 'soft'], 2, 'bad-parameters', 'a length is expected'],
    [['prepare', file, '--out', folder, '--keep', '50%', '--deviation', '1mm'], 2, 'bad-parameters', 'not both'],
    [['prepare', file, '--out', folder, '--to', 'glb,doc'], 2, 'bad-parameters', '--to doc'],
    [['prepare', file, '--out', folder, '--split', 'part', '--modular'], 2, 'bad-parameters', 'not both'],
    [
      ['prepare', file, '--out', folder, '--targets', schedule, '--up', 'z'],
      2,
      'bad-parameters',
      'either --up or --targets',
    ],
    [['prepare', file, '--out', folder, '--unit', 'yd'], 2, 'bad-parameters', '--unit yd'],
    [['melt', file], 2, 'bad-parameters', 'melt'],
    [['prepare', 'nobody.stp', '--out', folder], 1, 'not-found', 'nobody.stp'],
    [['prepare', schedule, '--out', folder], 1, 'not-readable', 'schedule.json'],
  ])('%j fails with a code and a sentence', async (args, code, errorCode, text) => {
    const { status, json } = await here(...args, '--json');
    expect(status).toBe(code);
    expect(json().error.code).toBe(errorCode);
    expect(json().error.message).toContain(text);
  });

  it('ends with a code of its own where a source was not read in full, and says so', async () => {
    const cut = join(folder, 'cut.stp');
    writeFileSync(cut, readFileSync(join(models, 'as1-tu-203.stp')).subarray(0, 60_000));
    const { status, stdout } = await here('prepare', cut, '--out', join(folder, 'cut'));
    expect(status).toBe(3);
    expect(stdout).toMatch(/^cut\.stp was not read in full: cut\.stp ends in the middle of entity #\d+/m);
    expect(stdout).toContain('read back: holds');
    const said = await here('prepare', cut, '--out', join(folder, 'cut'), '--json');
    expect([said.status, (said.json().outputs[0] as { notInFull?: string[] }).notInFull]).toEqual([
      3,
      [expect.stringContaining('was not read in full')],
    ]);
  });

  it('ends with the code of what went wrong, and says it where errors are said', () => {
    const wrong = prism('melt', file);
    expect([wrong.status, wrong.stdout]).toEqual([2, '']);
    expect(wrong.stderr).toContain('melt');
    const missing = prism('survey', join(folder, 'nobody.stp'), '--json');
    expect([missing.status, missing.stderr]).toEqual([1, '']);
    expect(missing.json().error).toMatchObject({
      code: 'not-found',
      message: expect.stringContaining('nobody.stp') as string,
    });
  });

  it('says what it can do, and what each kind of step takes', async () => {
    expect((await here('help')).stdout).toContain('prism prepare FILE…');
    expect((await here()).stdout).toContain('prism survey FILE…');
    expect((await here('help', 'steps', 'reduce')).stdout).toContain('deviation');
    expect((await here('help', 'steps', 'melt')).status).toBe(2);
  });
});
