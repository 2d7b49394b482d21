// Steps that decide what is taken of a source and how large it is: leave out, unit, turn of what stands upright already.
import { describe, expect, it } from 'vitest';
import { applyStep } from './kind.ts';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/select.ts';
import { readSource } from '../read/readSource.ts';
import { mergeScenes } from '../scene/merge.ts';
import { hashData } from '../scene/hash.ts';
import type { Scene } from '../scene/types.ts';
import { fileOf, modelOf, readAll, readOnce } from '../testing/reading.ts';
import { startKernel } from '../testing/solids.ts';
import { exactBounds } from '../scene/exactBounds.ts';
import type { Step } from './kinds.ts';
import { leaveOutStep } from './leaveOut.ts';
import { chordFor, tessellateStep } from './tessellate.ts';
import { upStep } from './up.ts';
import { plainNode } from '../scene/nodes.ts';
import { nodeTable } from '../scene/nodeWriter.ts';

const step = (kind: string, parameters: object, selector: Selector = { by: 'all' }): Step => ({
  id: kind,
  kind,
  on: true,
  selector,
  parameters,
});

const SHELF = `v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\no Shelf\ng boards\nf 1 2 3 4\ng pins\nf 1 2 3\no Box\nf 2 3 4\n`;

async function evaluated(scene: Scene, blobs: MemoryBlobs, steps: Step[]) {
  return evaluate(scene, hashData(scene), steps, memorySurroundings({ blobs }));
}

const size = async (scene: Scene, blobs: MemoryBlobs) => {
  const box = await exactBounds(scene, blobs);
  return box?.max.map((high, axis) => high - box.min[axis]);
};

describe('leaving out', () => {
  it('takes away what the rule names, with all below, and assemblies that held nothing else', async () => {
    const { scene } = await readAll(fileOf('shelf.obj', SHELF));
    const names = (selector: Selector) =>
      applyStep(leaveOutStep, scene, select(scene, selector), {}, () => undefined).scene.nodes.map(({ name }) => name);
    expect(names({ by: 'name', pattern: 'Shelf' })).toEqual(['Box']);
    expect(names({ by: 'name', pattern: 'pins' })).toEqual(['Shelf', 'boards', 'Box']);
    expect(
      names({
        by: 'or',
        of: [
          { by: 'name', pattern: 'pins' },
          { by: 'name', pattern: 'boards' },
        ],
      }),
    ).toEqual(['Box']);
    expect(names({ by: 'name', pattern: 'nothing' })).toHaveLength(4);
  });

  it('takes one storey of a building, by class and by key', async () => {
    const { scene, blobs } = await readOnce('house.ifc');
    const upper = scene.nodes.filter((node) => node.class === 'IfcBuildingStorey')[1];
    const { scene: ground } = await evaluated(scene, blobs, [
      step(
        'leave-out',
        {},
        {
          by: 'and',
          of: [
            { by: 'source', sources: ['s'] },
            {
              by: 'or',
              of: [
                { by: 'picked', keys: [upper.key] },
                { by: 'class', classes: ['IfcFurnishingElement'] },
              ],
            },
          ],
        },
      ),
    ]);
    expect(
      ground.nodes.some((node) => node.class === 'IfcFurnishingElement' || node.key.startsWith(`${upper.key}/`)),
    ).toBe(false);
    expect(ground.nodes.filter((node) => node.class === 'IfcDoor')).toHaveLength(5);
    expect(ground.nodes.length).toBeLessThan(scene.nodes.length);
  });

  it('finds elements by what their properties say', async () => {
    const { scene } = await readOnce('house.ifc');
    const light = select(scene, { by: 'property', name: 'Material', value: 'Leichtbeton*' });
    expect(light.size).toBeGreaterThan(3);
    for (const id of light)
      expect(scene.nodes.find((node) => node.id === id)?.properties?.Material).toMatch(/^Leichtbeton/);
  });
});

describe('the unit of a source', () => {
  it('makes a mesh read in metres 25.4 thousandths as large when it was inches', async () => {
    const { scene, blobs } = await readAll(fileOf('shelf.obj', SHELF));
    const { scene: next, reports } = await evaluated(scene, blobs, [
      step('unit', { factor: 0.0254, reason: 'read in inch' }),
    ]);
    expect(await size(next, blobs)).toEqual([0.0254, 0.0254, 0].map((side) => expect.closeTo(side, 7) as number));
    expect(reports[0].pending).toBe(0);
    const figures = Object.values(next.meshes).find(({ area }) => Math.abs(area - 0.0254 ** 2) < 1e-9);
    expect(figures).toBeDefined();
  });

  it('waits in the browser for what only the server can scale', async () => {
    const { scene } = await readAll(fileOf('shelf.obj', SHELF));
    const { unitStep } = await import('./unit.ts');
    const all = select(scene, { by: 'all' });
    const outcome = applyStep(unitStep, scene, all, { factor: 2, reason: '' }, () => undefined);
    expect(outcome.pending).toBe(3);
    expect(outcome.scene.nodes.every((node) => !node.mesh)).toBe(true);
    expect(unitStep.work?.(scene, all, { factor: 2, reason: '' })).toHaveLength(3);
    expect(applyStep(unitStep, scene, all, { factor: 1, reason: '' }, () => undefined).scene).toBe(scene);
  });

  it('scales solids before they are tessellated, so that the chord deviation is meant for the true size', async () => {
    await startKernel(loadKernel);
    const { bytes } = modelOf('screw.step');
    const blobs = new MemoryBlobs();
    const scene = await (await readSource({ name: 'screw.step', bytes }, 's')).build(blobs);
    const limits = { chord: 0.0001, angle: 0.5, preset: 'own' };
    const plain = await evaluated(scene, blobs, [step('tessellate', limits)]);
    const large = await evaluated(scene, blobs, [
      step('unit', { factor: 25.4, reason: '' }),
      step('tessellate', limits),
    ]);
    const [a, b] = [await size(plain.scene, blobs), await size(large.scene, blobs)];
    // Round outlines fall short by up to the chord deviation.
    a?.forEach((side, axis) => expect(Math.abs((b?.[axis] ?? 0) / side / 25.4 - 1)).toBeLessThan(0.01));
    const triangles = (of: Scene) => Object.values(of.meshes).reduce((sum, figures) => sum + figures.triangles, 0);
    // The same limit on a part 25 times as large needs more triangles.
    expect(triangles(large.scene)).toBeGreaterThan(triangles(plain.scene));
  });
});

describe('a chord deviation by the size of each part', () => {
  const info = (extent: number) => ({ text: 't', bytes: 1, faces: 1, entity: '#1', name: '', extent });
  const byShare = { chord: 0.0002, angle: 0.3, preset: 'own', share: 0.001, least: 0.00005, most: 0.001 };

  it('follows the size between floor and ceiling', () => {
    // A thousandth of 0.2 m; of a bolt it would be 5 µm, of a tower 30 mm.
    expect(chordFor(byShare, info(0.2))).toBeCloseTo(0.0002, 9);
    expect(chordFor(byShare, info(0.005))).toBe(0.00005);
    expect(chordFor(byShare, info(30))).toBe(0.001);
    expect(chordFor({ chord: 0.0002, angle: 0.3, preset: 'near' }, info(30))).toBe(0.0002);
  });

  it('is checked, said in words, and leaves the keys of plain limits as they were', () => {
    const { schema, summary } = tessellateStep;
    expect(schema.isValidSync(byShare)).toBe(true);
    expect(schema.isValidSync({ ...byShare, most: 0.00001 })).toBe(false);
    expect(schema.isValidSync({ ...byShare, share: 0.5 })).toBe(false);
    expect(summary(byShare)).toContain('% of size');
    expect(schema.isValidSync({ chord: 0.0002, angle: 0.3, preset: 'near' })).toBe(true);
  });

  it('gives a small part fewer triangles than its own share alone would', async () => {
    await startKernel(loadKernel);
    const { bytes } = modelOf('as1-tu-203.stp');
    const blobs = new MemoryBlobs();
    const scene = await (await readSource({ name: 'a.stp', bytes }, 's')).build(blobs);
    const count = async (parameters: object) => {
      const { scene: made } = await evaluated(scene, blobs, [
        step('tessellate', { ...byShare, angle: 1.5, ...parameters }),
      ]);
      return Object.values(made.meshes).reduce((sum, figures) => sum + figures.triangles, 0);
    };
    expect(await count({ least: 0.001, most: 0.001 })).toBeLessThan(await count({ least: 0.00001, most: 0.001 }));
  });
});

describe('turning', () => {
  it('turns what lies and leaves alone what stands', async () => {
    const lying = (
      await readAll(
        fileOf(
          'a.stl',
          'solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 0 2\nendloop\nendfacet\nendsolid a\n',
        ),
      )
    ).scene;
    const standing = (await readAll(fileOf('b.obj', SHELF))).scene;
    const both = mergeScenes([
      {
        ...lying,
        sources: [{ ...lying.sources[0], id: 'l' }],
        nodes: nodeTable(lying.nodes.map((node) => ({ ...plainNode(node), source: 'l' }))),
      },
      standing,
    ]);
    const { scene } = await evaluated(both, new MemoryBlobs(), [step('turn', { direction: 'z-to-y' })]);
    expect(scene.nodes.at(0)!.transform).not.toEqual(both.nodes.at(0)!.transform);
    expect([...scene.nodes].slice(1).map(({ transform }) => transform)).toEqual(
      [...both.nodes].slice(1).map(({ transform }) => transform),
    );
    expect(scene.sources.map(({ up }) => up)).toEqual(['y', 'y']);
  });
});

describe('which axis is up', () => {
  /** A post of 1 by 2 by 3 along x, y and z, its foot at the origin: which way it stands shows in its box. */
  const POST =
    'v 0 0 0\nv 1 0 0\nv 1 2 0\nv 0 2 0\nv 0 0 3\nv 1 0 3\nv 1 2 3\nv 0 2 3\no Post\nf 1 2 3 4\nf 5 6 7 8\nf 1 2 6 5\n';
  const stood = async (axis: string) => {
    const { scene, blobs } = await readAll(fileOf('post.obj', POST));
    const { scene: made } = await evaluated(scene, blobs, [
      step('up', { axis }),
      step('turn', { direction: 'z-to-y' }),
    ]);
    const box = await exactBounds(made, blobs);
    return { up: made.sources[0].up, min: box?.min.map(Math.round), max: box?.max.map(Math.round) };
  };

  it.each([
    // Received as y up: 2 high, and so it stays.
    ['y', [0, 0, 0], [1, 2, 3]],
    // Really z up: a quarter about x; what was 3 along z is now the height.
    ['z', [0, 0, -2], [1, 3, 0]],
    ['x', [-3, 0, -2], [0, 1, 0]],
    ['-x', [0, -1, -2], [3, 0, 0]],
    // On its head: half a turn.
    ['-y', [0, -2, -3], [1, 0, 0]],
    ['-z', [0, -3, 0], [1, 0, 2]],
  ])('%s: the part stands from %j to %j, y up in the end', async (axis, min, max) => {
    const found = await stood(axis);
    const plain = (list: readonly number[] | undefined) => list?.map((value) => value + 0);
    expect({ up: found.up, min: plain(found.min), max: plain(found.max) }).toEqual({ up: 'y', min, max });
  });

  it('concerns the sources that are named, and refuses what is no axis', async () => {
    const { scene } = await readAll(fileOf('post.obj', POST));
    const { scene: same, changed } = applyStep(upStep, scene, new Set(), { axis: 'z' }, () => undefined);
    expect([changed, same.sources[0].up]).toEqual([0, 'y']);
    expect(() => upStep.schema.validateSync({ axis: 'w' }, { strict: true })).toThrow();
  });
});
