// Skins and morphs are read by nothing here: the sheet says so before anything is sent, and which figures stand still.
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { checkSteps } from '../steps/kinds.ts';
import { fileOf, readAll, readOnce } from '../testing/reading.ts';
import { carryOver } from './carryOver.ts';
import { DEFAULT_TARGET } from './targets/target.ts';

const lineOf = (scene: Parameters<typeof carryOver>[0]) => carryOver(scene, { ...DEFAULT_TARGET, format: 'glb' }).lines.find(({ what }) => what === 'bending'); // prettier-ignore

/** A triangle with another that it can be bent into. */
const MORPH = JSON.stringify({
  asset: { version: '2.0' },
  scene: 0,
  scenes: [{ nodes: [0, 1] }],
  nodes: [{ name: 'Flag', mesh: 0 }, { name: 'Eye', camera: 0 }, {}],
  cameras: [{ type: 'perspective', perspective: { yfov: 1, znear: 0.1 } }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 }, targets: [{ POSITION: 0 }] }] }],
  accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] }],
  bufferViews: [{ buffer: 0, byteLength: 36 }],
  buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer).toString('base64')}` }], // prettier-ignore
});

describe('what is bent in its file', () => {
  it.each([
    ['a skin of glTF', 'glTF2/simple_skin/simple_skin.gltf'],
    ['a skin of COLLADA', 'Collada/library_animation_clips.dae'],
  ])('%s is lost, by name', async (_, path) => {
    const { scene } = await readOnce(path);
    const line = lineOf(scene);
    expect(line).toMatchObject({ state: 'lost', title: 'Skins and morphs' });
    expect(line?.count).toBe(scene.sources[0].bent?.length);
    expect(line?.how).toContain(scene.sources[0].bent?.[0]);
    expect(carryOver(scene, DEFAULT_TARGET).holds).toBe(false);
  });

  it('is lost where a morph bends it, and no more where it was left out', async () => {
    const { scene, blobs } = await readAll(fileOf('flag.gltf', MORPH));
    expect(lineOf(scene)).toMatchObject({ count: 1, of: 'figure', how: 'stands still: Flag' });
    const out = [{ id: 'o', kind: 'leave-out', on: true, selector: { by: 'name', pattern: 'Flag' }, parameters: {} }];
    const { scene: rest } = await evaluate(scene, 'k', checkSteps(out), memorySurroundings({ blobs }));
    expect(lineOf(rest)).toBeUndefined();
  });

  it('is none in a file without any', async () => {
    const { scene } = await readOnce('glTF2/BoxTextured-glTF/BoxTextured.gltf');
    expect(lineOf(scene)).toBeUndefined();
  });
});

it('a camera without a name is called a camera', async () => {
  const { scene } = await readAll(fileOf('flag.gltf', MORPH.replace('"name":"Eye",', '')));
  expect(scene.nodes.map(({ name, kind }) => `${name}: ${kind}`)).toEqual(['Flag: part', 'Camera: camera']);
});
