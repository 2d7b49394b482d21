import { describe, expect, it } from 'vitest';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { SceneEditor } from './editor.ts';
import { translation } from './matrix.ts';
import { plainScene } from './plain.ts';
import { packScene, SCENE_VERSION, unpackScene } from './sceneFile.ts';
import { nodeTable } from './nodeWriter.ts';
import { plainNode } from './nodes.ts';
import { EMPTY_SCENE } from './types.ts';

const some = async () => {
  const { scene } = await sceneWith([
    {
      name: 'Träger / 5″',
      children: [
        { name: 'Bolt', mesh: boxMesh(1, 1, 1), layer: 'L', transform: translation([0.1, 1e6 + 1e-9, -3]) },
        { name: 'Bolt', mesh: boxMesh(1, 1, 1), materials: ['red'] },
        { name: '𝛼 beta', mesh: boxMesh(2, 1, 1) },
      ],
    },
  ]);
  const nodes = scene.nodes.map((node) => ({
    ...plainNode(node),
    ...(node.name === 'Bolt' ? { properties: { 'Set.Width': '5' }, entity: `#${node.id}`, class: 'IfcPlate' } : {}),
    ...(node.name === '𝛼 beta' ? { offset: translation([1, 2, 3]), problem: 'none', spare: true as const } : {}),
  }));
  return { ...scene, nodes: nodeTable(nodes) };
};

describe('a stored scene', () => {
  it('comes back as it was, to the last bit of its places', async () => {
    const scene = await some();
    expect(plainScene(await unpackScene(await packScene(scene)))).toEqual(plainScene(scene));
  });

  it('is small: a thousand equal bolts take less than 20 bytes each', async () => {
    const { scene } = await sceneWith(
      Array.from({ length: 1000 }, (_, i) => ({
        name: 'Bolt',
        mesh: boxMesh(1, 1, 1),
        transform: translation([i, 0, 0]),
      })),
    );
    expect((await packScene(scene)).length).toBeLessThan(20_000);
  });

  it('is refused where it has another version, or is no scene', async () => {
    const bytes = await packScene(await some());
    const other = bytes.slice();
    other[4] = SCENE_VERSION + 1;
    await expect(unpackScene(other)).rejects.toThrow(/has version 5, this program reads version 4.*made again/);
    await expect(unpackScene(new TextEncoder().encode('{"nodes":[]}'))).rejects.toThrow(/is no scene/);
    await expect(unpackScene(new Uint8Array())).rejects.toThrow(/is no scene/);
  });

  it('stored upon another one keeps only what is different, and shares the rest when it is read', async () => {
    const { scene: survey } = await sceneWith(
      Array.from({ length: 1000 }, (_, i) => ({
        name: `Bolt ${(i * 7919) % 1000}`,
        transform: translation([i, 0, 0]),
      })),
    );
    const { scene: source } = await sceneWith([{ name: 'Bolt', mesh: boxMesh(1, 1, 1) }]);
    const [mesh] = Object.keys(source.meshes);
    const edit = new SceneEditor(survey);
    edit.setMeshes(source.meshes);
    for (const { id } of survey.nodes) edit.setMesh(id, mesh);
    edit.setTransform(7, translation([0, 0, 1]));
    edit.rename(8, 'Another');
    edit.setMaterials(9, ['red']);
    const built = edit.finish().scene;
    const alone = await packScene(built);
    const upon = await packScene(built, { hash: 'survey', scene: survey });
    expect(upon.length).toBeLessThan(alone.length / 3);
    // The survey as it is read, with tables of its own.
    const ground = await unpackScene(await packScene(survey));
    const back = await unpackScene(upon, async () => ground);
    expect(plainScene(back)).toEqual(plainScene(built));
    expect(back.nodes.columns.parent).toBe(ground.nodes.columns.parent);
    expect(back.nodes.tables.texts.sharedWith(ground.nodes.tables.texts)).toBe(survey.nodes.tables.texts.length);
    expect(await packScene(built, { hash: 'survey', scene: ground })).toEqual(upon);
    await expect(unpackScene(upon)).rejects.toMatchObject({ code: 'bad-scene' });
    // Another scene in the place of the one that it was stored upon.
    const wrong = unpackScene(upon, async () => EMPTY_SCENE);
    await expect(wrong).rejects.toMatchObject({ code: 'bad-scene' });
  });

  it('is refused wherever it is cut off or a byte of it is another', async () => {
    const bytes = await packScene(await some());
    for (let length = 8; length < bytes.length; length += 7)
      await expect(unpackScene(bytes.subarray(0, length))).rejects.toMatchObject({ code: 'bad-scene' });
    // A flipped byte may leave a sound scene that says something else; it never ends in anything but a scene or a refusal.
    for (let at = 8; at < bytes.length; at += 5) {
      const spoiled = bytes.slice();
      spoiled[at] ^= 0x41;
      const result = await unpackScene(spoiled).then(
        (scene) => plainScene(scene).nodes.length,
        (error: { code: string }) => error.code,
      );
      expect(result === 'bad-scene' || typeof result === 'number').toBe(true);
    }
  });
});
