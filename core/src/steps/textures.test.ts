// What is read from names of pictures is common practice among their makers; no source fixes it.
import { describe, expect, it } from 'vitest';
import { applyStep } from './kind.ts';
import { textureSets } from '../finish/textureSets.ts';
import { readAll, fileOf } from '../testing/reading.ts';
import type { Texture } from '../scene/types.ts';
import { texturesStep } from './textures.ts';

const picture = (name: string): Texture => ({
  id: name,
  name,
  source: 's',
  state: 'unbound',
  mime: 'image/png',
  bytes: 1,
});
const setsOf = (...names: string[]) =>
  textureSets(names.map(picture)).map(({ name, slots, others }) => ({ name, slots, others }));

describe('texture sets', () => {
  it.each([
    [
      ['tex/oak_basecolor_2k.png', 'tex/oak_normal_2k.png', 'tex/oak_ORM_2k.png'],
      {
        baseColor: 'tex/oak_basecolor_2k.png',
        normal: 'tex/oak_normal_2k.png',
        metallicRoughness: 'tex/oak_ORM_2k.png',
        occlusion: 'tex/oak_ORM_2k.png',
      },
      'oak',
    ],
    [
      ['Brick Wall-Albedo.jpg', 'Brick Wall-AmbientOcclusion.jpg'],
      { baseColor: 'Brick Wall-Albedo.jpg', occlusion: 'Brick Wall-AmbientOcclusion.jpg' },
      'Brick Wall',
    ],
    [
      ['Metal032_1K_Color.jpg', 'Metal032_1K_NormalGL.jpg'],
      { baseColor: 'Metal032_1K_Color.jpg', normal: 'Metal032_1K_NormalGL.jpg' },
      'Metal032',
    ],
    [
      ['oak_color.png', 'oak_roughness.png', 'oak_Metalness.png', 'oak_opacity.png'],
      {
        baseColor: 'oak_color.png',
        roughness: 'oak_roughness.png',
        metallic: 'oak_Metalness.png',
        opacity: 'oak_opacity.png',
      },
      'oak',
    ],
    [['Tile-Gloss.png'], { gloss: 'Tile-Gloss.png' }, 'Tile'],
    [['poster.png'], { baseColor: 'poster.png' }, 'poster'],
  ])('%j are one set', (names, slots, name) => {
    expect(setsOf(...names)).toEqual([{ name, slots, others: [] }]);
  });

  it('are kept apart by what their names have in common, and name what no slot takes', () => {
    const sets = setsOf('oak_color.png', 'oak_height.png', 'ash_color.png', 'oak_NormalDX.png');
    expect(sets.map(({ name }) => name)).toEqual(['oak', 'ash']);
    expect(sets[0].others.map(({ what }) => what)).toEqual(['height', 'normals with green turned round']);
  });
});

describe('the step', () => {
  const OBJ = `mtllib a.mtl
v 0 0 0
v 1 0 0
v 0 1 0
vt 0 0
vt 1 0
vt 0 1
o Board
usemtl Wood
f 1/1 2/2 3/3
o Foot
usemtl Iron
f 1 2 3
`;
  const MTL = 'newmtl Wood\nKd 0.5 0.5 0.5\nnewmtl Iron\nKd 0.1 0.1 0.1\n';
  const read = async () => {
    const { scene } = await readAll(fileOf('a.obj', OBJ, { 'a.mtl': MTL }));
    const texture = { ...picture('oak_color.png'), blob: 'b' };
    return { ...scene, textures: { [texture.id]: texture } };
  };
  const all = new Set([0, 1, 2, 3]);
  const parameters = { set: 'oak', slots: { baseColor: 'oak_color.png' }, material: '', tile: 0.5 };

  it('binds the pictures to one material only, and leaves the others', async () => {
    const scene = await read();
    const wood = Object.values(scene.materials).find(({ name }) => name === 'Wood');
    const {
      scene: next,
      changed,
      problems,
    } = applyStep(texturesStep, scene, all, { ...parameters, material: wood?.id ?? '' }, () => undefined);
    expect(changed).toBe(1);
    expect(problems).toEqual([]);
    const of = (name: string) => next.materials[next.nodes.find((node) => node.name === name)?.materials[0] ?? ''];
    expect(of('Board')).toMatchObject({
      name: 'oak',
      baseColor: [1, 1, 1],
      textures: { baseColor: { texture: 'oak_color.png', uv: 0 } },
    });
    expect(of('Foot').name).toBe('Iron');
    expect(next.textures['oak_color.png'].state).toBe('found');
    // The coordinates of this mesh are shares of the picture: its width in metres says nothing.
    expect(of('Board').textures?.baseColor?.scale).toBeUndefined();
  });

  it('says which parts cannot show them, and which pictures are gone', async () => {
    const scene = await read();
    const { problems } = applyStep(texturesStep, { ...scene, textures: {} }, all, parameters, () => undefined);
    expect(problems).toEqual([
      '1 part without texture coordinates: the pictures cannot be seen there.',
      '1 picture of oak not in the job any more.',
    ]);
  });

  it('uses the width of the picture where coordinates are lengths', async () => {
    const scene = await read();
    const meshes = Object.fromEntries(
      Object.entries(scene.meshes).map(([id, mesh]) => [id, { ...mesh, trueSize: true }]),
    );
    const { scene: next } = applyStep(texturesStep, { ...scene, meshes }, all, parameters, () => undefined);
    const board = next.nodes.find(({ name }) => name === 'Board');
    // Half a metre for each repeat: two repeats for each metre.
    expect(next.materials[board?.materials[0] ?? ''].textures?.baseColor?.scale).toEqual([2, 2]);
  });

  it('takes gloss as roughness the other way round, instead of what was there for both', async () => {
    const scene = await read();
    const texture = { ...picture('oak_gloss.png'), blob: 'b' };
    const wood = Object.values(scene.materials).find(({ name }) => name === 'Wood');
    const dressed = { ...wood!, textures: { metallicRoughness: { texture: 'oak_color.png', uv: 0 } } };
    const { scene: next } = applyStep(
      texturesStep,
      {
        ...scene,
        textures: { ...scene.textures, [texture.id]: texture },
        materials: { ...scene.materials, [dressed.id]: dressed },
      },
      all,
      { ...parameters, slots: { gloss: texture.id } },
      () => undefined,
    );
    const board = next.nodes.find(({ name }) => name === 'Board');
    const material = next.materials[board?.materials[0] ?? ''];
    expect(material.textures).toEqual({ roughness: { texture: texture.id, uv: 0, inverted: true } });
    expect(material.roughness).toBe(1);
    expect(material.metallic).toBe(wood?.metallic);
  });

  it('refuses a set without pictures and sizes that make no sense', () => {
    const check = (change: object) => () =>
      texturesStep.schema.validateSync({ ...parameters, ...change }, { strict: true });
    expect(check({ slots: {} })).toThrow('no picture');
    expect(check({ tile: 0 })).toThrow(/0.001.m/);
    expect(check({})).not.toThrow();
  });
});
