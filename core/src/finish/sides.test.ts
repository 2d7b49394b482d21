// The sides that surfaces are seen from: what is open, what a finish keeps, what a step sets, and what a receiver gets.
import {
  BufferGeometry,
  CylinderGeometry,
  DoubleSide,
  FrontSide,
  PlaneGeometry,
  SphereGeometry,
  TorusGeometry,
} from 'three';
import type { Mesh as ThreeMesh, MeshStandardMaterial } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { isClosed } from '../mesh/mass.ts';
import { massProperties } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { seenFromBehind } from '../scene/fromBehind.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene } from '../scene/types.ts';
import { checkSteps } from '../steps/kinds.ts';
import { boxMesh, squareMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { understoodX3d } from '../testing/secondX3d.ts';
import { sentTo } from '../testing/sent.ts';
import { withSides } from './sides.ts';

type Bare = Pick<Mesh, 'positions' | 'indices'>;
const bare = (made: BufferGeometry): Bare => ({
  positions: new Float32Array(made.getAttribute('position').array),
  indices: Uint32Array.from(made.index?.array ?? []),
});
const without = ({ positions, indices }: Bare, from: number, count: number): Bare => ({
  positions,
  indices: indices.filter((_, i) => Math.floor(i / 3) < from || Math.floor(i / 3) >= from + count),
});
const far = ({ positions, indices }: Bare): Bare => ({ positions: positions.map((value) => value + 300), indices });

describe('what is open', () => {
  const sphere = bare(new SphereGeometry(1, 32, 16));
  it.each([
    ['a ball', sphere],
    ['a ball far away', far(sphere)],
    ['a ring', bare(new TorusGeometry(2, 0.3, 12, 24))],
    ['a rod', bare(new CylinderGeometry(0.01, 0.01, 4, 12))],
    ['half a ball', bare(new SphereGeometry(1, 32, 16, 0, Math.PI))],
    ['a tube without ends', bare(new CylinderGeometry(1, 1, 3, 24, 1, true))],
    ['a sheet', bare(new PlaneGeometry(2, 1))],
    ['a sheet far away', far(bare(new PlaneGeometry(2, 1, 4, 4)))],
    ['a box without a lid', without(boxMesh(1, 2, 3), 4, 2)],
    ['a ball with a hole of four triangles', without(sphere, 300, 4)],
  ])('is told from sums over the faces as from its edges: %s', (_, mesh) => {
    expect(massProperties(mesh).isOpen).toBe(!isClosed(mesh));
  });
});

const sheet = squareMesh(2, 2);
/** Two sheets of one shape, seen from both sides and from one, and a closed box. */
async function sheets() {
  const made = await sceneWith([
    { name: 'Sail', mesh: sheet, materials: ['canvas'] },
    { name: 'Awning', mesh: sheet, materials: ['tin'] },
    { name: 'Post', mesh: boxMesh(1, 1, 1), materials: ['tin'] },
  ]);
  made.scene.materials.canvas = { ...NO_MATERIAL, id: 'canvas', name: 'Canvas', doubleSided: true };
  return made;
}
const names = ({ nodes }: Scene, rows: readonly number[]) => rows.map((row) => nodes.text('name', row));
const behind = (scene: Scene) => names(scene, seenFromBehind(scene));
const after = async (made: Awaited<ReturnType<typeof sheets>>, ...steps: object[]) => {
  const list = checkSteps(steps.map((step, i) => ({ id: `${i}`, on: true, selector: { by: 'all' }, ...step })));
  return (await evaluate(made.scene, 'k', list, memorySurroundings({ blobs: made.blobs }))).scene;
};
const shown = (scene: Scene) =>
  Object.fromEntries(scene.nodes.map(({ name, materials }) => [name, materials.map((id) => scene.materials[id].doubleSided ?? false)])); // prettier-ignore

describe('a finish', () => {
  const give = (material: string, own?: object[]) => ({
    kind: 'finishes',
    parameters: { rules: [{ which: { by: 'all' }, material }], ...(own ? { own } : {}) },
  });
  const mine = (doubleSided?: boolean) => ({
    material: { ...NO_MATERIAL, id: 'mine:a', name: 'A', origin: 'library', ...(doubleSided === undefined ? {} : { doubleSided }) },
    textures: [],
  }); // prettier-ignore

  it('of the library leaves the sides that a part had', async () => {
    const scene = await after(await sheets(), give('lib:aluminium'), give('lib:cast-iron'));
    expect(shown(scene)).toEqual({ Sail: [true], Awning: [false], Post: [false] });
    expect(scene.nodes.map(({ materials }) => materials[0])).toEqual(['lib:cast-iron~both', 'lib:cast-iron', 'lib:cast-iron']); // prettier-ignore
    expect(scene.materials['lib:cast-iron~both'].name).toBe('Cast iron, dark, both sides');
  });

  it.each([
    [undefined, { Sail: [true], Awning: [false], Post: [false] }],
    [true, { Sail: [true], Awning: [true], Post: [true] }],
    [false, { Sail: [false], Awning: [false], Post: [false] }],
  ])('of one’s own sets them where it says so: %s', async (says, sides) => {
    expect(shown(await after(await sheets(), give('mine:a', [mine(says)])))).toEqual(sides);
  });

  it('painted on a face keeps them too', async () => {
    const face = { on: '/Sail', at: [0.7, 0, 0.4], normal: [0, 1, 0], angle: 0.3, material: 'lib:cast-iron' };
    const scene = await after(await sheets(), { kind: 'faces', parameters: { faces: [face] } });
    expect(shown(scene).Sail.at(-1)).toBe(true);
  });
});

describe('the step', () => {
  const both = { kind: 'sides', parameters: { sides: 'both', of: 'open' } };
  it('shows open parts from both sides, before and after a finish, and back', async () => {
    const made = await sheets();
    expect(behind(made.scene)).toEqual(['Awning']);
    const finish = { kind: 'finishes', parameters: { rules: [{ which: { by: 'all' }, material: 'lib:cast-iron' }] } };
    for (const steps of [[both], [both, finish], [finish, both]]) {
      const scene = await after(made, ...steps);
      expect(behind(scene)).toEqual([]);
      expect(shown(scene)).toEqual({ Sail: [true], Awning: [true], Post: [false] });
    }
    const back = await after(made, both, { kind: 'sides', parameters: { sides: 'one', of: 'every' } });
    expect(behind(back)).toEqual(['Sail', 'Awning']);
    expect(Object.keys(back.materials).filter((id) => /~.*~/.test(id))).toEqual([]);
  });

  it('gives what has no material one, white where vertices have colours of their own', async () => {
    const coloured = { ...sheet, colours: new Float32Array((sheet.positions.length / 3) * 4).fill(0.5) };
    const made = await sceneWith([{ name: 'Scan', mesh: coloured }, { name: 'Sheet', mesh: sheet }]); // prettier-ignore
    expect(behind(made.scene)).toEqual(['Scan', 'Sheet']);
    const scene = await after(made, both);
    expect(behind(scene)).toEqual([]);
    const [scan, plain] = scene.nodes.map(({ materials: [id] }) => scene.materials[id]);
    expect([scan.baseColor, plain.baseColor]).toEqual([[1, 1, 1], NO_MATERIAL.baseColor]);
  });

  it('knows what is turned inside out', async () => {
    const box = boxMesh(1, 1, 1);
    const turned = { ...box, indices: box.indices.map((_, i) => box.indices[i - (i % 3) + ((3 - (i % 3)) % 3)]) };
    expect(behind((await sceneWith([{ name: 'Box', mesh: box }, { name: 'Turned', mesh: turned }])).scene)).toEqual(['Turned']); // prettier-ignore
  });

  it('names a variant once, whichever way it came', () => {
    const tin = { ...NO_MATERIAL, id: 'tin', name: 'Tin' };
    const [two] = [withSides(tin, 'both')];
    expect(withSides(tin, 'one')).toBe(tin);
    expect(withSides(withSides(two, 'one'), 'both')).toEqual(two);
  });
});

describe('a receiver', () => {
  it('of glTF has them as they were sent, and the read-back looks', async () => {
    const made = await sheets();
    const { output, readBack } = await sentTo(made.scene, made.blobs);
    expect(readBack.holds).toBe(true);
    const { scene } = await new GLTFLoader().parseAsync(output.files[0].bytes.slice().buffer, '');
    const sides: Record<string, unknown> = {};
    scene.traverse((part) => {
      const { material } = part as ThreeMesh<BufferGeometry, MeshStandardMaterial>;
      if (material) sides[part.name] = material.side;
    });
    expect(sides).toEqual({ Sail: DoubleSide, Awning: FrontSide, Post: FrontSide });
  });

  it('of X3D has one shape once for each, as ISO/IEC 19775-1 says it of the geometry: solid', async () => {
    const made = await sheets();
    const { output } = await sentTo(made.scene, made.blobs, { format: 'x3d' });
    const { document, warnings } = understoodX3d(output.files);
    expect(warnings).toEqual([]);
    const sets = [...document.querySelectorAll('IndexedTriangleSet')].map((set) => set.getAttribute('solid') ?? 'true');
    expect(sets.map((text) => text.toLowerCase())).toEqual(['false', 'true', 'true']);
  });
});
