// What belongs together: by parsed references and stems, never because a name occurs somewhere in a text.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesOf, models } from '../testing/reading.ts';
import { crateOf } from '../testing/crate.ts';
import { parseUsda } from './usd/usda.ts';
import { belonging, namesOf, someNames } from './belonging.ts';
import { endingOf } from './paths.ts';
import { referencesIn, sourceOfBytes } from './references.ts';

const MODELS = /^(stp|obj|stl|ply|gltf|glb|dae|usda|usdc|x3d|ifc)$/;

const delivered = (files: Record<string, string | Uint8Array>) =>
  belonging(
    Object.keys(files),
    (path) => MODELS.test(endingOf(path)),
    (path) => referencesIn(path, sourceOfBytes(typeof files[path] === 'string' ? bytesOf(files[path]) : files[path])),
  );
const groups = async (files: Record<string, string | Uint8Array>) =>
  (await delivered(files)).models.map(({ files: inside }) => inside.join(' + '));

describe('models', () => {
  it('of which one is called like an end of the other, or like a product in it, stay apart', async () => {
    const piston = "#1=PRODUCT('rod.stp','rod.stp','',(#2));\n/* made for piston-rod.stp and rod.stp */";
    expect(await groups({ 'piston-rod.stp': piston, 'rod.stp': "FILE_NAME('piston-rod.stp','',(''));" })).toEqual([
      'piston-rod.stp',
      'rod.stp',
    ]);
  });

  it('that an assembly names as documents belong to it, whatever stands before the name', async () => {
    expect(
      await groups({
        'main.stp':
          "#1=DOCUMENT_FILE('parts\\\\wheel.stp','',$,#2,'',$);#3=(DOCUMENT('x','axle.stp',$,#4) DOCUMENT_FILE());",
        'wheel.stp': '',
        'axle.stp': '',
        'other.stp': '',
      }),
    ).toEqual(['main.stp + wheel.stp + axle.stp', 'other.stp']);
  });

  it('that name each other in a ring are one source, which the first stands for', async () => {
    const names = (other: string) => `#1=DOCUMENT_FILE('${other}','',$,#2,'',$);`;
    expect(await groups({ 'a.stp': names('b.stp'), 'b.stp': names('a.stp') })).toEqual(['a.stp + b.stp']);
  });

  it('of a folder are a source each, with their own pictures', async () => {
    const delivery = await delivered({
      'set/chair/chair.obj': 'mtllib chair.mtl\n',
      'set/chair/chair.mtl': 'newmtl a\nmap_Kd -s 2 2 2 textures/oak light.png\n',
      'set/chair/textures/oak light.png': '',
      'set/chair/textures/spare.png': '',
      'set/table.stl': '',
      'set/read me.txt': 'chair.obj, table.stl',
      'set/both.png': '',
    });
    expect(delivery).toEqual({
      models: [
        {
          model: 'set/chair/chair.obj',
          files: [
            'set/chair/chair.obj',
            'set/chair/chair.mtl',
            'set/chair/textures/oak light.png',
            'set/chair/textures/spare.png',
          ],
        },
        { model: 'set/table.stl', files: ['set/table.stl'] },
      ],
      pictures: ['set/both.png'],
      ignored: ['set/read me.txt'],
    });
  });

  it('share a material file where both name it', async () => {
    const obj = 'mtllib house.mtl\n';
    expect(await groups({ 'a.obj': obj, 'b.obj': obj, 'house.mtl': '' })).toEqual([
      'a.obj + house.mtl',
      'b.obj + house.mtl',
    ]);
  });

  it('own a material file and a picture of their stem', async () => {
    expect(await groups({ 'lamp.obj': '', 'lamp.mtl': '', 'Lamp.png': '', 'wall.ply': '' })).toEqual([
      'lamp.obj + lamp.mtl + Lamp.png',
      'wall.ply',
    ]);
  });
});

describe('references', () => {
  const refs = (path: string, text: string | Uint8Array) =>
    referencesIn(path, sourceOfBytes(typeof text === 'string' ? bytesOf(text) : text));

  it.each([
    [
      'a.gltf',
      '{"buffers":[{"uri":"a.bin"},{"uri":"data:,x"}],"images":[{"uri":"p%20q.png"}]}',
      ['a.bin', 'p%20q.png'],
    ],
    [
      'a.dae',
      '<image><init_from>a&amp;b.png</init_from></image><image><init_from><ref>c.png</ref></init_from></image>',
      ['a&b.png', 'c.png'],
    ],
    [
      'a.x3d',
      `<ImageTexture url='"one.png" "two.png"'/><ImageTexture url="three.png"/>`,
      ['one.png', 'two.png', 'three.png'],
    ],
    ['a.ply', 'ply\ncomment TextureFile skin.jpg \nend_header', ['skin.jpg']],
    ['a.usda', '#usda 1.0\n( subLayers = [@./b.usda@] )', ['./b.usda']],
    ['a.stl', 'solid a.png', []],
    ['a.gltf', '{ damaged', []],
  ])('of %s are what its format says: %s', async (path, text, expected) => {
    expect(await refs(path, text)).toEqual(expected);
  });

  it('of a binary glTF stand in its first chunk', async () => {
    const json = JSON.stringify({ images: [{ uri: 'deck.png' }] });
    const glb = new Uint8Array(20 + json.length);
    new DataView(glb.buffer).setUint32(12, json.length, true);
    glb.set(bytesOf(json), 20);
    expect(await refs('a.glb', glb)).toEqual(['deck.png']);
  });

  it('of a crate are among its names', async () => {
    expect(
      await refs(
        'a.usdc',
        crateOf(parseUsda(bytesOf('#usda 1.0\ndef "A" ( references = @./wheel.usda@ ) {}\n'), 'a').layer),
      ),
    ).toContain('./wheel.usda');
  });

  it('of an open file with its material file are found', async () => {
    const path = join(models, 'OBJ/spider.obj');
    expect(await refs('spider.obj', new Uint8Array(readFileSync(path)))).toContain('spider.mtl');
  });

  it('across the border of two slices are found once', async () => {
    const text = `${'v 0 0 0\n'.repeat(499_999)}v 0 mtllib x\nmtllib far.mtl\nv 0 0 0\n`;
    expect(await refs('a.obj', text)).toEqual(['far.mtl']);
  });
});

it('names of sources carry their folder only where two would be called the same', () => {
  expect(namesOf(['a/body.stp', 'b/body.stp', 'a/lid.stp'])).toEqual(['a/body.stp', 'b/body.stp', 'lid.stp']);
  expect(someNames(['1', '2', '3', '4', '5', '6', '7', '8'])).toBe('1, 2, 3, 4, 5, 6 and 2 more');
});
