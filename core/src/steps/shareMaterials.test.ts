// Shared materials told apart, and copies of one material made one.
import { describe, expect, it } from 'vitest';
import { alikeGroups, differenceBetween } from '../finish/alike.ts';
import { linearFromHex } from '../finish/colour.ts';
import { memorySurroundings } from '../memoryStores.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { joined } from '../mesh/join.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { IDENTITY, translation } from '../scene/matrix.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Material, Scene } from '../scene/types.ts';
import type { Selector } from '../select/selector.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { checkSteps } from './kinds.ts';
import { groupsIn } from './mergeMaterials.ts';

const box = boxMesh(1, 1, 1);
const part = (name: string, layer: string, ...materials: string[]): PartSpec => ({ name, mesh: box, layer, materials });
const rooms = () =>
  sceneWith([
    { name: 'Room 1', children: [part('Wall', 'WALLS', 'white'), part('Door', 'DOORS', 'white')] },
    { name: 'Room 2', children: [part('Wall', 'WALLS', 'white'), part('Rail', 'DOORS', 'steel')] },
  ]);

async function applied({ scene, blobs }: Awaited<ReturnType<typeof sceneWith>>, kind: string, parameters: object, selector: Selector = { by: 'all' }) {
  const steps = checkSteps([{ id: 's', kind, on: true, selector, parameters }]);
  const { scene: after, reports } = await evaluate(scene, 'k', steps, memorySurroundings({ blobs }));
  return { after, notes: reports[0].notes, parts: [...after.nodes].filter((node) => node.kind === 'part') };
} // prettier-ignore
const namesIn = (scene: Scene) =>
  [...scene.nodes].flatMap(({ kind, materials }) => (kind === 'part' ? [materials.map((id) => scene.materials[id].name).join('+')] : [])); // prettier-ignore

describe('own copies', () => {
  it.each([
    ['layer', ['Colour white, WALLS', 'Colour white, DOORS', 'Colour white, WALLS', 'Colour steel']],
    ['assembly', ['Colour white, Room 1', 'Colour white, Room 1', 'Colour white, Room 2', 'Colour steel']],
    ['part', ['Colour white, Wall', 'Colour white, Door', 'Colour white, Wall', 'Colour steel']],
  ])('for each %s; a material of one alone needs none', async (of, names) => {
    const { after, parts } = await applied(await rooms(), 'own-materials', { of });
    expect(namesIn(after)).toEqual(names);
    // Each its own, though two may be called alike; and all share their shape as before.
    expect(parts[0].materials[0] === parts[2].materials[0]).toBe(of === 'layer');
    expect(new Set(parts.map(({ mesh }) => mesh)).size).toBe(1);
  });

  it('only where the rule says so: what is changed for one room afterwards is not changed for the other', async () => {
    const made = await rooms();
    const steps = checkSteps([
      { id: 'own', kind: 'own-materials', on: true, selector: { by: 'picked', keys: ['/Room 2'] }, parameters: { of: 'assembly' } }, // prettier-ignore
    ]);
    const { scene: after } = await evaluate(made.scene, 'k', steps, memorySurroundings({ blobs: made.blobs }));
    expect(namesIn(after)).toEqual(['Colour white', 'Colour white', 'Colour white, Room 2', 'Colour steel']);
    const own = [...after.nodes].find(({ name, parent }) => name === 'Wall' && parent === 3)!.materials[0];
    const rules = [{ which: { by: 'material', materials: [own] }, material: 'lib:glass' }];
    const finished = checkSteps([{ id: 'f', kind: 'finishes', on: true, selector: { by: 'all' }, parameters: { rules }, format: 2 }]); // prettier-ignore
    const { scene: both } = await evaluate(made.scene, 'k', [...steps, ...finished], memorySurroundings({ blobs: made.blobs })); // prettier-ignore
    expect(namesIn(both)).toEqual(['Colour white', 'Colour white', 'Glass, clear', 'Colour steel']);
  });

  it('for each connected piece: one mesh still, with a slot for each piece, also where others share it', async () => {
    const two = joined([
      { mesh: box, place: IDENTITY, slots: [0] },
      { mesh: box, place: translation([3, 0, 0]), slots: [0] },
    ]);
    const made = await sceneWith([
      { name: 'Pair', mesh: two, materials: ['white'] },
      { name: 'Other', mesh: two, materials: ['steel'] },
    ]);
    const { after, parts } = await applied(made, 'own-materials', { of: 'piece' }, { by: 'name', pattern: 'Pair' });
    expect(namesIn(after)).toEqual(['Colour white, Pair, 1+Colour white, Pair, 2', 'Colour steel+Colour steel']);
    expect(parts[0].mesh).toBe(parts[1].mesh);
    const mesh = unpackMesh(await made.blobs.get(parts[0].mesh!));
    expect(mesh.groups.map(({ slot, count }) => [slot, count / 3])).toEqual([[0, 12], [1, 12]]); // prettier-ignore
    // Each slot is one box: no triangle of the one reaches over to the other.
    const reach = (slot: number) => {
      const { start, count } = mesh.groups[slot];
      return [...mesh.indices.subarray(start, start + count)].map((i) => mesh.positions[i * 3]);
    };
    expect([Math.max(...reach(0)), Math.min(...reach(1))]).toEqual([0.5, 2.5]);
  });
});

describe('merged materials', () => {
  const material = (id: string, hex: string, more: Partial<Material> = {}): Material => ({ ...NO_MATERIAL, id, name: id, baseColor: linearFromHex(hex), ...more }); // prettier-ignore

  it('differ by what is seen: one step of 255 in a colour, a hundredth of roughness', () => {
    const grey = material('a', '#808080');
    expect(differenceBetween(grey, material('b', '#818080'))).toBeCloseTo(1 / 255, 9);
    // A dark colour is compared as it is seen, too: linear light alone would not tell these apart.
    expect(differenceBetween(material('a', '#050505'), material('b', '#0a0505'))).toBeCloseTo(5 / 255, 9);
    expect(differenceBetween(grey, { ...grey, roughness: grey.roughness - 0.01 })).toBeCloseTo(0.01, 9);
    expect(differenceBetween(grey, { ...grey, doubleSided: true })).toBe(Infinity);
    expect(differenceBetween(grey, { ...grey, textures: { baseColor: { texture: 't', uv: 0 } } })).toBe(Infinity);
  });

  it('stand in groups around the one of most parts, none farther from it than the tolerance', () => {
    const five = ['#808080', '#818080', '#828080', '#838080', '#848080'].map((hex, i) => material(`steel.${i}`, hex));
    const users = new Map([['steel.2', 9], ...five.map(({ id }): [string, number] => [id, id === 'steel.2' ? 9 : 1])]); // prettier-ignore
    expect(alikeGroups(five, users, 2.5 / 255)).toMatchObject([{ kept: { id: 'steel.2' }, others: { length: 4 } }]);
    expect(alikeGroups(five, users, 1.5 / 255).map(({ kept, others }) => [kept.id, others.length])).toEqual([['steel.2', 2]]); // prettier-ignore
    expect(alikeGroups(five, users, 0)).toEqual([]);
  });

  it('are one afterwards, but for groups that are left apart', async () => {
    const made = await sceneWith(['a', 'a', 'b', 'c', 'd'].map((id, i) => part(`P${i}`, 'L', id)));
    Object.assign(made.scene.materials, {
      a: material('a', '#a0a0a0'),
      b: material('b', '#a1a0a0'),
      c: material('c', '#203040'),
      d: material('d', '#203040'),
    });
    expect(groupsIn(made.scene, 0.01).map(({ kept, others, parts }) => [kept.id, others[0].id, parts])).toEqual([['a', 'b', 3], ['c', 'd', 2]]); // prettier-ignore
    const { parts, notes } = await applied(made, 'merge-materials', { tolerance: 0.01 });
    expect(parts.map(({ materials }) => materials[0])).toEqual(['a', 'a', 'a', 'c', 'c']);
    expect(notes).toEqual(['a: 2 materials are one.', 'c: 2 materials are one.']);
    const { parts: some } = await applied(made, 'merge-materials', { tolerance: 0.01, apart: ['c'] });
    expect(some.map(({ materials }) => materials[0])).toEqual(['a', 'a', 'a', 'c', 'd']);
  });
});
