// The read-back of a format that carries less than the scene has, in several files: what it has no place for is no difference.
import { expect, it } from 'vitest';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { Writer, WrittenFile } from '../write/writer.ts';
import { glbWriter } from '../write/glb.ts';
import { readBack } from './readback.ts';

/** Writes shapes in one file and names in another, and has no place for materials. */
const bare: Pick<Writer, 'write' | 'rows' | 'carries'> = {
  carries: new Set(['tree', 'names', 'normals', 'uvs', 'colours']),
  async write(scene, blobs, name) {
    const [file] = await glbWriter.write(scene, blobs, name);
    const names = scene.nodes.map((node) => node.name);
    return [
      file,
      { name: `${name}/names.json`, mime: 'application/json', bytes: new TextEncoder().encode(JSON.stringify(names)) },
    ];
  },
  async rows([file, names]) {
    const rows = await glbWriter.rows([file]);
    const list = JSON.parse(new TextDecoder().decode(names.bytes)) as string[];
    return rows.map((row, i) => ({
      ...row,
      name: list[i],
      bodies: row.bodies.map(({ geometry }) => ({ geometry })),
    }));
  },
};

async function written(change: (files: WrittenFile[]) => WrittenFile[] = (files) => files) {
  const { scene, blobs } = await sceneWith([
    { name: 'Unit', children: [{ name: 'Case', mesh: boxMesh(1, 2, 3), materials: ['#112233'] }] },
  ]);
  const files = change(await bare.write(scene, blobs, 'unit'));
  return { readBack: await readBack(bare, files, scene, blobs), files };
}

it('holds without materials, and does not say that they hold', async () => {
  const { readBack: result, files } = await written();
  expect(files.map(({ name }) => name)).toEqual(['unit.glb', 'unit/names.json']);
  expect(result.differences).toEqual([]);
  expect(result.holds).toBe(true);
  expect(result.checks.map(({ what }) => what)).not.toContain('Materials, part by part');
  expect(result.checks.map(({ what }) => what)).toContain('Positions, corner by corner');
});

it('differs where the second file says something else', async () => {
  const wrong = new TextEncoder().encode('["Unit","Box"]');
  const { readBack: result } = await written(([file, names]) => [file, { ...names, bytes: wrong }]);
  expect(result.holds).toBe(false);
  expect(result.differences.join()).toContain('Case is missing');
});

it('says that a file is missing', async () => {
  const { readBack: result } = await written(([file]) => [file]);
  expect(result.differences.join()).toContain('cannot be opened');
});
