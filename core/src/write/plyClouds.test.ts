// Clouds of points in PLY, read back and by another reader (three.js): beside triangles, far from the origin, in another unit, with colours.
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { describe, expect, it } from 'vitest';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { translation } from '../scene/matrix.ts';
import { boxMesh } from '../testing/meshes.ts';
import { fileOf, modelOf, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { sentTo } from '../testing/sent.ts';
import { carryOver } from '../transmit/carryOver.ts';
import { DEFAULT_TARGET } from '../transmit/targets/target.ts';

const POINTS = [0, 0, 0, 1, 0, 0, 0, 2, 0, 0, 0, 3];
const cloud = (colours?: number[]): Mesh => ({
  positions: Float32Array.from(POINTS),
  normals: new Float32Array(POINTS.length),
  indices: new Uint32Array(),
  edges: new Float32Array(),
  groups: [],
  ...(colours ? { colours: Float32Array.from(colours) } : {}),
});
const RED_TO_BLUE = [1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0.5];
const SCAN: PartSpec = { name: 'Scan', mesh: cloud(RED_TO_BLUE), transform: translation([10, 0, 0]) };
const BOX: PartSpec = { name: 'Box', mesh: boxMesh(1, 1, 1) };

async function sentAsPly(tree: PartSpec[], change = {}) {
  const { scene, blobs } = await sceneWith(tree);
  const { readBack, output } = await sentTo(scene, blobs, { format: 'ply', ...change });
  expect(readBack.differences).toEqual([]);
  expect(readBack.holds).toBe(true);
  const read = (bytes: Uint8Array<ArrayBuffer>) => new PLYLoader().parse(bytes.slice().buffer);
  return { names: output.files.map(({ name }) => name.replace(/^.*?(_points)?\.ply$/, '$1.ply')), seen: output.files.map(({ bytes }) => read(bytes)) }; // prettier-ignore
}

describe('a cloud of points', () => {
  it('alone is the file, with its colours and without faces', async () => {
    const { names, seen } = await sentAsPly([SCAN], { unit: 'm', up: 'z' });
    expect(names).toEqual(['.ply']);
    const [{ attributes, index }] = seen;
    expect(index).toBeNull();
    expect(attributes.position.count).toBe(4);
    // Ten metres along x, wherever up is.
    expect([...attributes.position.array].filter((_, i) => i % 3 === 0)).toEqual([10, 11, 10, 10]);
    expect(attributes.normal).toBeUndefined();
    expect([...attributes.color.array].slice(0, 3)).toEqual([255, 0, 0]);
  });

  it('beside triangles is a file of its own, in the unit and with the axis of the other', async () => {
    const { names, seen } = await sentAsPly([BOX, SCAN], { unit: 'mm', up: 'y' });
    expect(names).toEqual(['.ply', '_points.ply']);
    expect(seen.map(({ index }) => (index?.count ?? 0) / 3)).toEqual([12, 0]);
    expect(seen[1].attributes.position.getX(1)).toBeCloseTo(11_000, 2);
  });

  it('far from the origin keeps its millimetres, several are one after the other', async () => {
    const far = { ...SCAN, transform: translation([500_000, 0, 0]) };
    const { seen } = await sentAsPly([far, { ...SCAN, name: 'Second', mesh: cloud() }], { unit: 'm', up: 'z' });
    expect(seen[0].attributes.position.count).toBe(8);
  });

  it('and a mesh that has colours and no material go out as they came in, however often', async () => {
    const { scene, blobs } = await readAll(modelOf('PLY/float-color.ply'));
    const before = Object.keys(scene.meshes)[0];
    const { output } = await sentTo(scene, blobs, { format: 'ply', unit: 'm', up: 'z' });
    const again = await readAll(fileOf('again.ply', output.files[0].bytes));
    const colours = async (read: Pick<typeof again, 'blobs'>, mesh: string) => unpackMesh(await read.blobs.get(mesh)).colours!; // prettier-ignore
    const [first, second] = [
      await colours({ blobs }, before),
      await colours(again, Object.keys(again.scene.meshes)[0]),
    ];
    const mean = (values: Float32Array) => values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(mean(second)).toBeCloseTo(mean(first), 2);
  });

  it('is told before sending: there, as one, beside triangles', async () => {
    const { scene } = await sceneWith([BOX, SCAN]);
    const line = carryOver(scene, { ...DEFAULT_TARGET, format: 'ply' }).lines.find(({ what }) => what === 'points');
    expect(line).toMatchObject({ state: 'changed', how: expect.stringContaining('a file of its own') as string });
  });
});
