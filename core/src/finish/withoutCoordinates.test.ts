// Materials with pictures on parts that have no texture coordinates: they are told, whichever way they came to be so.
import { describe, expect, it } from 'vitest';
import { MemoryBlobs, MemoryMemo, memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { checkSteps } from '../steps/kinds.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { uvStep } from '../steps/uv.ts';
import { LIBRARY } from './library/library.ts';
import { withoutCoordinates } from './withoutCoordinates.ts';

const PICTURED = LIBRARY.find(({ made }) => made)!.id;
const PLAIN = LIBRARY.find(({ made }) => !made)!.id;
const box = boxMesh(1, 1, 1);
const laid = { ...box, uvs: [new Float32Array((box.positions.length / 3) * 2)] };

const given = (material: string, own?: object[]) => ({ kind: 'finishes', format: 2, parameters: { rules: [{ which: { by: 'all' }, material }], ...(own ? { own } : {}) } }); // prettier-ignore
/** Pictures are made once. */
const [memo, blobs] = [new MemoryMemo(), new MemoryBlobs()];
const lay = { kind: 'uv', parameters: uvStep.defaults };

async function lacking(...steps: object[]): Promise<string[]> {
  const { scene } = await sceneWith([{ name: 'Bare', mesh: box }, { name: 'Laid', mesh: laid }], blobs); // prettier-ignore
  const list = checkSteps(steps.map((step, i) => ({ id: `${i}`, on: true, selector: { by: 'all' }, ...step })));
  const { scene: after } = await evaluate(scene, 'k', list, memorySurroundings({ blobs, memo }));
  return withoutCoordinates(after, list).map((row) => after.nodes.text('name', row));
}
const own = { id: 'mine:a', name: 'A', baseColor: [1, 1, 1], opacity: 1, metallic: 0, roughness: 1, origin: 'library' };

describe('parts without texture coordinates', () => {
  it.each([
    ['a material of one colour', [given(PLAIN)], []],
    ['one with pictures', [given(PICTURED)], ['Bare']],
    ['coordinates laid before', [lay, given(PICTURED)], []],
    ['coordinates laid after', [given(PICTURED), lay], ['Bare']],
    ['an own material of one colour', [given('mine:a', [{ material: own, textures: [] }])], []],
    ['an own material with the pictures of another', [given('mine:a', [{ material: own, textures: [], of: PICTURED }])], ['Bare']],
  ])('%s', async (_, steps, names) => expect(await lacking(...steps)).toEqual(names)); // prettier-ignore

  it('show pictures that came with the job on another part, on a set that they have not', async () => {
    const { scene } = await sceneWith([{ name: 'Bare', mesh: box, materials: ['a'] }, { name: 'Laid', mesh: laid, materials: ['a'] }, { name: 'One set', mesh: laid, materials: ['b'] }]); // prettier-ignore
    for (const [id, uv] of [
      ['a', 0],
      ['b', 1],
    ] as const)
      // prettier-ignore
      scene.materials[id] = { ...scene.materials[id], textures: { baseColor: { texture: 't', uv } } };
    expect(withoutCoordinates(scene, []).map((row) => scene.nodes.text('name', row))).toEqual(['Bare', 'One set']);
  });
});
