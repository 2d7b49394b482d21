// Structure is changed, places are not: worlds against those of three.js' own tree, on random trees.
import { Object3D } from 'three';
import { describe, expect, it } from 'vitest';
import { applyChange, inverse } from '../scene/change.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, IDENTITY, translation } from '../scene/matrix.ts';
import { PART } from '../scene/nodes.ts';
import { plainScene } from '../scene/plain.ts';
import { worldBox } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/select.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { farthestBetween, farthestOff, randomTree } from '../testing/trees.ts';
import { applyStep } from './kind.ts';
import { newStep, stepKind } from './kinds.ts';

function applied(scene: Scene, kind: string, parameters: object, selector: Selector = { by: 'all' }) {
  const spec = stepKind(kind);
  return applyStep(spec, scene, select(scene, selector, spec.themselves?.(parameters)), parameters);
}

/** Names as an outline: `Unit(Case Bolt)`. */
function outline(scene: Scene, parent: number | null = null): string {
  return [...factsOf(scene).childrenOf(parent)]
    .map((row) => {
      const inside = outline(scene, row);
      return scene.nodes.text('name', row) + (inside ? `(${inside})` : '');
    })
    .join(' ');
}

const partsOf = ({ nodes }: Scene) => nodes.filter(({ kind }) => kind === 'part').map(({ id }) => id);
/** Paths in the source, as keys. */
const keyOf = (path: string) => `/${path}`;
const picked = (...paths: string[]): Selector => ({ by: 'picked', keys: paths.map(keyOf) });
const cube = boxMesh(1, 1, 1);
const group = (name: string, ...children: PartSpec[]): PartSpec => ({ name, children, transform: composed([1, 2, 3], [0, 0, Math.SQRT1_2, Math.SQRT1_2], [1, 1, 1]) }); // prettier-ignore
const part = (name: string, more: Partial<PartSpec> = {}): PartSpec => ({ name, mesh: cube, transform: translation([4, 5, 6]), ...more }); // prettier-ignore

describe('on random trees nothing moves, no instance is lost, and all of it can be taken back', () => {
  const STEPS: [kind: string, parameters: object][] = [
    ...['layer', 'material', 'class', 'storey', 'source', 'nothing', 'received'].map((by): [string, object] => ['regroup', { by }]),
    ['dissolve', { depth: 'one' }],
    ['dissolve', { depth: 'all' }],
    ['needless', { what: 'both', name: 'child' }],
    ['needless', { what: 'single', name: 'group' }],
    ['needless', { what: 'empty', name: 'child' }],
    ['attach', {}],
    ['group', { name: 'New', pivot: 'base-centre' }],
    ['pivot', { place: 'box-centre', of: 'assemblies' }],
    ['rename', { name: '{n}', of: 'parts' }],
  ]; // prettier-ignore
  it.each(STEPS)('%s %o', async (kind, parameters) => {
    for (let seed = 1; seed <= 6; seed++) {
      // Places of parts whose pivot is their own: what is above may be scaled unevenly too.
      const { scene, objects } = await randomTree(seed, 120, seed % 2 === 0);
      // Something was moved about before, so that rows hang under later ones.
      const first = applied(scene, 'regroup', { by: 'layer' }, { by: 'name', pattern: 'Part *5' }).scene;
      const { scene: after, change } = applied(first, kind, parameters);
      expect(partsOf(after)).toEqual(partsOf(scene));
      for (const row of partsOf(after)) expect(farthestOff(after, row, objects[row])).toBeLessThan(1e-9);
      expect(after.nodes.columns.mesh.slice(0, 120)).toEqual(scene.nodes.columns.mesh);
      // Each row is there once, and below something that is there.
      expect([...factsOf(after).order].sort((a, b) => a - b)).toEqual(after.nodes.map(({ id }) => id));
      const before = applyChange(after, inverse(change));
      expect(plainScene(before)).toEqual(plainScene(first));
    }
  });

  it('attach does what three.js does', async () => {
    for (let seed = 1; seed <= 6; seed++) {
      const { scene, objects } = await randomTree(seed);
      const { kind } = scene.nodes.columns;
      const to = [...factsOf(scene).order].findLast((row) => kind[row] !== PART) as number;
      const moved = partsOf(scene).slice(0, 20);
      const keys = moved.map((row) => scene.nodes.key(row));
      const { scene: after } = applied(scene, 'attach', { to: scene.nodes.key(to) }, { by: 'picked', keys });
      for (const row of moved) {
        objects[to].attach(objects[row]);
        expect(after.nodes.row(row).parent).toBe(to);
        objects[row].updateMatrix();
        expect(farthestBetween(after.nodes.place(row), objects[row].matrix.toArray())).toBeLessThan(1e-9);
      }
    }
  });

  it('there and back again is where it was, to 1e-12 of its size', async () => {
    const { scene } = await randomTree(9);
    const flat = applied(scene, 'regroup', { by: 'nothing' }).scene;
    const back = applied(flat, 'regroup', { by: 'received' }).scene;
    expect([...back.nodes.columns.parent]).toEqual([...scene.nodes.columns.parent]);
    for (const row of partsOf(scene)) expect(farthestBetween(back.nodes.place(row), scene.nodes.place(row))).toBeLessThan(1e-12 * 20); // prettier-ignore
  });
});

describe('group', () => {
  const tree = [group('Unit', part('Case'), group('Set', part('Bolt'), part('Nut'))), part('Stray')];

  it('puts rows under what is above all of them, with its pivot in the middle of their base', async () => {
    const { scene } = await sceneWith(tree);
    const { scene: after } = applied(scene, 'group', { name: 'Drive', pivot: 'base-centre' }, picked('Unit/Case', 'Unit/Set/Bolt')); // prettier-ignore
    expect(outline(after)).toBe('Unit(Set(Nut) Drive(Case Bolt)) Stray');
    const made = after.nodes.find(({ name }) => name === 'Drive')!;
    const box = worldBox(after, new Set(partsOf(after).filter((row) => after.nodes.row(row).parent === made.id)))!;
    const world = factsOf(after).world(made.id);
    [(box.min[0] + box.max[0]) / 2, box.min[1], (box.min[2] + box.max[2]) / 2].forEach((value, axis) =>
      expect(world[12 + axis]).toBeCloseTo(value, 9),
    );
  }); // prettier-ignore

  it('takes what is below a row with it, once', async () => {
    const { scene } = await sceneWith(tree);
    const { scene: after } = applied(scene, 'group', { name: 'All', pivot: 'parent' }, picked('Unit/Set', 'Unit/Set/Nut', 'Stray')); // prettier-ignore
    expect(outline(after)).toBe('Unit(Case) All(Set(Bolt Nut) Stray)');
  });

  it('keeps its key when it is called otherwise, and two of one name have two keys', async () => {
    const { scene } = await sceneWith(tree);
    const step = newStep('abc', 'group', picked('Stray'), { name: 'One', pivot: 'parent' });
    const made = (parameters: object) => applied(scene, 'group', parameters, step.selector).scene.nodes.at(-1)?.key;
    expect(made(step.parameters)).toBe(made({ ...step.parameters, name: 'Other' }));
    const twice = applied(applied(scene, 'group', { name: 'A', pivot: 'parent' }, picked('Stray')).scene, 'group', { name: 'A', pivot: 'parent' }, picked('Unit')).scene; // prettier-ignore
    expect(new Set(twice.nodes.map(({ key }) => key)).size).toBe(twice.nodes.length);
  });

  it('refuses rows of several sources, in words', async () => {
    const { scene } = await sceneWith(tree);
    const { columns, tables } = scene.nodes;
    const words = tables.words.with(['t']);
    const source = columns.source.map((word, row) => (scene.nodes.text('name', row) === 'Stray' ? words.length - 1 : word)); // prettier-ignore
    const nodes = new (scene.nodes.constructor as new (...a: unknown[]) => Scene['nodes'])({ ...columns, source }, { ...tables, words }); // prettier-ignore
    const two = { ...scene, nodes, sources: [...scene.sources, { ...scene.sources[0], id: 't', name: 'other.ifc' }] };
    const { scene: after, problems } = applied(two, 'group', { name: 'G', pivot: 'parent' });
    expect(after).toBe(two);
    expect(problems).toEqual([
      'These rows come from 2 sources (test.stp, other.ifc). A group belongs to one: make a group in each.',
    ]);
  });
});

describe('attach', () => {
  const tree = [group('Unit', group('Set', part('Bolt'))), part('Stray')];

  it('takes a stray part to its assembly', async () => {
    const { scene } = await sceneWith(tree);
    expect(outline(applied(scene, 'attach', { to: keyOf('Unit/Set') }, picked('Stray')).scene)).toBe(
      'Unit(Set(Bolt Stray))',
    );
    expect(outline(applied(scene, 'attach', {}, picked('Unit/Set')).scene)).toBe('Unit Set(Bolt) Stray');
  });

  it.each([
    ['Unit', 'Unit/Set', 'Unit cannot be put under Set, which is below it.'],
    ['Unit', 'Unit', 'Unit cannot be put under itself.'],
    ['Stray', 'Gone/away', 'The new parent is no longer there: /Gone/away.'],
  ])('of %s to %s says why not, and changes nothing', async (key, to, words) => {
    const { scene } = await sceneWith(tree);
    const { scene: after, problems } = applied(scene, 'attach', { to: keyOf(to) }, picked('Stray', key));
    expect(after).toBe(scene);
    expect(problems).toEqual([words]);
  });

  it('leaves what stands under a scale of zero, which has no way back', async () => {
    const flat = { ...group('Flat', part('Label')), transform: composed([0, 0, 0], [0, 0, 0, 1], [1, 0, 1]) };
    const { scene } = await sceneWith([flat, part('Stray')]);
    const { scene: after, problems } = applied(scene, 'attach', { to: keyOf('Flat') }, picked('Stray'));
    expect(after).toBe(scene);
    expect(problems).toEqual(['Stray stays where it is: something above it has a scale of zero.']);
  });
});

describe('dissolve and needless groups', () => {
  const tree = [
    group('Unit', group('Outer', group('Inner', part('Bolt'))), group('Pair', part('A'), part('B')), group('Hollow', group('Void'))),
    group('Nothing'),
  ]; // prettier-ignore
  it.each<[string, object, Selector, string]>([
    ['dissolve', { depth: 'one' }, picked('Unit/Outer'), 'Unit(Inner(Bolt) Pair(A B) Hollow(Void)) Nothing'],
    ['dissolve', { depth: 'all' }, picked('Unit'), 'Bolt A B Nothing'],
    ['needless', { what: 'both', name: 'child' }, { by: 'all' }, 'Unit(Bolt Pair(A B))'],
    ['needless', { what: 'single', name: 'group' }, { by: 'all' }, 'Unit(Outer Pair(A B) Hollow) Nothing'],
    ['needless', { what: 'empty', name: 'child' }, { by: 'all' }, 'Unit(Outer(Inner(Bolt)) Pair(A B))'],
  ])('%s %o', async (kind, parameters, selector, wanted) => {
    const { scene } = await sceneWith(tree);
    expect(outline(applied(scene, kind, parameters, selector).scene)).toBe(wanted);
  });

  it('what moves by an animation stays, and is named', async () => {
    const { scene } = await sceneWith(tree);
    const { nodes } = scene;
    const row = factsOf(scene).rowOf(keyOf('Unit/Outer')) as number;
    const extras = nodes.columns.extras.slice();
    extras[row] = 1;
    const moving = { ...scene, nodes: new (nodes.constructor as new (...a: unknown[]) => Scene['nodes'])({ ...nodes.columns, extras }, { ...nodes.tables, extras: [{}, { motion: { rest: IDENTITY, tracks: { swing: 0 } } }] }) }; // prettier-ignore
    const { scene: after, problems } = applied(moving, 'needless', { what: 'both', name: 'child' });
    expect(outline(after)).toBe('Unit(Outer(Bolt) Pair(A B))');
    expect(problems).toEqual(['1 assembly stays, since what it holds moves by it: Outer.']);
  });
});

describe('regroup', () => {
  const tree = [
    group('Storey', part('Column', { layer: 'S-COLS', class: 'IfcColumn' }), part('Beam', { layer: 'S-BEAM', class: 'IfcBeam' })),
    group('Other', part('Second', { layer: 'S-COLS' }), part('Loose')),
  ]; // prettier-ignore
  it.each([
    ['layer', 'S-BEAM(Beam) S-COLS(Column Second) without layer(Loose)'],
    ['class', 'IfcBeam(Beam) IfcColumn(Column) without class(Second Loose)'],
    ['source', 'test.stp(Column Beam Second Loose)'],
    ['nothing', 'Column Beam Second Loose'],
    ['received', 'Storey(Column Beam) Other(Second Loose)'],
  ])('by %s', async (by, wanted) => {
    const { scene } = await sceneWith(tree);
    expect(outline(applied(scene, 'regroup', { by }).scene)).toBe(wanted);
  });

  it('of some leaves the others, and their assemblies', async () => {
    const { scene } = await sceneWith(tree);
    const cols: Selector = { by: 'layer', layers: ['S-COLS'] };
    const some = applied(scene, 'regroup', { by: 'layer' }, cols).scene;
    expect(outline(some)).toBe('Storey(Beam) Other(Loose) S-COLS(Column Second)');
    const back = applied(some, 'regroup', { by: 'received' }, { by: 'name', pattern: 'Second' }).scene;
    expect(outline(back)).toBe('Storey(Beam) Other(Second Loose) S-COLS(Column)');
  });

  it('by storey still knows it after the storeys were taken out', async () => {
    const storeys = [
      { ...group('Ground floor', part('Column'), part('Wall')), class: 'IfcBuildingStorey' },
      { ...group('Upper floor', group('Stair', part('Step'))), class: 'IfcBuildingStorey' },
    ];
    const { scene } = await sceneWith(storeys);
    const flat = applied(scene, 'regroup', { by: 'nothing' }).scene;
    expect(outline(flat)).toBe('Column Wall Step');
    expect(select(flat, { by: 'storey', storeys: ['Upper floor'] }).size).toBe(1);
    const again = applied(flat, 'regroup', { by: 'storey' }).scene;
    expect(outline(again)).toBe('Ground floor(Column Wall) Upper floor(Step)');
    expect(outline(applied(again, 'regroup', { by: 'received' }).scene)).toBe('Ground floor(Column Wall) Upper floor(Stair(Step))'); // prettier-ignore
  });
});

it('three.js has the measure of a tree that nobody touched', async () => {
  const { scene, objects, root } = await randomTree(3, 200, false);
  expect(root).toBeInstanceOf(Object3D);
  for (const [row, object] of objects.entries()) expect(farthestOff(scene, row, object)).toBeLessThan(1e-9);
});
