// Modules: a scene that holds no geometry of its own, and assets that each open by themselves; against the Khronos validator and three.js.
import { describe, expect, it } from 'vitest';
import { validateBytes } from 'gltf-validator';
import { nodePictures } from '@noble-prism/node/pictures';
import type { MemoryBlobs } from '../../memoryStores.ts';
import { translation } from '../../scene/matrix.ts';
import type { Scene } from '../../scene/types.ts';
import { atLength } from '../../testing/atLength.ts';
import { ballMesh, boxMesh } from '../../testing/meshes.ts';
import { readOnce } from '../../testing/reading.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { DEFAULT_TARGET } from '../../transmit/targets/target.ts';
import type { TargetSettings } from '../../transmit/targets/target.ts';
import { deliver } from '../../transmit/transmit.ts';
import type { WrittenFile } from '../writer.ts';

async function sent(scene: Scene, blobs: MemoryBlobs, format = 'gltf', change: Partial<TargetSettings> = {}) {
  const settings = { ...DEFAULT_TARGET, format, split: 'modular' as const, ...change };
  const { outputs } = await deliver(scene, blobs, { targets: [{ name: 'Modules', settings }], name: 'hall', title: 'Hall', steps: [], made: '2026-01-01T00:00:00Z', pictures: nodePictures }); // prettier-ignore
  return outputs[0];
}

/** Every file of glTF by the validator, with what it refers to from where it lies. */
async function problemsIn(files: readonly WrittenFile[]): Promise<string[]> {
  const byName = new Map(files.map((file) => [file.name, file.bytes]));
  const out = [];
  for (const { name, bytes } of files.filter((file) => /\.gl(tf|b)$/.test(file.name))) {
    const folder = name.slice(0, name.lastIndexOf('/') + 1);
    const { issues } = await validateBytes(bytes, {
      externalResourceFunction: (uri: string) => {
        const found = byName.get(folder + decodeURIComponent(uri));
        return found ? Promise.resolve(found) : Promise.reject(new Error(`${folder}${uri} is not there`));
      },
    });
    out.push(...issues.messages.filter(({ severity }) => severity === 0).map(({ message }) => `${name}: ${message}`));
  }
  return out;
}

const names = (files: readonly WrittenFile[]) => files.map(({ name }) => name);

async function shelf() {
  return sceneWith([
    { name: 'Shelf', children: [
      { name: 'Ball', mesh: ballMesh(0.1, 8), materials: ['#ff0000'], transform: translation([1, 0, 0]) },
      { name: 'Ball, again', mesh: ballMesh(0.1, 8), materials: ['#ff0000'], transform: translation([2, 0, 0]) },
      { name: 'BALL', mesh: ballMesh(0.1, 8), materials: ['#0000ff'], transform: translation([3, 0, 0]) },
      { name: 'Board', mesh: boxMesh(4, 0.1, 1) },
    ] },
  ]); // prettier-ignore
}

describe('a scene in modules', () => {
  it.each(['gltf', 'glb'])('as %s has each distinct asset once, in a folder with a thumbnail, and places it', async (format) => {
    const { scene, blobs } = await shelf();
    const { files, readBack } = await sent(scene, blobs, format);
    const own = (asset: string) => (format === 'glb' ? [`${asset}.glb`] : [`${asset}.gltf`, `${asset}.bin`]).concat('thumbnail.png').map((file) => `assets/${asset}/${file}`); // prettier-ignore
    expect(names(files)).toEqual(['hall.gltf', ...own('Ball'), ...own('BALL_2'), ...own('Board')]);
    expect(readBack?.differences).toEqual([]);
    expect(readBack?.checks.find(({ what }) => what === 'Assets by themselves')).toMatchObject({ sent: '3', found: '3' });
    expect(readBack?.checks.find(({ what }) => what === 'Distinct geometry')).toMatchObject({ sent: '2', found: '2' });
    expect(await problemsIn(files)).toEqual([]);
    const { buffers } = JSON.parse(new TextDecoder().decode(files[0].bytes)) as { buffers: { uri: string }[] };
    expect(buffers.map(({ uri }) => uri)).toEqual(['Ball', 'Board'].map((asset) => `assets/${asset}/${asset}.${format === 'glb' ? 'glb' : 'bin'}`)); // prettier-ignore
  }); // prettier-ignore

  const WAS = '%s as %s is what it was, pictures and movements too';
  it.each([
    ['glTF2/BoxTextured-glTF/BoxTextured.gltf', 'glb'],
    ['glTF2/glTF-Asset-Generator/Mesh_PrimitiveMode/Mesh_PrimitiveMode_07.gltf', 'gltf'],
    ['Collada/anims_with_full_rotations_between_keys.DAE', 'glb'],
  ])(WAS, isWhatItWas);
  atLength.each([
    ['glTF2/ClearCoat-glTF/ClearCoatTest.gltf', 'gltf'],
    ['house.ifc', 'glb'],
  ])(WAS, isWhatItWas);

  async function isWhatItWas(path: string, format: string): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    const { files, readBack } = await sent(scene, blobs, format);
    expect(readBack?.differences).toEqual([]);
    expect(readBack?.holds).toBe(true);
    expect(await problemsIn(files)).toEqual([]);
  }

  const FOLDERS = 'has pictures in the folder of every asset that shows them: of %s at least %i';
  it.each([['glTF2/BoxTextured-glTF/BoxTextured.gltf', 1]])(FOLDERS, hasPicturesBeside);
  atLength.each([['glTF2/ClearCoat-glTF/ClearCoatTest.gltf', 2] as const])(FOLDERS, hasPicturesBeside);

  async function hasPicturesBeside(path: string, least: number): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    const { files } = await sent(scene, blobs);
    const folders = new Set(names(files).flatMap((name) => /^(assets\/[^/]+\/)textures\//.exec(name)?.[1] ?? []));
    const { images } = JSON.parse(new TextDecoder().decode(files[0].bytes)) as { images: { uri: string }[] };
    for (const { uri } of images) expect(names(files)).toContain(uri);
    expect(folders.size).toBeGreaterThanOrEqual(least);
    expect(names(files).filter((name) => name.startsWith('textures/'))).toEqual([]);
  }

  it('is refused where the format cannot refer to others, or where numbers are packed', async () => {
    const { scene, blobs } = await shelf();
    expect((await sent(scene, blobs, 'stl')).error?.message).toMatch(/cannot refer to other files.*glTF/);
    expect((await sent(scene, blobs, 'glb', { compression: 'meshopt' })).error?.message).toContain('not packed');
  });
});
