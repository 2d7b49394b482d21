// Where pictures stand in a material: glTF 2.0, 3.9.
import { describe, expect, it } from 'vitest';
import { applyStep } from './kind.ts';
import { readAll, fileOf } from '../testing/reading.ts';
import type { Texture } from '../scene/types.ts';
import { texturesStep } from './textures.ts';
import type { TexturesParameters } from './textures.ts';

const picture = (name: string): Texture => ({
  id: name,
  name,
  source: 's',
  state: 'unbound',
  mime: 'image/png',
  bytes: 1,
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
  const parameters: TexturesParameters = {
    set: 'oak',
    pictures: [{ texture: 'oak_color.png', holds: 'colour' }],
    material: '',
    tile: 0.5,
  };

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
    expect(problems).toEqual(['A picture of oak is not in the job any more.']);
    const bare = applyStep(texturesStep, scene, all, parameters, () => undefined);
    expect(bare.problems).toEqual(['1 part without texture coordinates: the pictures cannot be seen there.']);
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

  it('waits for a picture that has to be made, and takes what was made instead of what was there for both', async () => {
    const scene = await read();
    const texture = { ...picture('oak_gloss.png'), blob: 'b' };
    const wood = Object.values(scene.materials).find(({ name }) => name === 'Wood')!;
    const dressed = { ...wood, textures: { roughness: { texture: 'oak_color.png', uv: 0 } } };
    const before = {
      ...scene,
      textures: { ...scene.textures, [texture.id]: texture },
      materials: { ...scene.materials, [dressed.id]: dressed },
    };
    const bound: TexturesParameters = { ...parameters, pictures: [{ texture: texture.id, holds: 'gloss' }] };
    const [work] = texturesStep.work?.(before, all, bound) ?? [];
    expect(work).toMatchObject({ task: 'picture', label: 'oak, surface' });
    const waiting = applyStep(texturesStep, before, all, bound, () => undefined);
    expect([waiting.changed, waiting.pending]).toEqual([0, 2]);

    const made = { blob: 'm', bytes: 7, width: 4, height: 4 };
    const { scene: next } = applyStep(texturesStep, before, all, bound, (key) => (key === work.key ? made : undefined));
    const board = next.nodes.find(({ name }) => name === 'Board');
    const material = next.materials[board?.materials[0] ?? ''];
    const [use] = Object.values(material.textures ?? {});
    expect(material.textures).toEqual({ metallicRoughness: use });
    expect(next.textures[use.texture]).toMatchObject({
      blob: 'm',
      name: 'oak_surface.png',
      mime: 'image/png',
      width: 4,
    });
    // Blue of it is white: metalness stays the factor that it was.
    expect([material.roughness, material.metallic]).toEqual([1, wood.metallic]);

    const failed = applyStep(texturesStep, before, all, bound, () => ({ failed: 'it is damaged.' }));
    expect([failed.changed, failed.problems]).toEqual([0, ['oak, surface: it is damaged.']]);
  });

  it('reads what older programs saved: a picture for each slot', () => {
    const slots = { baseColor: 'a', normal: 'b', metallicRoughness: 'c', occlusion: 'c', gloss: 'd' };
    expect(texturesStep.upgrades?.[0]({ set: 'oak', slots, material: '', tile: 2 })).toEqual({
      set: 'oak',
      pictures: [
        { texture: 'a', holds: 'colour' },
        { texture: 'b', holds: 'normals' },
        { texture: 'c', holds: { r: 'occlusion', g: 'roughness', b: 'metalness' } },
        { texture: 'd', holds: 'gloss' },
      ],
      material: '',
      tile: 2,
    });
  });

  it('refuses a set without pictures, channels that hold nothing known, and sizes that make no sense', () => {
    const check = (change: object) => () =>
      texturesStep.schema.validateSync({ ...parameters, ...change }, { strict: true });
    expect(check({ pictures: [] })).toThrow('no picture');
    expect(check({ pictures: [{ texture: 'a', holds: 'shine' }] })).toThrow(/has to be one of these/);
    expect(check({ pictures: [{ texture: 'a', holds: {} }] })).toThrow('None of its channels');
    expect(check({ pictures: [{ texture: 'a', holds: { r: 'normals' } }] })).toThrow(/has to be one of these/);
    expect(check({ tile: 0 })).toThrow(/0.001.m/);
    expect(check({ pictures: [{ texture: 'a', holds: { r: 'gloss' } }] })).not.toThrow();
  });
});
