// Modules in USD: a layer that holds no geometry of its own, and assets that each open by themselves; each layer by a second reader too.
import { describe, expect, it } from 'vitest';
import { nodePictures } from '@noble-prism/node/pictures';
import type { MemoryBlobs } from '../../memoryStores.ts';
import { translation } from '../../scene/matrix.ts';
import type { Scene } from '../../scene/types.ts';
import { atLength } from '../../testing/atLength.ts';
import { ballMesh, boxMesh } from '../../testing/meshes.ts';
import { modelOf, readAll } from '../../testing/reading.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { meshesOfSecondReader } from '../../testing/secondUsd.ts';
import { sentTo } from '../../testing/sent.ts';
import type { TargetSettings } from '../../transmit/targets/target.ts';
import type { WrittenFile } from '../writer.ts';

const sent = (scene: Scene, blobs: MemoryBlobs, change: Partial<TargetSettings> = {}) =>
  sentTo(scene, blobs, { format: 'usda', split: 'modular', ...change }, { pictures: nodePictures });

const text = ({ bytes }: WrittenFile) => new TextDecoder().decode(bytes);

describe('a scene in layers of USD', () => {
  it('has each distinct asset once, in a folder with a thumbnail, and places it as an instance', async () => {
    const { scene, blobs } = await sceneWith([
      { name: 'Shelf', children: [
        { name: 'Ball', mesh: ballMesh(0.1, 8), materials: ['#ff0000'], transform: translation([1, 0, 0]), layer: 'BALLS' },
        { name: 'Ball, again', mesh: ballMesh(0.1, 8), materials: ['#ff0000'], transform: translation([2, 0, 0]) },
        { name: 'BALL', mesh: ballMesh(0.1, 8), materials: ['#0000ff'], transform: translation([3, 0, 0]), children: [{ name: 'Ring', mesh: boxMesh(1, 1, 1) }] },
        { name: 'Board', mesh: boxMesh(4, 0.1, 1) },
      ] },
    ]); // prettier-ignore
    const { output, readBack } = await sent(scene, blobs, { unit: 'mm', up: 'z' });
    expect(readBack.differences).toEqual([]);
    expect(readBack.checks.find(({ what }) => what === 'Assets by themselves')).toMatchObject({
      sent: '4',
      found: '4',
    });
    expect(readBack.checks.find(({ what }) => what === 'Distinct geometry')).toMatchObject({ sent: '3', found: '3' });
    const own = (asset: string) => [`assets/${asset}/${asset}.usda`, `assets/${asset}/thumbnail.png`];
    expect(output.files.map(({ name }) => name)).toEqual(['x.usda', ...own('Ball'), ...own('BALL_2'), ...own('Ring'), ...own('Board')]); // prettier-ignore
    const [placed, ...assets] = output.files;
    expect(text(placed)).not.toContain('point3f[] points');
    expect(text(placed).match(/prepend references = @.\/assets\/Ball\/Ball.usda@/g)).toHaveLength(2);
    for (const layer of assets.filter(({ name }) => name.endsWith('.usda')))
      expect(await meshesOfSecondReader(layer.bytes, 'x.usda')).toHaveLength(1);
  });

  const WAS = '%s is what it was, pictures and movements too';
  it.each(['glTF2/BoxTextured-glTF/BoxTextured.gltf', 'OBJ/testline.obj'])(WAS, isWhatItWas);
  atLength.each(['glTF2/ClearCoat-glTF/ClearCoatTest.gltf', 'Collada/anims_with_full_rotations_between_keys.DAE'])(
    WAS,
    isWhatItWas,
  );

  async function isWhatItWas(path: string): Promise<void> {
    const { scene, blobs } = await readAll(modelOf(path));
    const { output, readBack } = await sent(scene, blobs);
    expect(readBack).toMatchObject({ differences: [], holds: true });
    // Pictures lie with the assets that show them.
    expect(output.files.filter(({ name }) => name.startsWith('textures/'))).toEqual([]);
  }

  it('is refused in a package, which holds everything itself', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Box', mesh: boxMesh(1, 1, 1) }]);
    await expect(sent(scene, blobs, { format: 'usdz' })).rejects.toThrow(/cannot refer to other files.*USD \(text\)/);
  });
});
