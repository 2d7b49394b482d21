// X3D 3.3 for older readers, as another engine understands it: materials of its own time, one picture, and nothing that it does not know.
import { describe, expect, it } from 'vitest';
import type { Scene } from '../../scene/types.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import { fileOf, modelOf, readAll } from '../../testing/reading.ts';
import { boxMesh } from '../../testing/meshes.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { understoodX3d } from '../../testing/secondX3d.ts';
import { sentTo } from '../../testing/sent.ts';
import { carryOver } from '../../transmit/carryOver.ts';
import { DEFAULT_TARGET } from '../../transmit/targets/target.ts';

async function copper(): Promise<{ scene: Scene; blobs: Awaited<ReturnType<typeof sceneWith>>['blobs'] }> {
  const { scene, blobs } = await sceneWith([{ name: 'Pipe', mesh: boxMesh(1, 1, 1), materials: ['copper'] }, { name: 'Pane', mesh: boxMesh(1, 2, 0.01), materials: ['glass'] }]); // prettier-ignore
  scene.materials.copper = {
    ...NO_MATERIAL,
    id: 'copper',
    name: 'Copper',
    baseColor: [0.9, 0.4, 0.2],
    metallic: 1,
    roughness: 0.5,
  };
  scene.materials.glass = {
    ...NO_MATERIAL,
    id: 'glass',
    name: 'Glass',
    baseColor: [1, 1, 1],
    metallic: 0,
    roughness: 0.05,
    opacity: 0.25,
  };
  return { scene, blobs };
}
const numbers = (element: Element, field: string) => (element.getAttribute(field) ?? '').split(/\s+/).map(Number);

describe('X3D 3.3', () => {
  it('has materials that older engines know: a colour, a highlight in the colour of the metal, and what shows through', async () => {
    const { scene, blobs } = await copper();
    const { readBack, output } = await sentTo(scene, blobs, { format: 'x3d33' });
    expect(readBack.differences).toEqual([]);
    const { warnings, document } = understoodX3d(output.files);
    expect(warnings).toEqual([]);
    expect(new TextDecoder().decode(output.files[0].bytes)).toMatch(/<X3D [^>]*version="3\.3"/);
    const [pipe, pane] = [...document.querySelectorAll('Material')];
    // Encoded as sRGB, 0.9 linear is 0.9547 (IEC 61966-2-1).
    expect(numbers(pipe, 'diffuseColor')[0]).toBeCloseTo(0.9547, 3);
    expect(numbers(pipe, 'specularColor')).toEqual(numbers(pipe, 'diffuseColor'));
    // As wide as a roughness of 0.5: an exponent of 2 / 0.5⁴ - 2 = 30, of 128.
    expect(numbers(pipe, 'shininess')[0]).toBeCloseTo(30 / 128, 4);
    // What is smoother than the format can say is as smooth as it can.
    expect([numbers(pane, 'shininess')[0], numbers(pane, 'transparency')[0]]).toEqual([1, 0.75]);
    expect(document.querySelector('PhysicalMaterial')).toBeNull();
  });

  it('comes back with the same roughness', async () => {
    const { scene, blobs } = await copper();
    const { output } = await sentTo(scene, blobs, { format: 'x3d33' });
    const again = await readAll(fileOf('again.x3d', output.files[0].bytes));
    const found = Object.values(again.scene.materials).find(({ name }) => name === 'Copper');
    expect(found?.roughness).toBeCloseTo(0.5, 5);
    expect(again.survey.sources[0].schema).toContain('3.3');
  });

  it('has the picture of the colour and no other, and says so', async () => {
    const { scene, blobs } = await readAll(modelOf('glTF2/BoxTextured-glTF/BoxTextured.gltf'));
    const [id] = Object.keys(scene.textures);
    const [material] = Object.values(scene.materials).filter(({ textures }) => textures?.baseColor);
    scene.materials[material.id] = { ...material, textures: { ...material.textures, normal: { texture: id, uv: 0 } } };
    const { readBack, output } = await sentTo(scene, blobs, { format: 'x3d33' });
    expect(readBack.differences).toEqual([]);
    expect(output.files.filter(({ mime }) => mime.startsWith('image/'))).toHaveLength(1);
    const { document } = understoodX3d(output.files);
    expect(document.querySelectorAll('Appearance > ImageTexture')).toHaveLength(1);
    const { lines } = carryOver(scene, { ...DEFAULT_TARGET, format: 'x3d33' });
    expect(lines.find(({ what }) => what === 'surfacePictures')).toMatchObject({ state: 'lost' });
    expect(lines.find(({ what }) => what === 'colourPictures')).toMatchObject({ state: 'carried' });
  });
});
