// Assemblies over several files: the two ways of the recommended practices for external references (documents of ISO 10303-41).
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { memorySurroundings } from '../../memoryStores.ts';
import { evaluate } from '../../preparation/evaluate.ts';
import { worldTransforms } from '../../scene/tree.ts';
import type { Scene } from '../../scene/types.ts';
import { fileOf, readAll, warningsOf } from '../../testing/reading.ts';
import { startKernel } from '../../testing/solids.ts';
import { StepText } from '../../testing/stepText.ts';
import { exactBounds } from '../../scene/exactBounds.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { plainNode } from '../../scene/nodes.ts';
import { nodeTable } from '../../scene/nodeWriter.ts';

const METRE = '(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.))';

/** A single part: a tetrahedron with a leg in the unit of the file. */
function partFile(name: string, leg: number, unit?: string): StepText {
  const step = new StepText(unit === 'inch' ? undefined : unit);
  const options = unit === 'inch' ? { context: step.newContext(step.inch()) } : {};
  step.product(name, [step.tetrahedron(leg).solid], options);
  return step;
}

/** An assembly that places each of the files at some millimetres along x. */
function mainFile(
  places: [file: string, x: number][],
  way: Parameters<StepText['external']>[2] = 'document reference',
): StepText {
  const step = new StepText();
  const unit = step.product('Rig');
  const products = new Map<string, ReturnType<StepText['product']>>();
  for (const [file, x] of places) {
    let product = products.get(file);
    if (!product) {
      product = step.product(file.replace(/\..*$/, ''));
      products.set(file, product);
      step.external(product, file, way);
    }
    step.place(unit, product, step.axis([x, 0, 0]));
  }
  return step;
}

const origins = (scene: Scene) => {
  const worlds = worldTransforms(scene);
  return scene.nodes
    .filter((node) => node.solid)
    .map((node) => Math.round((worlds.get(node.id)?.[12] ?? 0) * 1e6) / 1e3);
};

describe('an assembly over several files', () => {
  it.each(['document reference', 'associated documents'] as const)(
    'is put together by %s, shared parts shared',
    async (way) => {
      const main = mainFile(
        [
          ['wheel.stp', 0],
          ['wheel.stp', 250],
          ['axle.stp', 125],
        ],
        way,
      );
      const { scene, survey } = await readAll(
        fileOf('rig.stp', main.bytes(), {
          'parts/WHEEL.stp': partFile('wheel', 10).bytes(),
          'axle.stp': partFile('axle', 5).bytes(),
        }),
      );
      expect(scene.nodes.map(({ name, kind }) => [name, kind])).toEqual([
        ['Rig', 'assembly'],
        ['wheel', 'part'],
        ['wheel', 'part'],
        ['axle', 'part'],
      ]);
      expect(origins(scene)).toEqual([0, 250, 125]);
      expect(Object.keys(scene.solids)).toHaveLength(2);
      expect(survey.nodes.map(({ key }) => key)).toEqual(scene.nodes.map(({ key }) => key));
      expect(warningsOf(scene)).toEqual([]);
    },
  );

  it('keeps assemblies inside the parts, and files that refer on', async () => {
    const axle = mainFile([['bolt.stp', 7]]);
    const { scene } = await readAll(
      fileOf('rig.stp', mainFile([['axle.stp', 100]]).bytes(), {
        'axle.stp': axle.bytes(),
        'bolt.stp': partFile('bolt', 3).bytes(),
      }),
    );
    expect(scene.nodes.map(({ key }) => key)).toEqual(['/Rig', '/Rig/axle', '/Rig/axle/bolt']);
    expect(origins(scene)).toEqual([107]);
  });

  it('names a file that did not come along, and leaves its places as marked parts', async () => {
    const main = mainFile([
      ['wheel.stp', 0],
      ['gone.stp', 5],
      ['gone.stp', 9],
    ]);
    const { scene } = await readAll(fileOf('rig.stp', main.bytes(), { 'wheel.stp': partFile('wheel', 10).bytes() }));
    expect(scene.sources[0].warnings).toMatchObject([
      { code: 'missing-file', where: 'gone.stp', message: expect.stringContaining('2 places') as string },
    ]);
    expect(scene.nodes.filter(({ problem }) => problem).map(({ name, kind }) => [name, kind])).toEqual([
      ['gone', 'part'],
      ['gone', 'part'],
    ]);
    expect(scene.nodes.filter((node) => node.solid)).toHaveLength(1);
  });

  it('stops at an assembly that contains itself', async () => {
    const { scene } = await readAll(
      fileOf('a.stp', mainFile([['b.stp', 0]]).bytes(), {
        'b.stp': mainFile([
          ['a.stp', 0],
          ['c.stp', 4],
        ]).bytes(),
        'c.stp': partFile('c', 1).bytes(),
      }),
    );
    expect(scene.sources[0].warnings.some(({ message }) => message.includes('contains this file itself'))).toBe(true);
    expect(origins(scene)).toEqual([4]);
  });

  it('keeps the rest where one of the files is damaged', async () => {
    const { scene } = await readAll(
      fileOf(
        'rig.stp',
        mainFile([
          ['wheel.stp', 0],
          ['axle.stp', 8],
        ]).bytes(),
        { 'wheel.stp': 'not STEP at all', 'axle.stp': partFile('axle', 5).bytes() },
      ),
    );
    expect(scene.sources[0].warnings[0]).toMatchObject({ code: 'missing-file', where: 'wheel.stp' });
    expect(origins(scene)).toEqual([8]);
  });

  it('is one model in a zip: parts stand in it and not beside it', async () => {
    const zip = zipSync({
      'a-wheel.stp': partFile('a-wheel', 10).bytes(),
      'rig.stp': mainFile([['a-wheel.stp', 3]]).bytes(),
    });
    const { scene } = await readAll(fileOf('rig.zip', zip));
    expect(scene.nodes.map(({ key }) => key)).toEqual(['/Rig', '/Rig/a-wheel']);
  });

  it('has the same part in inch, millimetre and metre at the same size', async () => {
    await startKernel(loadKernel);
    // One inch is 25.4 mm (international yard and pound agreement, 1959).
    const main = mainFile([
      ['inch.stp', 0],
      ['mm.stp', 100],
      ['m.stp', 200],
    ]);
    const { scene, blobs } = await readAll(
      fileOf('rig.stp', main.bytes(), {
        'inch.stp': partFile('inch', 1, 'inch').bytes(),
        'mm.stp': partFile('mm', 25.4).bytes(),
        'm.stp': partFile('m', 0.0254, METRE).bytes(),
      }),
    );
    expect(scene.sources[0].units.sort()).toEqual(['inch', 'm', 'mm']);
    const limits = { chord: 0.001, angle: 0.5, preset: 'own' };
    const { scene: made } = await evaluate(
      scene,
      'k',
      [{ id: 't', kind: 'tessellate', on: true, selector: { by: 'all' }, parameters: limits }],
      memorySurroundings({ blobs }),
    );
    for (const node of made.nodes.filter(({ mesh }) => mesh)) {
      const box = await exactBounds(
        { ...made, nodes: nodeTable([{ ...plainNode(node), parent: null, transform: IDENTITY }]) },
        blobs,
      );
      for (let axis = 0; axis < 3; axis++) expect((box?.max[axis] ?? 0) - (box?.min[axis] ?? 0)).toBeCloseTo(0.0254, 6);
    }
  });
});
