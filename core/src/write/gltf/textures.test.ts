// What other formats bring along goes out as glTF again: pictures, texture coordinates, colours, points, cameras, lights.
// Second reader: the Khronos validator, and our own reader on the bytes alone.
import { nodePictures } from '@noble-prism/node/pictures';
import { validateBytes } from 'gltf-validator';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { unpackMesh } from '../../mesh/mesh.ts';
import type { CameraInfo } from '../../scene/types.ts';
import { atLength } from '../../testing/atLength.ts';
import { fileOf, modelOf, readAll, readOnce } from '../../testing/reading.ts';
import type { ReadFile } from '../../testing/reading.ts';
import { readBackGlb } from '../../testing/readBack.ts';
import { glbBytes } from '../../testing/glbBytes.ts';
import { plainNode } from '../../scene/nodes.ts';
import { nodeTable } from '../../scene/nodeWriter.ts';

const PNG = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (c) => c.charCodeAt(0),
);
const LAMP =
  'mtllib lamp.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\no Lamp\nusemtl shade\nf 1/1 2/2 3/3\nusemtl glass\nf 3/3 2/2 1/1\n';
const MTL = 'newmtl shade\nmap_Kd -s 2 3 1 shade.png\nKe 2 2 1\nnewmtl glass\nd 0.3\nmap_Kd missing.png\n';

async function through(read: ReadFile) {
  const bytes = await glbBytes(read.scene, read.blobs, 'x', { pictures: nodePictures });
  const { issues } = await validateBytes(bytes);
  expect(issues).toMatchObject({ numErrors: 0, numWarnings: 0 });
  const readBack = await readBackGlb(bytes, read.scene, read.blobs);
  return { again: await readAll(fileOf('x.glb', bytes)), readBack };
}

describe('glTF of what other formats bring', () => {
  it('keeps pictures as received, how they are laid, glow and glass', async () => {
    const read = await readAll(fileOf('lamp.obj', LAMP, { 'lamp.mtl': MTL, 'shade.png': PNG }));
    const { again, readBack } = await through(read);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    const [shade, glass] = again.node('Lamp').materials.map((id) => again.scene.materials[id]);
    expect(shade.textures?.baseColor).toMatchObject({ scale: [2, 3] });
    expect(shade.emissive).toEqual([1, 1, 1].map(() => expect.any(Number) as number));
    expect(glass.opacity).toBeCloseTo(0.3, 6);
    const [texture] = Object.values(again.scene.textures);
    expect(await again.blobs.get(texture.blob ?? '')).toEqual(PNG);
    const uvs = async ({ blobs, node }: ReadFile) => [
      ...(unpackMesh(await blobs.get(node('Lamp').mesh ?? '')).uvs?.[0] ?? []),
    ];
    expect(await uvs(again)).toEqual(await uvs(read));
  });

  it('says which picture did not go in', async () => {
    const { readBack } = await through(
      await readAll(fileOf('lamp.obj', LAMP, { 'lamp.mtl': MTL.replace('shade.png', 'shade.tga'), 'shade.tga': PNG })),
    );
    expect(readBack.holds).toBe(false);
    expect(readBack.checks.find(({ what }) => what === 'Pictures')).toMatchObject({ sent: '1', found: '0' });
    expect(readBack.differences.join()).toContain('shade.tga');
  });

  it('takes 16 bits and foreign colours along as eight bits of sRGB, numbers as they are stored, and names what is no picture', async () => {
    const size = { raw: { width: 2, height: 2, channels: 3 as const } };
    const wide = await sharp(Uint16Array.from({ length: 12 }, (_, i) => [0x8000, 0x4000, 0xffff][i % 3]), size).toColourspace('rgb16').png().toBuffer(); // prettier-ignore
    const red = sharp(
      Uint8Array.from({ length: 12 }, (_, i) => [255, 0, 0][i % 3]),
      size,
    );
    const p3 = await red.withIccProfile('p3', { attach: true }).png().toBuffer();
    const mtl = 'newmtl shade\nmap_Kd p3.png\nmap_Pr p3n.png\nnewmtl glass\nmap_Kd wide.png\nnewmtl none\nmap_Kd text.png\n'; // prettier-ignore
    const files = { 'lamp.mtl': mtl, 'p3.png': p3, 'p3n.png': p3, 'wide.png': wide, 'text.png': 'no picture' };
    const obj = `${LAMP}usemtl none\nf 1/1 3/3 2/2\n`;
    const read = await readAll(fileOf('lamp.obj', obj, files), { pictures: nodePictures });
    expect(read.scene.sources[0].warnings.map(({ code, where }) => [code, where])).toEqual(expect.arrayContaining([['picture-profile', 'p3.png'], ['bad-picture', 'text.png']])); // prettier-ignore
    const bytes = await glbBytes(read.scene, read.blobs, 'x', { pictures: nodePictures });
    const again = await readAll(fileOf('x.glb', bytes));
    const first = async (name: string, slot: 'baseColor' | 'metallicRoughness') => {
      const material = Object.values(again.scene.materials).find((one) => one.name === name);
      const texture = again.scene.textures[material?.textures?.[slot]?.texture ?? ''];
      if (!texture?.blob) return undefined;
      return [...(await nodePictures.decode(await again.blobs.get(texture.blob), texture.mime, { values: true })).data.subarray(0, 3)]; // prettier-ignore
    };
    expect(await first('shade', 'baseColor')).toEqual([255, 0, 0]);
    // Roughness is what stands in green of the file, though it has a profile.
    expect((await first('shade', 'metallicRoughness'))?.[1]).toBeCloseTo(51, -1);
    expect((await first('glass', 'baseColor'))?.map((value) => Math.round(value / 16))).toEqual([8, 4, 16]);
    expect(await first('none', 'baseColor')).toBeUndefined();
    const readBack = await readBackGlb(bytes, read.scene, read.blobs, nodePictures);
    expect(readBack.differences.length).toBeGreaterThan(0);
    for (const difference of readBack.differences) expect(difference).toContain('text.png');
  });

  it('takes a picture of another kind along as PNG, in the same colours', async () => {
    const { bytes, beside } = modelOf('Collada/duck.dae');
    const read = await readAll({ name: 'duck.dae', bytes, ...(beside ? { beside } : {}) }, { pictures: nodePictures });
    const { again, readBack } = await through(read);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    const [sent] = Object.values(read.scene.textures);
    const [found] = Object.values(again.scene.textures);
    expect(found).toMatchObject({ mime: 'image/png', width: 512, height: 512 });
    const tga = await nodePictures.decode(await read.blobs.get(sent.blob ?? ''), 'image/x-tga');
    const png = await nodePictures.decode(await again.blobs.get(found.blob ?? ''), 'image/png');
    expect(Buffer.compare(png.data, tga.data)).toBe(0);
  });

  it('keeps a picture that it cannot open, and says so', async () => {
    const file = fileOf('lamp.obj', LAMP, { 'lamp.mtl': MTL.replace('shade.png', 'shade.bmp'), 'shade.bmp': PNG });
    const read = await readAll(file, { pictures: nodePictures });
    expect(read.scene.sources[0].warnings.map(({ message }) => message).join()).toContain('shade.bmp cannot be opened');
    expect(Object.values(read.scene.textures)[0].blob).toBeDefined();
  });

  it('does not take another picture of the same name for the one that was sent', async () => {
    const obj = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\no Board\nusemtl m\nf 1/1 2/1 3/1\n';
    const board = (picture: string) =>
      readAll(fileOf('a.obj', obj, { 'a.mtl': 'newmtl m\nmap_Kd p.png\n', 'p.png': picture }));
    const [sent, other] = [await board('one picture'), await board('another one')];
    const result = await readBackGlb(await glbBytes(other.scene, other.blobs, 'x'), sent.scene, sent.blobs);
    expect(result.differences).toEqual([' › Board: the picture p.png has other bytes']);
    expect(result.checks).toContainEqual({ what: 'Pictures', sent: '1', found: '0', holds: false });
  });

  it('keeps colours of vertices, and clouds as points', async () => {
    const cloud =
      'ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nend_header\n0 0 0 255 0 0\n1 2 3 0 0 255\n';
    const { again, readBack } = await through(await readAll(fileOf('scan.ply', cloud)));
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    const [figures] = Object.values(again.scene.meshes);
    expect(figures).toMatchObject({ points: 2, triangles: 0, colours: true });
    expect(figures.bounds.max).toEqual([1, 2, 3]);
  });

  it('keeps cameras and lights', async () => {
    const nodes =
      '<Viewpoint description="Door" fieldOfView="0.9" position="1 2 3"/><SpotLight DEF="Lamp" cutOffAngle="0.5" beamWidth="0.4"/><Shape DEF="s"><Box/></Shape>';
    const read = await readAll(fileOf('a.x3d', `<X3D><Scene>${nodes}</Scene></X3D>`));
    const { again, readBack } = await through(read);
    expect(readBack.holds).toBe(true);
    expect(readBack.checks).toContainEqual({ what: 'Cameras and lights', sent: '2', found: '2', holds: true });
    expect(again.node('Door')).toMatchObject({ kind: 'camera', camera: { fov: expect.closeTo(0.9, 6) as number } });
    expect(again.node('Lamp')).toMatchObject({
      kind: 'light',
      light: { type: 'spot', outer: expect.closeTo(0.5, 6) as number },
    });
    // Another lens than the one that was sent does not go unnoticed.
    const other = {
      ...read.scene,
      nodes: nodeTable(
        read.scene.nodes.map((node) =>
          node.camera ? { ...plainNode(node), camera: { ...node.camera, fov: 1.2 } as CameraInfo } : plainNode(node),
        ),
      ),
    };
    const refused = await readBackGlb(await glbBytes(read.scene, read.blobs, 'x'), other, read.blobs);
    expect(refused.holds).toBe(false);
    expect(refused.differences.join()).toContain('camera 1.2000 rad became camera 0.9000 rad');
  });

  atLength('brings an open building through with classes and properties', async () => {
    const read = await readOnce('house.ifc');
    const { again, readBack } = await through(read);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(again.scene.nodes).toHaveLength(read.scene.nodes.length);
  });
});
