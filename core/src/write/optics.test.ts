// Cameras and lights in files: their names, which other readers look them up by, and how wide a camera sees.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { OrthographicCamera, PerspectiveCamera } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { afterAll, describe, expect, it } from 'vitest';
import { SceneEditor } from '../scene/editor.ts';
import type { CameraInfo } from '../scene/types.ts';
import { boxMesh } from '../testing/meshes.ts';
import { fileOf, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import { secondReadingAt } from '../testing/secondReader.ts';
import { sentTo } from '../testing/sent.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-optics-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Rows of these names below a part called Door: cameras, then a light. */
async function hall(cameras: [string, CameraInfo][], light?: string) {
  const { scene, blobs } = await sceneWith([
    { name: 'Door', mesh: boxMesh(1, 2, 0.1), materials: ['#808080'] },
    ...[...cameras.map(([name]) => name), ...(light ? [light] : [])].map((name) => ({ name })),
  ]);
  const edit = new SceneEditor(scene);
  cameras.forEach(([, camera], i) => edit.setExtras(i + 1, { camera }));
  if (light) edit.setExtras(cameras.length + 1, { light: { type: 'point', color: [1, 1, 1], intensity: 5 } });
  const made = edit.finish().scene;
  return { blobs, scene: { ...made, sources: made.sources.map((source) => ({ ...source, up: 'y' as const })) } };
}
const WIDE: CameraInfo = { type: 'perspective', fov: 0.8, near: 0.1, far: 100, aspect: 2.39 };
const FLAT: CameraInfo = { type: 'orthographic', height: 4, near: 0.1, far: 100, aspect: 1.6 };

describe('names', () => {
  it('of cameras and lights are theirs alone: another reader refuses a file where they are not', async () => {
    const { scene, blobs } = await hall([['Door', WIDE], ['Door', FLAT]], 'Door'); // prettier-ignore
    const { output, readBack } = await sentTo(scene, blobs);
    expect(readBack.differences).toEqual([]);
    const path = join(folder, 'a.glb');
    writeFileSync(path, output.files[0].bytes);
    expect(secondReadingAt(path)).toMatchObject({ faces: 12 });
    const { scene: read } = await new GLTFLoader().parseAsync(output.files[0].bytes.slice().buffer, '');
    expect(read.children.map(({ userData, name }) => (userData as { name?: string }).name ?? name)).toEqual(['Door', 'Door 2', 'Door 3', 'Door 4']); // prettier-ignore
  });

  it('stay as they are where nothing else has them', async () => {
    const { scene, blobs } = await hall([['View', WIDE]], 'Lamp');
    const { output } = await sentTo(scene, blobs, { format: 'dae' });
    const again = await readAll(fileOf('a.dae', output.files[0].bytes));
    expect(again.scene.nodes.map(({ name }) => name)).toEqual(expect.arrayContaining(['Door', 'View', 'Lamp']));
  });
});

describe('how wide a camera sees', () => {
  it('is what three.js finds in glTF', async () => {
    const { scene, blobs } = await hall([['Wide', WIDE], ['Flat', FLAT]]); // prettier-ignore
    const { output } = await sentTo(scene, blobs);
    const { cameras } = await new GLTFLoader().parseAsync(output.files[0].bytes.slice().buffer, '');
    const wide = cameras.find((camera) => camera instanceof PerspectiveCamera);
    const flat = cameras.find((camera) => camera instanceof OrthographicCamera);
    expect(wide?.aspect).toBeCloseTo(2.39, 6);
    expect((flat!.right - flat!.left) / (flat!.top - flat!.bottom)).toBeCloseTo(1.6, 6);
  });

  it.each(['glb', 'dae', 'usda'])('comes back from %s', async (format) => {
    const { scene, blobs } = await hall([['Wide', WIDE], ['Flat', FLAT]]); // prettier-ignore
    const { output } = await sentTo(scene, blobs, { format });
    const { scene: again } = await readAll(fileOf(output.files[0].name, output.files[0].bytes));
    const aspects = again.nodes.flatMap(({ camera }) => (camera ? [Number(camera.aspect?.toFixed(5))] : []));
    expect(aspects).toEqual([2.39, 1.6]);
  });
});
