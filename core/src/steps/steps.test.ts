import { describe, expect, it } from 'vitest';
import { applyStep } from './kind.ts';
import { IDENTITY, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { geometryTransform, worldBox, worldTransforms } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/select.ts';
import { boxMesh, moved } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { checkSteps, stepKind, STEP_KINDS } from './kinds.ts';
import { plainNode } from '../scene/nodes.ts';
import { nodeTable } from '../scene/nodeWriter.ts';
import { plainScene } from '../scene/plain.ts';

const QUARTER_ABOUT_Z: Matrix = [0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

const bolt: PartSpec = {
  name: 'Bolt',
  mesh: moved(boxMesh(0.02, 0.02, 0.06), 0, 0, 0.01),
  layer: 'FASTENERS',
  materials: ['#aaaaaa'],
};
const tree: PartSpec[] = [
  {
    name: 'Unit',
    transform: translation([1, 2, 3]),
    children: [
      { ...bolt, transform: translation([0.1, 0, 0.02]) },
      { ...bolt, transform: QUARTER_ABOUT_Z },
      {
        name: 'Case',
        mesh: moved(boxMesh(0.5, 0.4, 0.3, 2), 0.2, 0, 0),
        layer: 'MACHINE',
        materials: ['#112233', '#445566'],
      },
      { name: 'Marker', layer: 'MACHINE' },
    ],
  },
];

async function applied(kind: string, parameters: object, selector: Selector = { by: 'all' }) {
  const { scene } = await sceneWith(tree);
  const step = stepKind(kind);
  const nodes = select(scene, selector, step.themselves?.(parameters));
  const outcome = applyStep(step, scene, nodes, parameters, () => undefined);
  return { before: scene, ...outcome };
}

const boxOf = (scene: Scene, name: string) =>
  worldBox(scene, new Set(scene.nodes.filter((node) => node.name === name).map(({ id }) => id)));

/** World boxes of all parts, to see that nothing moved. */
const places = (scene: Scene) =>
  scene.nodes.filter((node) => node.mesh).map((node) => worldBox(scene, new Set([node.id])));

function expectSamePlaces(a: Scene, b: Scene): void {
  const [before, after] = [places(a), places(b)];
  before.forEach((box, i) => {
    for (let axis = 0; axis < 3; axis++) {
      expect(after[i]?.min[axis]).toBeCloseTo(box?.min[axis] as number, 9);
      expect(after[i]?.max[axis]).toBeCloseTo(box?.max[axis] as number, 9);
    }
  });
}

describe('pivot', () => {
  it.each([
    ['base-centre', 'parts'],
    ['box-centre', 'parts'],
    ['base-centre', 'assemblies'],
    ['box-centre', 'assemblies'],
  ])('at the %s of %s moves no geometry', async (place, of) => {
    const { before, scene, changed } = await applied('pivot', { place, of });
    expect(changed).toBeGreaterThan(0);
    expectSamePlaces(before, scene);
  });

  it('lies in the middle of the base: lowest along the axis that is up', async () => {
    const { scene } = await applied('pivot', { place: 'base-centre', of: 'parts' });
    const worlds = worldTransforms(scene);
    const node = scene.nodes.at(1)!;
    const pivot = transformPoint(worlds.get(node.id) as Matrix, [0, 0, 0]);
    // The source is z up: the bolt of 60 mm about (1.1, 2, 3.03) stands on z = 3.
    expect(pivot.map((v) => Number(v.toFixed(6)))).toEqual([1.1, 2, 3]);
  });

  it('follows the up axis after a turn', async () => {
    const { scene: turned } = await applied('turn', { direction: 'z-to-y' });
    const { scene } = applyStep(
      stepKind('pivot'),
      turned,
      select(turned, { by: 'all' }),
      { place: 'base-centre', of: 'parts' },
      () => undefined,
    );
    const pivot = transformPoint(worldTransforms(scene).get(1) as Matrix, [0, 0, 0]);
    expect(pivot.map((v) => Number(v.toFixed(6)))).toEqual([1.1, 3, -2]);
  });

  it('gives all placements of a mesh the same offset, so that it stays shared', async () => {
    const { scene } = await applied('pivot', { place: 'base-centre', of: 'parts' });
    const [a, b] = scene.nodes.filter((node) => node.name === 'Bolt');
    expect(a.offset).toEqual(b.offset);
    expect(a.mesh).toBe(b.mesh);
  });

  it('of an assembly lies at its box, its children keep their places', async () => {
    const { scene } = await applied('pivot', { place: 'box-centre', of: 'assemblies' });
    const box = boxOf(scene, 'Case');
    const pivot = transformPoint(worldTransforms(scene).get(0) as Matrix, [0, 0, 0]);
    expect(pivot[1]).toBeCloseTo(((box?.min[1] ?? 0) + (box?.max[1] ?? 0)) / 2, 6);
    expect(scene.nodes.at(0)!.offset).toBeUndefined();
  });

  it('twice changes nothing more', async () => {
    const { scene } = await applied('pivot', { place: 'box-centre', of: 'parts' });
    const again = applyStep(
      stepKind('pivot'),
      scene,
      select(scene, { by: 'all' }),
      { place: 'box-centre', of: 'parts' },
      () => undefined,
    );
    expect(again.changed).toBe(0);
    expect(again.scene).toBe(scene);
  });

  it('draws geometry at its offset', async () => {
    const { scene } = await applied('pivot', { place: 'base-centre', of: 'parts' });
    const node = scene.nodes.at(1)!;
    const matrix = geometryTransform(node, worldTransforms(scene).get(1) as Matrix);
    expect(transformPoint(matrix, [0, 0, 0]).map((v) => Number(v.toFixed(6)))).toEqual([1.1, 2, 3.02]);
  });
});

describe('turn', () => {
  it('takes z up to y up: up becomes up, and the height stays', async () => {
    const { before, scene } = await applied('turn', { direction: 'z-to-y' });
    const [a, b] = [boxOf(before, 'Case'), boxOf(scene, 'Case')];
    expect(b?.min[1]).toBeCloseTo(a?.min[2] as number, 9);
    expect(b?.max[1]).toBeCloseTo(a?.max[2] as number, 9);
    expect(b?.min[0]).toBeCloseTo(a?.min[0] as number, 9);
    expect(scene.sources[0].up).toBe('y');
  });

  it('and back is exactly where it was', async () => {
    const { before, scene } = await applied('turn', { direction: 'z-to-y' });
    const back = applyStep(
      stepKind('turn'),
      scene,
      select(scene, { by: 'all' }),
      { direction: 'y-to-z' },
      () => undefined,
    );
    expect(plainScene(back.scene)).toEqual(plainScene(before));
  });
});

describe('rename', () => {
  it('changes the name and nothing else, keys least of all', async () => {
    const { before, scene, changed } = await applied(
      'rename',
      { name: 'Gearbox case', of: 'picked' },
      { by: 'picked', keys: ['/Unit/Case'] },
    );
    expect(changed).toBe(1);
    expect(plainNode(scene.nodes.at(3)!)).toEqual({
      ...plainNode(before.nodes.at(3)!),
      name: 'Gearbox case',
      received: 'Case',
    });
  });

  it('numbers and keeps the old name where asked', async () => {
    const { scene } = await applied('rename', { name: '{name} {n}', of: 'parts' }, { by: 'name', pattern: 'bolt' });
    expect(scene.nodes.map((node) => node.name)).toEqual(['Unit', 'Bolt 1', 'Bolt 2', 'Case', 'Marker']);
  });

  it('of a picked assembly leaves its parts alone', async () => {
    const { scene } = await applied('rename', { name: 'Drive', of: 'picked' }, { by: 'picked', keys: ['/Unit'] });
    expect(scene.nodes.map((node) => node.name)).toEqual(['Drive', 'Bolt', 'Bolt', 'Case', 'Marker']);
  });
});

describe('rules by name', () => {
  const names = (scene: Scene) => scene.nodes.map((node) => node.name);

  it('counts from a number with digits, anew in each assembly, and puts in what is above', async () => {
    const { scene } = await sceneWith([
      { name: 'Left', layer: 'L', children: [{ ...bolt }, { ...bolt }] },
      { name: 'Right', children: [{ ...bolt }, { name: 'Nut', layer: '' }] },
    ]);
    const named = (parameters: object) => {
      const kind = stepKind('rename');
      const { scene: after } = applyStep(kind, scene, select(scene, { by: 'all' }), { of: 'parts', ...parameters });
      return after.nodes.filter((node) => node.kind === 'part').map(({ name }) => name);
    };
    expect(named({ name: 'P{n}', from: 8, digits: 2 })).toEqual(['P08', 'P09', 'P10', 'P11']);
    expect(named({ name: '{name}-{n}', each: 'assembly' })).toEqual(['Bolt-1', 'Bolt-2', 'Bolt-1', 'Nut-2']);
    expect(named({ name: '{parent} {name} {n} {layer}', each: 'assembly' })).toEqual([
      'Left Bolt 1 FASTENERS',
      'Left Bolt 2 FASTENERS',
      'Right Bolt 1 FASTENERS',
      'Right Nut 2',
    ]);
    expect(named({ how: 'unique' })).toEqual(['Bolt', 'Bolt 2', 'Bolt 3', 'Nut']);
    expect(named({ how: 'unique', among: 'siblings' })).toEqual(['Bolt', 'Bolt 2', 'Bolt', 'Nut']);
    expect(named({ how: 'replace', find: 'olt', replace: 'OLT' })).toEqual(['BOLT', 'BOLT', 'BOLT', 'Nut']);
    // Nothing is left without a name.
    expect(named({ how: 'replace', find: 'Nut' })).toEqual(['Bolt', 'Bolt', 'Bolt', 'Nut']);
  });

  it('gives back the names of the source', async () => {
    const { scene } = await applied('rename', { name: 'x', of: 'parts' });
    const kind = stepKind('rename');
    const { scene: back } = applyStep(kind, scene, select(scene, { by: 'all' }), { how: 'received', of: 'parts' });
    expect(back.nodes.map(({ name, received }) => [name, received])).toEqual(
      (await sceneWith(tree)).scene.nodes.map(({ name }) => [name, undefined]),
    );
  });

  it.each([
    [{ of: 'parts' }, 'The new name is missing.'],
    [{ name: '  ', of: 'parts' }, 'The new name is missing.'],
    [{ how: 'replace', of: 'parts' }, 'What is to be found is missing.'],
  ])('with %o says what is missing', (parameters, words) => {
    expect(() => stepKind('rename').schema.validateSync(parameters, { strict: true })).toThrow(words);
  });

  it('rename the parts that they name, and not what is below an assembly of that name', async () => {
    const own = { by: 'name', pattern: '*' } as const;
    const of = async (value: string) => names((await applied('rename', { name: 'x{n}', of: value }, own)).scene);
    expect(await of('picked')).toEqual(['x1', 'x2', 'x3', 'x4', 'x5']);
    expect(await of('parts')).toEqual(['Unit', 'x1', 'x2', 'x3', 'x4']);
    expect(await of('assemblies')).toEqual(['x1', 'Bolt', 'Bolt', 'Case', 'Marker']);
    const unit = await applied('rename', { name: 'Drive', of: 'picked' }, { by: 'name', pattern: 'Unit' });
    expect(names(unit.scene)).toEqual(['Drive', 'Bolt', 'Bolt', 'Case', 'Marker']);
  });

  it('are about the name at that step, or about the name as received, whichever they say', async () => {
    const { scene } = await applied('rename', { name: 'Screw', of: 'picked' }, { by: 'name', pattern: 'Bolt' });
    const found = (pattern: string, as?: 'received') =>
      select(scene, { by: 'name', pattern, ...(as ? { as } : {}) }).size;
    expect([found('Bolt'), found('Screw'), found('Bolt', 'received'), found('Screw', 'received')]).toEqual([
      0, 2, 2, 0,
    ]);
    const again = applyStep(stepKind('rename'), scene, new Set([1]), { name: 'Stud', of: 'picked' }, () => undefined);
    expect(again.scene.nodes.at(1)!).toMatchObject({ name: 'Stud', received: 'Bolt' });
    const rules = [{ which: { by: 'name', pattern: 'bolt', as: 'received' }, material: 'lib:stainless' }];
    const finished = applyStep(stepKind('finishes'), scene, new Set([1, 2, 3]), { rules }, () => undefined);
    expect(finished.changed).toBe(2);
  });
});

describe('tessellate', () => {
  it('says at the step which part lies farther from its surfaces than was allowed', async () => {
    const { scene } = await sceneWith([{ name: 'Cam', mesh: boxMesh(1, 1, 1) }]);
    const [{ mesh }] = scene.nodes;
    scene.nodes = nodeTable([{ ...plainNode(scene.nodes.at(0)!), solid: 's' }]);
    scene.solids.s = { text: 't', bytes: 1, faces: 6, entity: '#12', name: 'Cam', extent: 1 };
    const made = (max: number) => ({ mesh, figures: { ...scene.meshes[mesh!], exact: { max, chord: 2e-4 } } });
    const problems = (max: number) =>
      applyStep(stepKind('tessellate'), scene, new Set([0]), { chord: 2e-4, angle: 0.3, preset: 'own' }, () =>
        made(max),
      ).problems;
    expect(problems(2.05e-4)).toEqual([]);
    expect(problems(2.77e-4)).toEqual([
      'Cam (#12): its triangles lie up to 0.277\u00a0mm from the exact surfaces, where 0.2\u00a0mm are allowed.',
    ]);
  });
});

describe('all kinds', () => {
  it('accept their own defaults and say them with units', () => {
    for (const kind of STEP_KINDS.values()) {
      // These say nothing until they are given rules, pictures, a name, points or links.
      if (['finishes', 'textures', 'variant', 'put-on', 'calibrate', 'register', 'point', 'measure', 'link', 'drive', 'run'].includes(kind.kind)) continue; // prettier-ignore
      expect(kind.schema.isValidSync(kind.defaults)).toBe(true);
      expect(kind.summary(kind.defaults).length).toBeGreaterThan(0);
      // What the manual shows can be used as it is written there.
      const { example } = kind;
      if (example?.parameters) expect(kind.schema.isValidSync(example.parameters, { strict: true })).toBe(true);
    }
    expect(stepKind('tessellate').summary({ chord: 0.0002, angle: Math.PI / 10, preset: 'own' })).toBe(
      '0.2\u00a0mm, 18°',
    );
    expect(stepKind('reduce').summary({ until: 'deviation', share: 0.5, deviation: 0.0004 })).toBe('≤ 0.4\u00a0mm');
  });

  it('leave an unmatched scene as it is, the very same object', async () => {
    const { scene } = await sceneWith(tree);
    for (const kind of STEP_KINDS.values()) {
      // What concerns the job as a whole is asked for no rule.
      if (kind.whole?.(kind.defaults)) continue;
      const outcome = applyStep(kind, scene, new Set(), kind.defaults, () => undefined);
      expect(outcome.changed).toBe(0);
      expect(outcome.scene.nodes).toBe(scene.nodes);
    }
  });

  const step = (changes: object) => [
    { id: 'a', kind: 'rename', on: true, selector: { by: 'all' }, parameters: { name: 'x', of: 'picked' }, ...changes },
  ];
  it.each([
    [{ kind: 'explode' }],
    [{ on: 'yes' }],
    [{ parameters: { name: '', of: 'picked' } }],
    [{ parameters: { name: 'x', of: 'picked', extra: 1 } }],
    [{ selector: { by: 'nothing' } }],
    [{ selector: { by: 'picked' } }],
    [{ kind: 'tessellate', parameters: { chord: -1, angle: 0.3, preset: 'own' } }],
    [{ kind: 'reduce', parameters: { until: 'share', share: 2, deviation: 1 } }],
  ])('are refused with %j', (changes) => {
    expect(() => checkSteps(step(changes))).toThrow(expect.objectContaining({ code: 'bad-parameters' }));
  });

  it('are taken where all is well, rules inside rules too', () => {
    const selector = {
      by: 'and',
      of: [
        { by: 'layer', layers: ['A'] },
        { by: 'not', of: [{ by: 'name', pattern: 'B*' }] },
      ],
    };
    expect(checkSteps(step({ selector }))).toHaveLength(1);
    let deep: object = { by: 'all' };
    for (let i = 0; i < 40; i++) deep = { by: 'not', of: [deep] };
    expect(() => checkSteps(step({ selector: deep }))).toThrow(/nested/);
  });

  it('do not mistake the identity for a change', async () => {
    const { scene } = await sceneWith([{ name: 'P', mesh: boxMesh(1, 1, 1), transform: IDENTITY }]);
    expect(
      applyStep(stepKind('pivot'), scene, new Set([0]), { place: 'box-centre', of: 'parts' }, () => undefined).changed,
    ).toBe(0);
  });
});
