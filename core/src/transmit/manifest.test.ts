// The manifest of a delivery: its published schema (JSON Schema draft-07, checked by ajv), what changed, and the report.
import { Ajv } from 'ajv';
import { Window } from 'happy-dom';
import { createGenerator } from 'ts-json-schema-generator';
import { beforeAll, describe, expect, it } from 'vitest';
import schema from '../../../docs/manifest.schema.json' with { type: 'json' };
import { translation } from '../scene/matrix.ts';
import { atLength } from '../testing/atLength.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { changesBetween } from './changes.ts';
import type { TransmittalManifest } from './manifest.ts';
import { reportOf } from './report.ts';
import { settingsFrom } from './targets/target.ts';
import { deliver } from './transmit.ts';

const BOLT = { name: 'Bolt', mesh: boxMesh(1, 2, 3), layer: 'STEEL', materials: ['#112233'] };

async function manifestWith(nodes: Parameters<typeof sceneWith>[0], more: { revision?: number } = {}): Promise<TransmittalManifest> {
  const { scene, blobs } = await sceneWith(nodes);
  const { manifest } = await deliver(scene, blobs, {
    targets: [
      { name: 'Real time & <headset>', settings: settingsFrom({ format: 'glb', split: 'layer' }) },
      { name: 'Print', settings: settingsFrom({ format: 'stl', unit: 'mm', without: { by: 'layer', layers: ['GLASS'] } }) },
      { name: 'Solids', settings: settingsFrom({ format: 'step', unit: 'mm' }) },
    ],
    name: 'hall_v3',
    title: 'Hall "A" <new>',
    steps: [],
    made: '2026-11-27T12:00:00.000Z',
    revisions: new Map(Object.keys(scene.sources).length > 0 ? scene.sources.map(({ id }) => [id, more.revision ?? 1]) : []),
  });
  return JSON.parse(JSON.stringify(manifest)) as TransmittalManifest;
} // prettier-ignore

const hall = (...children: Parameters<typeof sceneWith>[0]) => [{ name: 'Hall', children }];
let first: TransmittalManifest;
let later: TransmittalManifest;

beforeAll(async () => {
  first = await manifestWith(hall(BOLT, { ...BOLT, name: 'Pane', layer: 'GLASS', materials: ['#445566'] }, { ...BOLT, name: 'Nut' })); // prettier-ignore
  later = await manifestWith(
    hall(
      BOLT,
      { ...BOLT, name: 'Pane', layer: 'ROOF', materials: ['#445566'] },
      { ...BOLT, name: 'Washer', transform: translation([10, 0, 0]) },
    ),
    { revision: 2 },
  );
});

describe('schema of the manifest', () => {
  atLength(
    'is the one that is published',
    async () => {
      const made = createGenerator({
        path: 'core/src/transmit/manifest.ts',
        type: 'TransmittalManifest',
        tsconfig: 'tsconfig.json',
        skipTypeCheck: true,
      }).createSchema('TransmittalManifest');
      await expect(`${JSON.stringify({ title: 'Manifest of a transmittal', ...made }, null, 2)}\n`).toMatchFileSnapshot(
        '../../../docs/manifest.schema.json',
      );
    },
    60_000,
  );

  it('holds for what is written, of targets that failed too, and refuses what is not as it says', () => {
    const check = new Ajv({ strict: false }).compile(schema);
    for (const manifest of [first, later]) expect(check(manifest), JSON.stringify(check.errors)).toBe(true);
    expect(first.outputs.map(({ target, error }) => `${target}: ${error ? 'no' : 'yes'}`)).toContain('Solids: no');
    for (const broken of [
      { ...first, made: 3 },
      { ...first, extra: 1 },
      { ...first, outputs: [{ ...first.outputs[0], unit: 3 }] },
    ])
      // prettier-ignore
      expect(check(broken)).toBe(false);
  });
});

describe('what changed between two transmittals', () => {
  it('is nothing where nothing did, nor where only one of both counts revisions', () => {
    expect(changesBetween(first, structuredClone(first))).toEqual([]);
    const older = { ...first, sources: first.sources.map(({ revision: _, ...source }) => source) };
    expect(changesBetween(older, first)).toEqual([]);
  });

  it('is told by source, part and size', () => {
    const changes = changesBetween(first, later);
    const of = (what: string) => changes.find((change) => change.what === what)?.items;
    expect(of('Sources added')?.[0]).toMatch(/revision 2$/);
    expect(of('Sources gone')?.[0]).toMatch(/revision 1$/);
    expect(of('1 part added')).toEqual(['Hall › Washer']);
    expect(of('1 part gone')).toEqual(['Hall › Nut']);
    expect(of('1 part changed')).toEqual(['Hall › Pane: layer GLASS became ROOF']);
    expect(of('Size')?.[0]).toMatch(/became 11/);
  });

  it('names the first dozen and counts the rest; parts of one name are told apart', () => {
    const more: TransmittalManifest = { ...first, parts: [...first.parts, ...Array.from({ length: 40 }, () => first.parts[0])] }; // prettier-ignore
    const [added] = changesBetween(first, more);
    expect([added.what, added.items.length, added.more]).toEqual(['40 parts added', 12, 28]);
    expect(added.items[0]).toBe('Hall › Bolt (2)');
  });
});

describe('the report', () => {
  it('is a page with every file, what was not written and why, and nothing of a name is taken for markup', () => {
    const window = new Window();
    window.document.write(reportOf(first, { name: 'hall_v3' }));
    const { document } = window;
    expect(document.querySelector('h1')?.textContent).toBe('Hall "A" <new>');
    const cells = [...document.querySelectorAll('table')][0].textContent ?? '';
    for (const { files } of first.outputs) for (const { name, sha256 } of files) {
      expect(cells).toContain(name);
      expect(cells).toContain(sha256.slice(0, 16));
    } // prettier-ignore
    expect(cells).toContain('Real time & <headset>');
    expect(cells).toContain('not written: STEP (exact solids): nothing of it is an exact solid');
    expect(document.querySelector('dl')?.textContent).toContain('3 parts, 36 triangles');
  });

  it('stays a page where there are hundreds of files, with those that do not hold first, and says how many more there are', () => {
    const [head] = first.outputs.filter(({ files }) => files.length > 0);
    const many: TransmittalManifest = {
      ...first,
      outputs: [
        ...Array.from({ length: 60 }, (_, i) => ({ ...head, piece: `Storey ${i}`, files: [...head.files, ...head.files] })),
        { ...head, piece: 'Attic', files: [...head.files, ...head.files], readBack: { ...head.readBack!, holds: false }, overLimits: ['Too many.'] },
      ],
      sources: Array.from({ length: 30 }, () => first.sources[0]),
      steps: Array.from({ length: 80 }, (_, i) => ({ kind: 'rename', on: true, summary: `Rule ${i}` })),
    };
    const window = new Window();
    window.document.write(reportOf(many, { name: 'hall_v3' }));
    const { document } = window;
    const rows = [...document.querySelectorAll('table')[0].querySelectorAll('tr')].map((row) => row.textContent ?? '');
    expect(rows[1]).toMatch(/Attic.*and 1 file beside it.*differs/);
    expect(rows).toHaveLength(1 + 12);
    expect([...document.querySelectorAll('.more')].map((line) => line.textContent)).toEqual(['and 49 more lines, listed in the manifest', 'and 25 more sources, listed in the manifest', 'and 65 more steps, listed in the manifest']);
    expect(document.body.textContent).toContain('Over the limits');
  }); // prettier-ignore
});
