// glTF 2.0, 3.9.2: roughness is in green, metalness in blue of one picture; 3.9.4: opacity is in the alpha of the base colour.
import { nodePictures } from '@noble-prism/node/pictures';
import { describe, expect, it } from 'vitest';
import type { Picture } from '../surroundings.ts';
import { fileOf, readAll } from '../testing/reading.ts';
import type { ReadFile } from '../testing/reading.ts';
import { readBackGlb } from '../testing/readBack.ts';
import { glbBytes } from '../testing/glbBytes.ts';
import { joinedTextures } from './joined.ts';

const OBJ = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\no Board\nusemtl wood\nf 1/1 2/2 3/3\n';
const plain = (value: readonly number[], side = 2): Promise<Uint8Array> =>
  nodePictures.encode({ width: side, height: side, data: new Uint8Array(side * side * 4).map((_, i) => value[i % 4]) });

async function board(mtl: string, files: Record<string, Uint8Array>): Promise<ReadFile> {
  return readAll(fileOf('a.obj', OBJ, { 'a.mtl': `newmtl wood\n${mtl}`, ...files }), { pictures: nodePictures });
}

/** Sends the board, and opens the pictures of its material in the file. */
async function sent(read: ReadFile, pictures: typeof nodePictures | null = nodePictures) {
  const bytes = await glbBytes(read.scene, read.blobs, 'x', pictures ? { pictures } : {});
  const readBack = await readBackGlb(bytes, read.scene, read.blobs, nodePictures);
  const again = await readAll(fileOf('x.glb', bytes));
  const material = again.scene.materials[again.node('Board').materials[0]];
  const open = async (slot: 'metallicRoughness' | 'baseColor'): Promise<Picture | undefined> => {
    const texture = again.scene.textures[material.textures?.[slot]?.texture ?? ''];
    return texture?.blob ? nodePictures.decode(await again.blobs.get(texture.blob), texture.mime) : undefined;
  };
  return { readBack, material, open };
}

describe('pictures of one value', () => {
  it('go out as roughness in green and metalness in blue', async () => {
    const read = await board('map_Pr rough.png\nmap_Pm metal.png\n', {
      'rough.png': await plain([90, 90, 90, 255], 4),
      'metal.png': await plain([200, 200, 200, 255]),
    });
    const { readBack, material, open } = await sent(read);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(material).toMatchObject({ roughness: 1, metallic: 1 });
    const picture = await open('metallicRoughness');
    // As large as the larger of the two.
    expect([picture?.width, picture?.height]).toEqual([4, 4]);
    expect([...(picture?.data ?? [])].slice(0, 4)).toEqual([255, 90, 200, 255]);
  });

  it('are compared value by value: another roughness in the file does not go unnoticed', async () => {
    const files = async (value: number) => ({ 'rough.png': await plain([value, value, value, 255]) });
    const read = await board('map_Pr rough.png\n', await files(90));
    const other = await board('map_Pr rough.png\n', await files(140));
    const bytes = await glbBytes(other.scene, other.blobs, 'x', { pictures: nodePictures });
    const { differences } = await readBackGlb(bytes, read.scene, read.blobs, nodePictures);
    expect(differences).toEqual([' › Board: the picture rough.png has other values in rough.png']);
  });

  it('leave what they do not hold to its factor', async () => {
    const read = await board('Pm 0.25\nmap_Pr rough.png\n', { 'rough.png': await plain([90, 90, 90, 255]) });
    const { readBack, material, open } = await sent(read);
    expect(readBack.holds).toBe(true);
    expect(material).toMatchObject({ roughness: 1, metallic: 0.25 });
    expect([...((await open('metallicRoughness'))?.data ?? [])].slice(0, 4)).toEqual([255, 90, 255, 255]);
  });

  it('put an opacity beside the base colour, and blend', async () => {
    const read = await board('Kd 1 1 1\nmap_Kd leaf.png\nmap_d cut.png\n', {
      'leaf.png': await plain([10, 120, 30, 255]),
      'cut.png': await plain([64, 64, 64, 255]),
    });
    const { readBack, material, open } = await sent(read);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(material).toMatchObject({ blended: true, opacity: 1 });
    expect([...((await open('baseColor'))?.data ?? [])].slice(0, 4)).toEqual([10, 120, 30, 64]);
  });

  it('are the opacity that stands beside the colour where both name one picture', async () => {
    const read = await board('map_Kd leaf.png\nmap_d leaf.png\n', { 'leaf.png': await plain([10, 120, 30, 77]) });
    const { material, open } = await sent(read);
    expect(material.blended).toBe(true);
    expect([...((await open('baseColor'))?.data ?? [])].slice(0, 4)).toEqual([10, 120, 30, 77]);
  });

  it('take the channel that the file names', async () => {
    const read = await board('map_Pr -imfchan b mask.png\n', { 'mask.png': await plain([1, 2, 3, 255]) });
    const { open } = await sent(read);
    expect([...((await open('metallicRoughness'))?.data ?? [])].slice(0, 4)).toEqual([255, 3, 255, 255]);
  });

  it('are not joined where they lie on the surface in two ways; the read-back names the one that is lost', async () => {
    const read = await board('map_Pr -s 2 2 1 rough.png\nmap_Pm metal.png\n', {
      'rough.png': await plain([90, 90, 90, 255]),
      'metal.png': await plain([200, 200, 200, 255]),
    });
    const [id] = read.node('Board').materials;
    expect(joinedTextures(read.scene.materials[id]).lost).toHaveLength(1);
    const { readBack } = await sent(read);
    expect(readBack.holds).toBe(false);
    expect(readBack.differences.join()).toContain('metal.png');
  });

  it('are named as lost where nothing can open pictures', async () => {
    const read = await board('map_Pr rough.png\n', { 'rough.png': await plain([90, 90, 90, 255]) });
    const { readBack } = await sent(read, null);
    expect(readBack.differences.join()).toContain('rough.png');
  });
});
