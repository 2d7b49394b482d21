// Joined meshes beside what three.js merges; volumes and areas by what is known of boxes.
import { BufferAttribute, BufferGeometry, Matrix4 } from 'three';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { figuresOf, massProperties, unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { joined } from '../mesh/join.ts';
import { split } from '../mesh/split.ts';
import { packMesh } from '../mesh/mesh.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, IDENTITY, translation } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { takeOff } from '../scene/facts.ts';
import { worldBox } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import { ballMesh, boxMesh, moved } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { randomTree } from '../testing/trees.ts';
import { stepKind } from './kinds.ts';
import type { Step } from './kinds.ts';

const TURNED = composed([3, -2, 5], [0.1825742, 0.3651484, 0.5477226, 0.7302967], [1, 1, 1]);
const MIRRORED: Matrix = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 4, 0, 0, 1];

async function made(tree: PartSpec[], kind: string, parameters: object, selector: Step['selector'] = { by: 'all' }) {
  const { scene, blobs } = await sceneWith(tree);
  return made_(scene, blobs, kind, parameters, selector);
}
async function made_(scene: Scene, blobs: Awaited<ReturnType<typeof sceneWith>>['blobs'], kind: string, parameters: object, selector: Step['selector'] = { by: 'all' }) {
  const step: Step = { id: 'x', kind, on: true, selector, parameters };
  const { scene: after, reports } = await evaluate(scene, 'k', [step], memorySurroundings({ blobs }));
  return { before: scene, after, report: reports[0], blobs };
} // prettier-ignore

describe('joined meshes', () => {
  const pieces = [
    { mesh: boxMesh(1, 2, 3, 2), place: TURNED, slots: [1, 0] },
    { mesh: ballMesh(0.5, 8), place: MIRRORED, slots: [2] },
    { mesh: boxMesh(1, 1, 1), place: composed([0, 9, 0], [0, 0, 0, 1], [1, 2, 0.5]), slots: [1] },
  ];

  it('have the triangles that three.js merges, in the slots that they are told', () => {
    const mesh = joined(pieces);
    const theirs = mergeGeometries(
      pieces.map(({ mesh: piece, place }) => {
        const geometry = new BufferGeometry();
        geometry.setAttribute('position', new BufferAttribute(piece.positions.slice(), 3));
        geometry.setAttribute('normal', new BufferAttribute(piece.normals.slice(), 3));
        return geometry.applyMatrix4(new Matrix4().fromArray(place));
      }),
    );
    expect([...mesh.positions].map((x) => x.toFixed(5))).toEqual([...theirs.getAttribute('position').array].map((x) => x.toFixed(5))); // prettier-ignore
    expect([...mesh.normals].map((x) => (x + 0).toFixed(4).replace('-0.0000', '0.0000'))).toEqual([...theirs.getAttribute('normal').array].map((x) => (x + 0).toFixed(4).replace('-0.0000', '0.0000'))); // prettier-ignore
    expect(figuresOf(mesh, 0).slots).toEqual([6, 6 + 12, pieces[1].mesh.indices.length / 3]);
  });

  it('hold the volumes of all, also of a mirrored one: nothing is inside out', () => {
    const volume = pieces.reduce((sum, { mesh }) => sum + massProperties(mesh).volume, 0);
    // Scaled by 1, 2 and a half.
    expect(massProperties(joined(pieces)).volume).toBeCloseTo(volume, 4);
  });

  it('keep pictures and colours where any has them, true sizes where nothing is stretched', () => {
    const plain = boxMesh(1, 1, 1);
    const vertices = plain.positions.length / 3;
    const laid: Mesh = { ...plain, uvs: [new Float32Array(vertices * 2).fill(0.5)], trueSize: true };
    const tinted: Mesh = { ...plain, colours: new Float32Array(vertices * 4).fill(0.25) };
    const mixed = joined([laid, tinted].map((mesh) => ({ mesh, place: IDENTITY, slots: [0] })));
    expect([mixed.uvs?.[0][0], mixed.uvs?.[0].at(-1), mixed.colours?.[0], mixed.colours?.at(-1)]).toEqual([0.5, 0, 1, 0.25]); // prettier-ignore
    expect(mixed.trueSize).toBeUndefined();
    const sized = (place: Matrix) => joined([{ mesh: laid, place, slots: [0] }]).trueSize;
    expect([sized(TURNED), sized(composed([0, 0, 0], [0, 0, 0, 1], [2, 2, 2]))]).toEqual([true, undefined]);
  });
});

describe('join', () => {
  const bolt = boxMesh(0.1, 0.1, 0.1);
  const tree: PartSpec[] = [
    { name: 'Unit', transform: TURNED, children: [
      { name: 'A', mesh: bolt, materials: ['#111111'], layer: 'L', transform: translation([1, 0, 0]) },
      { name: 'B', mesh: bolt, materials: ['#222222'], layer: 'L', transform: translation([2, 0, 0]) },
      { name: 'Set', children: [
        { name: 'C', mesh: boxMesh(1, 1, 1, 2), materials: ['#222222', '#333333'], transform: MIRRORED },
        { name: 'D', mesh: bolt, materials: ['#111111'], transform: translation([5, 0, 0]) },
      ] },
    ] },
  ]; // prettier-ignore

  it('makes one part under what was above all, with each material once, where they stood', async () => {
    const { before, after, blobs } = await made(tree, 'join', { name: '{parent}, joined', each: 'together' });
    const [part] = after.nodes.filter(({ kind }) => kind === 'part');
    expect(part.name).toBe('Unit, joined');
    expect(after.nodes.row(part.parent ?? -1).name).toBe('Unit');
    expect(part.materials).toEqual(['#111111', '#222222', '#333333']);
    expect(after.meshes[part.mesh ?? ''].slots).toEqual([24, 12 + 6, 6]);
    // By their vertices: boxes of turned parts are larger than what is in them.
    const hashes = [...Object.keys(before.meshes), part.mesh ?? ''];
    const meshes = new Map(await Promise.all(hashes.map(async (hash) => [hash, unpackMesh(await blobs.get(hash))] as const))); // prettier-ignore
    const [a, b] = [before, after].map((scene) => worldBox(scene, undefined, (hash) => meshes.get(hash)?.positions));
    for (const end of ['min', 'max'] as const) a?.[end].forEach((value, axis) => expect(b?.[end][axis]).toBeCloseTo(value, 5)); // prettier-ignore
    expect(takeOff(after).triangles).toBe(takeOff(before).triangles);
    // Its pivot lies in the middle of its base.
    const own = factsOf(after).world(part.id);
    expect(own[13]).toBeCloseTo(worldBox(before)?.min[1] ?? NaN, 9);
  });

  it('in each assembly makes one of each, with the layer that all had', async () => {
    const { after } = await made(tree, 'join', { name: '{parent}', each: 'assembly' });
    const parts = after.nodes.filter(({ kind }) => kind === 'part');
    expect(parts.map(({ name, layer }) => [name, layer])).toEqual([['Unit', 'L'], ['Set', null]]); // prettier-ignore
    expect(new Set(parts.map(({ key }) => key)).size).toBe(2);
  });

  it('says beforehand how many shapes are no longer shared', async () => {
    const { scene } = await sceneWith(tree);
    const said = (selector: Step['selector']) => stepKind('join').beforehand?.(scene, select(scene, selector), stepKind('join').defaults); // prettier-ignore
    expect(said({ by: 'all' })).toEqual(['3 of 4 parts share their shape with others, and give that up.']);
    expect(said({ by: 'name', pattern: 'C' })).toEqual(['Two parts with triangles, or more, can be joined.']);
  });

  it('random trees keep their take-off, and their box as far as single precision goes', async () => {
    const { scene: before, blobs } = await sceneWith([{ name: 'Cube', mesh: boxMesh(1, 2, 3), materials: ['#112233'] }]); // prettier-ignore
    for (let seed = 1; seed <= 4; seed++) {
      const { scene } = await randomTree(seed, 60);
      const { after } = await made_({ ...scene, meshes: before.meshes }, blobs, 'join', { name: 'All', each: 'together' }); // prettier-ignore
      const [part, ...others] = after.nodes.filter(({ kind, mesh }) => kind === 'part' && mesh);
      expect(others).toEqual([]);
      expect(after.meshes[part.mesh ?? ''].triangles).toBe(takeOff(scene).triangles);
      const mesh = unpackMesh(await blobs.get(part.mesh ?? ''));
      const wanted = scene.nodes.filter(({ mesh: own }) => own).reduce((sum, { id }) => sum + 6 * Math.abs(det(factsOf(scene).world(id))), 0); // prettier-ignore
      const volume = massProperties(mesh).volume * det(factsOf(after).world(part.id));
      expect(Math.abs(volume / wanted - 1)).toBeLessThan(1e-4);
    }
  });
});

const det = (m: Matrix) => m[0] * (m[5] * m[10] - m[9] * m[6]) - m[4] * (m[1] * m[10] - m[9] * m[2]) + m[8] * (m[1] * m[6] - m[5] * m[2]); // prettier-ignore

describe('split', () => {
  const three = joined([
    { mesh: boxMesh(1, 1, 1), place: translation([0, 0, 0]), slots: [0] },
    { mesh: moved(boxMesh(1, 1, 1), 3, 0, 0), place: IDENTITY, slots: [1] },
    { mesh: ballMesh(0.5, 6), place: translation([9, 0, 0]), slots: [1] },
  ]);

  it('gives back what was joined', async () => {
    const { pieces } = await split({ mesh: packMesh(three), by: 'pieces' });
    expect(pieces.map(({ figures, slots }) => [figures.triangles, slots])).toEqual([
      [12, [0]],
      [12, [1]],
      [ballMesh(0.5, 6).indices.length / 3, [1]],
    ]);
    expect(pieces[1].figures.bounds).toEqual({ min: [2.5, -0.5, -0.5], max: [3.5, 0.5, 0.5] });
    expect(pieces[0].figures.volume).toBeCloseTo(1, 6);
    expect(pieces[0].figures.edges).toBe(boxMesh(1, 1, 1).edges.length / 6);
  });

  it('by material keeps together what has one', async () => {
    const { pieces } = await split({ mesh: packMesh(three), by: 'material' });
    expect(pieces.map(({ slots }) => slots)).toEqual([[0], [1]]);
    expect(pieces[1].figures.bounds.max[0]).toBeCloseTo(9.5, 6);
  });

  it('makes an assembly of each part, and equal parts share their pieces', async () => {
    const part = (name: string, at: number): PartSpec => ({ name, mesh: three, materials: ['#111111', '#222222'], layer: 'L', transform: composed([at, 0, 0], [0, 0, 1, 0], [1, 1, 1]) }); // prettier-ignore
    const { before, after, report } = await made([part('A', 0), part('B', 40)], 'split', { by: 'pieces' });
    expect(report.problems).toEqual([]);
    const parts = after.nodes.filter(({ kind }) => kind === 'part');
    expect(parts.map(({ name }) => name)).toEqual(['A, 1', 'A, 2', 'A, 3', 'B, 1', 'B, 2', 'B, 3']);
    expect(new Set(parts.map(({ mesh }) => mesh)).size).toBe(3);
    expect(parts[1].materials).toEqual(['#222222']);
    expect(parts.every(({ layer }) => layer === 'L')).toBe(true);
    expect(takeOff(after).triangles).toBe(takeOff(before).triangles);
    expect(worldBox(after)).toEqual(worldBox(before));
    expect(new Set(after.nodes.map(({ key }) => key)).size).toBe(after.nodes.length);
    // Nothing is said to be missing of the rows that have become assemblies.
    expect(report.pending).toBe(0);
  });

  it('leaves alone what is one piece, and refuses a cloud of loose triangles in words', async () => {
    const { before, after } = await made([{ name: 'A', mesh: boxMesh(1, 1, 1) }], 'split', { by: 'pieces' });
    expect(after.nodes.length).toBe(before.nodes.length);
    const loose = { ...boxMesh(1, 1, 1) };
    const count = 5001;
    loose.positions = Float32Array.from({ length: count * 9 }, (_, i) => Math.floor(i / 9) + ((i * 7) % 5) * 0.01);
    loose.normals = new Float32Array(count * 9);
    loose.indices = Uint32Array.from({ length: count * 3 }, (_, i) => i);
    loose.groups = [{ slot: 0, start: 0, count: count * 3 }];
    const { report } = await made([{ name: 'Dust', mesh: loose }], 'split', { by: 'pieces' });
    expect(report.problems).toEqual(['Dust: It falls into 5001 pieces that do not touch; at most 5000 are made.']);
  });
});
