// What glTF has by extensions: variants of materials, pictures packed for graphics cards, lists of places. Checked by the Khronos
// validator, by three.js, and by our own reader on the bytes alone.
import { nodePictures } from '@noble-prism/node/pictures';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { atLength } from '../../testing/atLength.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { translation } from '../../scene/matrix.ts';
import { boxMesh } from '../../testing/meshes.ts';
import { fileOf, readAll } from '../../testing/reading.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { sentTo } from '../../testing/sent.ts';
import type { TargetSettings } from '../../transmit/targets/target.ts';
import { settingsFrom } from '../../transmit/targets/target.ts';
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';

/** Sent as a binary file, without a word of the validator that is an error or a warning, and read back as it was sent. */
async function sentWell(scene: Scene, blobs: BlobStore, settings: Partial<TargetSettings>) {
  const { output, readBack } = await sentTo(scene, blobs, settings, { pictures: nodePictures });
  expect(readBack.differences).toEqual([]);
  expect(readBack.holds).toBe(true);
  const [{ bytes }] = output.files;
  const { issues } = await validateBytes(bytes);
  expect(issues.messages.filter(({ severity, code }) => severity < 2 && !UNKNOWN.has(code))).toEqual([]);
  return { output, readBack, bytes, again: await readAll(fileOf('x.glb', bytes), { pictures: nodePictures }) };
}

/** What the validator warns of: it does not open KTX2, and normals without tangents, which the standard lets readers make, are told. */
const UNKNOWN = new Set(['VALUE_NOT_IN_LIST', 'IMAGE_UNRECOGNIZED_FORMAT', 'MESH_PRIMITIVE_GENERATED_TANGENT_SPACE']);

describe('variants of materials', () => {
  async function chairs() {
    const { scene, blobs } = await sceneWith([
      { name: 'Chair', mesh: boxMesh(1, 1, 1, 2), materials: ['lib:oak', 'lib:rubber'] },
      { name: 'Stool', mesh: boxMesh(1, 1, 1, 2), materials: ['lib:oak', 'lib:rubber'] },
    ]);
    const edit = new SceneEditor(scene);
    edit.setExtras(0, { variants: { Walnut: ['lib:walnut', 'lib:rubber'], Bare: ['lib:steel'] } });
    edit.setMaterialsOfScene(
      Object.fromEntries(
        ['lib:walnut', 'lib:steel'].map((id) => [id, { ...scene.materials['lib:oak'], id, name: id.slice(4) }]),
      ),
    );
    return { scene: edit.finish().scene, blobs };
  }

  it('go along by their names, part by part, and a part without them stays apart from one that has them', async () => {
    const { scene, blobs } = await chairs();
    const { readBack, output, again } = await sentWell(scene, blobs, {});
    expect(readBack.checks.find(({ what }) => what === 'Variants, part by part')).toMatchObject({ sent: '2', found: '2' }); // prettier-ignore
    expect(output.carryOver?.lines.find(({ what }) => what === 'variants')).toMatchObject({ state: 'carried', count: 2 }); // prettier-ignore
    const names = (key: string) => Object.fromEntries(Object.entries(again.node(key).variants ?? {}).map(([name, ids]) => [name, ids.map((id) => again.scene.materials[id].name)])); // prettier-ignore
    expect(names('Chair').Walnut).toEqual(['walnut', 'Colour lib:rubber']);
    expect(names('Chair').Bare[0]).toBe('steel');
    expect(names('Stool')).toEqual({});
  });

  it('that a format has no place for are said to be lost, with those that would carry them', async () => {
    const { scene, blobs } = await chairs();
    const { output } = await sentTo(scene, blobs, { format: 'obj' });
    const line = output.carryOver?.lines.find(({ what }) => what === 'variants');
    expect(line).toMatchObject({ state: 'lost', others: ['Binary glTF 2.0', 'glTF 2.0 (files apart)'] });
  });
});

describe('pictures packed for graphics cards', () => {
  const SIDE = 30;
  const OBJ = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\no Tile\nusemtl tile\nf 1/1 2/2 3/3\n';
  const MTL = 'newmtl tile\nKd 1 1 1\nmap_Kd colour.png\nmap_Pr rough.png\nmap_Pm metal.png\nnorm normal.png\n';
  const tile = async () => {
    const files = {
      'a.mtl': MTL,
      'colour.png': await flat(200, 100, 50),
      'rough.png': await flat(77, 77, 77),
      'metal.png': await flat(230, 230, 230),
      'normal.png': await flat(128, 128, 255),
    };
    return readAll(fileOf('a.obj', OBJ, files), { pictures: nodePictures });
  };
  const flat = (r: number, g: number, b: number) =>
    nodePictures.encode({ width: SIDE, height: SIDE, data: new Uint8Array(SIDE * SIDE * 4).map((_, i) => [r, g, b, 255][i % 4]) }); // prettier-ignore

  it('are KTX2 with smaller levels, in whole blocks, colours as sRGB and values as numbers, joined ones too', async () => {
    const read = await tile();
    const { output, bytes } = await sentWell(read.scene, read.blobs, { kind: 'ktx2' });
    expect(output.carryOver?.lines.find(({ what }) => what === 'colourPictures')).toMatchObject({ state: 'changed', how: expect.stringContaining('packed') as string }); // prettier-ignore
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
    const [material] = document.getRoot().listMaterials();
    const expected = [
      [material.getBaseColorTexture(), [200, 100, 50], SRGB],
      [material.getMetallicRoughnessTexture(), [255, 77, 230], LINEAR],
      [material.getNormalTexture(), [128, 128, 255], LINEAR],
    ] as const;
    for (const [texture, colour, transfer] of expected) {
      expect(texture?.getMimeType()).toBe('image/ktx2');
      const file = texture?.getImage() as Uint8Array;
      const { width, height, data } = await nodePictures.decode(file, 'image/ktx2');
      expect([width % 4, height % 4]).toEqual([0, 0]);
      for (const [i, value] of colour.entries()) expect(Math.abs(data[i] - value)).toBeLessThanOrEqual(4);
      // KTX 2.0 (Khronos): the number of levels at byte 40; where the basic data format descriptor begins at byte 48, its transfer
      // function is the third byte of its fourth word, after the word of the total size.
      const view = new DataView(file.buffer, file.byteOffset);
      expect(view.getUint32(40, true)).toBe(1 + Math.floor(Math.log2(Math.max(width, height))));
      expect(view.getUint8(view.getUint32(48, true) + 4 + 8 + 2)).toBe(transfer);
    }
  });

  /** Khronos Data Format Specification: KHR_DF_TRANSFER_LINEAR and KHR_DF_TRANSFER_SRGB. */
  const [LINEAR, SRGB] = [1, 2];

  it('that are made of several are of the kind that the others are of', async () => {
    const { scene, blobs } = await tile();
    const { bytes } = await sentWell(scene, blobs, { kind: 'webp' });
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
    expect(document.getRoot().listTextures().map((texture) => texture.getMimeType())).toEqual(['image/webp', 'image/webp', 'image/webp']); // prettier-ignore
  });

  it('are refused by name for a format that does not take them', () => {
    expect(() => settingsFrom({ format: 'obj', kind: 'ktx2' })).toThrow(
      'OBJ with materials takes no pictures as KTX2. Binary glTF 2.0 and glTF 2.0 (files apart) can.',
    );
  });
});

describe('lists of places', () => {
  const row = (i: number) => ({ name: i % 3 === 0 ? 'Bolt' : 'Nut', transform: translation([i * 0.1, 0, 0]) });
  const some = () =>
    sceneWith([
      {
        name: 'Flange',
        transform: translation([5, 0, 0]),
        // Two shapes called the same by turns, one of which stands where single precision does not reach, and one that is skewed.
        children: [
          ...Array.from({ length: 20 }, (_, i) => ({ ...row(i), mesh: boxMesh(i % 2 === 0 ? 0.1 : 0.2, 0.1, 0.1), materials: ['lib:steel'] })), // prettier-ignore
          { name: 'Bolt', mesh: boxMesh(0.1, 0.1, 0.1), materials: ['lib:steel'], transform: translation([123456.789, 0, 0]) }, // prettier-ignore
          { name: 'Bolt', mesh: boxMesh(0.1, 0.1, 0.1), materials: ['lib:steel'], transform: [1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 9, 0, 0, 1] }, // prettier-ignore
        ],
      },
    ]);

  it('stand for parts beside each other that show the same, and every one keeps its name and its place', async () => {
    const { scene, blobs } = await some();
    const { bytes, again, readBack } = await sentWell(scene, blobs, { instances: 'lists' });
    expect(readBack.checks.find(({ what }) => what === 'Rows of the tree')).toMatchObject({ sent: '23', found: '23' });
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
    const names = document.getRoot().listNodes().map((node) => node.getName()); // prettier-ignore
    // The assembly, two lists, and the two that no list holds.
    expect(names).toEqual(['Flange', 'Bolt × 10', 'Nut × 10', 'Bolt', 'Bolt']);
    const parts = again.scene.nodes.filter(({ kind }) => kind === 'part').map(({ name }) => name);
    expect(parts.filter((name) => name === 'Bolt')).toHaveLength(9);
    expect(parts.filter((name) => name === 'Nut')).toHaveLength(13);
  });

  it.each([{ compression: 'meshopt' }, { compression: 'draco' }, { split: 'modular' }, { format: 'gltf' }] as const)(
    'hold together with %o',
    async (settings) => {
      const { scene, blobs } = await some();
      const { readBack } = await sentTo(scene, blobs, { instances: 'lists', ...settings }, { pictures: nodePictures });
      expect(readBack.differences).toEqual([]);
      expect(readBack.holds).toBe(true);
    },
  );

  const SMALLER = 'make a file of %i copies smaller';
  it.each([200])(SMALLER, areSmaller);
  atLength.each([2000])(SMALLER, areSmaller);

  async function areSmaller(copies: number): Promise<void> {
    const { scene, blobs } = await sceneWith(
      Array.from({ length: copies }, (_, i) => ({ name: `Seat ${i + 1}`, mesh: boxMesh(0.5, 0.5, 0.5), transform: translation([i, i % 7, 0]) })), // prettier-ignore
    );
    const [plain, listed] = [await sentWell(scene, blobs, {}), await sentWell(scene, blobs, { instances: 'lists' })];
    expect(listed.bytes.length).toBeLessThan(plain.bytes.length * 0.75);
  }
});

it('a part that is also a lamp and a camera is each of them in the file', async () => {
  const { scene, blobs } = await sceneWith([{ name: 'Lamp', mesh: boxMesh(1, 1, 1, 2), materials: ['lib:steel', 'lib:glass'] }]); // prettier-ignore
  const edit = new SceneEditor(scene);
  edit.setExtras(0, {
    light: { type: 'point', color: [1, 1, 1], intensity: 5 },
    camera: { type: 'perspective', fov: 1, near: 0.1 },
  });
  const { readBack } = await sentWell(edit.finish().scene, blobs, {});
  expect(readBack.checks.find(({ what }) => what === 'Parts with geometry')).toMatchObject({ sent: '1', found: '1' });
  expect(readBack.checks.find(({ what }) => what === 'Triangles drawn')).toMatchObject({ sent: '12', found: '12' });
  expect(readBack.checks.find(({ what }) => what === 'Cameras and lights')).toMatchObject({ sent: '1', found: '1' });
});
