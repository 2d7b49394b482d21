// The worked examples of docs/developers.md, as they stand there: each is one file and one test.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { PrismError } from './errors.ts';
import { MemoryBlobs } from './memoryStores.ts';
import { SceneBuilder } from './read/builder.ts';
import { baseName } from './read/paths.ts';
import type { Reader } from './read/reader.ts';
import { headOf } from './read/scanner.ts';
import { PART } from './scene/nodes.ts';
import { matching } from './select/rule.ts';
import type { RuleKind } from './select/rule.ts';
import { ALL, select } from './select/select.ts';
import { applyStep, defineStep, eachRow, WHEREVER } from './steps/kind.ts';
import { renameStep } from './steps/rename.ts';
import { boxMesh } from './testing/meshes.ts';
import { fileOf } from './testing/reading.ts';
import { sceneWith } from './testing/scenes.ts';
import { readBack } from './transmit/readback.ts';
import { glbWriter } from './write/gltf/gltf.ts';
import { WrittenFile } from './write/writer.ts';
import type { Writer } from './write/writer.ts';

const mesh = boxMesh(1, 1, 1);

describe('a kind of step', () => {
  const catchAllStep = defineStep<{ layer: string }>({
    kind: 'catch-all',
    title: 'Catch all',
    purpose: 'Puts parts that are on no layer on one.',
    also: ['missing layer'],
    station: 'arrange',
    place: WHEREVER,
    version: 1,
    needs: 'manifest',
    fields: { layer: { type: 'text', label: 'Layer', most: 300 } },
    defaults: { layer: 'Other' },
    summary: ({ layer }) => layer,
    apply(edit, rows, { layer }) {
      const { kind, layer: layers } = edit.scene.nodes.columns;
      eachRow(edit.scene, rows, (row) => {
        if (kind[row] === PART && layers[row] === 0) edit.setLayer(row, layer);
      });
      return { pending: 0, problems: [] };
    },
  });

  it('puts only what has no layer on one', async () => {
    const { scene } = await sceneWith([
      { name: 'A', layer: 'WALLS', mesh },
      { name: 'B', mesh },
    ]);
    const made = applyStep(catchAllStep, scene, select(scene, ALL), { layer: 'Other' });
    expect(made.scene.nodes.map(({ layer }) => layer)).toEqual(['WALLS', 'Other']);
    expect(made.changed).toBe(1);
  });
});

describe('a kind of rule', () => {
  interface RenamedRule {
    by: 'renamed';
  }

  const renamedRule: RuleKind<RenamedRule> = {
    by: 'renamed',
    title: 'renamed so far',
    purpose: 'What has another name by this step than it was received with.',
    fields: {},
    defaults: {},
    describe: () => 'renamed',
    select: ({ nodes }) => matching(nodes, (row) => nodes.columns.name[row] !== nodes.columns.received[row]),
  };

  it('finds what was renamed', async () => {
    const { scene } = await sceneWith([{ name: 'A' }, { name: 'B' }]);
    const { scene: after } = applyStep(renameStep, scene, new Set([1]), { name: 'Plate', of: 'picked' });
    const way = { themselves: false, inner: () => select(after, ALL) };
    expect([...renamedRule.select(after, { by: 'renamed' }, way)]).toEqual([1]);
  });
});

describe('a reader', () => {
  const pointReader: Reader = {
    format: 'Point list',
    endings: ['xyz'],
    recognises: ({ bytes }) => /^\s*(-?[\d.]+\s+){3}/.test(headOf(bytes, 200)),
    async read(file, sourceId) {
      const numbers = new TextDecoder().decode(file.bytes).trim().split(/\s+/).map(Number);
      if (numbers.length % 3 !== 0 || !numbers.every(Number.isFinite))
        throw new PrismError('not-readable', `${file.name} is no list of points: three numbers a line are expected.`);
      const builder = new SceneBuilder(file, sourceId, {
        format: 'Point list',
        schema: '',
        unit: { name: 'm', metres: 1, declared: false },
        upAxis: { axis: 'z', by: 'convention' },
      });
      const points = { positions: Float64Array.from(numbers), indices: new Uint32Array(), groups: [] };
      builder.node({ name: baseName(file.name), geometry: builder.mesh(points) });
      return builder.reading();
    },
  };

  it('takes points, and refuses what is none', async () => {
    const file = fileOf('scan.xyz', '0 0 0\n1 0 0\n1 2 0.5\n');
    expect(pointReader.recognises(file)).toBe(true);
    const scene = await (await pointReader.read(file, 's', () => undefined)).build(new MemoryBlobs());
    expect(Object.values(scene.meshes)[0]).toMatchObject({ vertices: 3, bounds: { max: [1, 2, 0.5] } });
    await expect(pointReader.read(fileOf('scan.xyz', '0 0\n'), 's', () => undefined)).rejects.toThrow(
      'no list of points',
    );
  });
});

describe('a writer', () => {
  /** Shapes in one file, names in another, and no place for materials. */
  const twoFileWriter: Writer = {
    target: 'two',
    title: 'Shapes and names',
    ending: 'glb',
    units: ['m'],
    ups: ['y'],
    states: { unit: true, up: true },
    structure: 'tree',
    places: 'own',
    precision: 'single',
    perTriangle: 18,
    carries: { tree: true, names: true, instances: true, pivots: true, normals: true, uvs: true, colours: true },
    async write(scene, blobs, name) {
      const [shapes] = await glbWriter.write(scene, blobs, name);
      const names = JSON.stringify(scene.nodes.map((node) => node.name));
      return [shapes, new WrittenFile(`${name}.json`, 'application/json', new TextEncoder().encode(names))];
    },
    async rows([shapes, names]) {
      const list = JSON.parse(new TextDecoder().decode(names.bytes)) as string[];
      const rows = await glbWriter.rows([shapes]);
      return rows.map((row, i) => ({
        ...row,
        name: list[i],
        bodies: row.bodies.map(({ geometry }) => ({ geometry })),
      }));
    },
  };

  it('is read back as it says of itself', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Case', mesh, materials: ['#112233'] }]);
    const files = await twoFileWriter.write(scene, blobs, 'case');
    const { holds, checks } = await readBack(twoFileWriter, files, scene, blobs);
    expect(holds).toBe(true);
    expect(checks.map(({ what }) => what)).not.toContain('Materials, part by part');
    const wrong = [files[0], new WrittenFile('case.json', 'application/json', new TextEncoder().encode('["Box"]'))];
    expect((await readBack(twoFileWriter, wrong, scene, blobs)).holds).toBe(false);
  });

  it('says that a file is missing', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Case', mesh }]);
    const [only] = await twoFileWriter.write(scene, blobs, 'case');
    const { holds, differences } = await readBack(twoFileWriter, [only], scene, blobs);
    expect(holds).toBe(false);
    expect(differences.join()).toContain('cannot be opened');
  });
});

it('the documents show what stands here', () => {
  const plain = (text: string) => text.replace(/\s+/g, '');
  const here = plain(readFileSync(import.meta.filename, 'utf8'));
  const text = readFileSync(join(import.meta.dirname, '../../docs/developers.md'), 'utf8');
  const examples = [...text.matchAll(/```ts\n(.*?)```/gs)].map(([, code]) => code);
  expect(examples).toHaveLength(8);
  for (const code of examples) expect(here).toContain(plain(code.replaceAll('export ', '')));
});
