import { beforeAll, describe, expect, it } from 'vitest';
import type { Scene } from '../scene/types.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { nameMatcher } from './patterns.ts';
import { stepKind } from '../steps/kinds.ts';
import { applyStep } from '../steps/kind.ts';
import { ruleKind, RULE_KINDS, selectorSchema } from './rules.ts';
import { describeSelector, lostKeys, mapRules, select } from './select.ts';
import type { Selector } from './select.ts';

let scene: Scene;
beforeAll(async () => {
  ({ scene } = await sceneWith([
    {
      name: 'Guard',
      children: [
        { name: 'Panel', mesh: boxMesh(1, 0.6, 0.03), layer: 'GUARDS', materials: ['#e3b40c'] },
        { name: 'Bolt M12', mesh: boxMesh(0.02, 0.02, 0.04), layer: 'FASTENERS', materials: ['#b9bcc0'] },
        { name: 'Bolt (M16)', mesh: boxMesh(0.03, 0.03, 0.06), layer: 'FASTENERS', materials: ['#b9bcc0'] },
      ],
    },
    { name: 'Rope', layer: 'ROPEWAY' },
    {
      name: 'Upper floor',
      class: 'IfcBuildingStorey',
      children: [
        {
          name: 'Door',
          class: 'IfcDoor',
          mesh: boxMesh(0.9, 0.1, 2),
          properties: { 'Pset_DoorCommon.FireRating': 'EI 60' },
        },
      ],
    },
  ]));
});

const names = (selector: Selector) => [...select(scene, selector)].map((id) => scene.nodes.at(id)!.name);

describe('selectors', () => {
  it.each<[string, Selector, string[]]>([
    ['everything', { by: 'all' }, ['Guard', 'Panel', 'Bolt M12', 'Bolt (M16)', 'Rope', 'Upper floor', 'Door']],
    ['a storey, with what stands in it', { by: 'storey', storeys: ['Upper floor'] }, ['Upper floor', 'Door']],
    ['no storey that is called like a door', { by: 'storey', storeys: ['Door'] }, []],
    ['a class', { by: 'class', classes: ['IfcDoor'] }, ['Door']],
    ['a property', { by: 'property', name: '*.FireRating', value: 'ei*' }, ['Door']],
    ['a layer', { by: 'layer', layers: ['FASTENERS'] }, ['Bolt M12', 'Bolt (M16)']],
    ['a name in either case', { by: 'name', pattern: 'bolt m??' }, ['Bolt M12']],
    ['a name with brackets taken literally', { by: 'name', pattern: '* (M16)' }, ['Bolt (M16)']],
    [
      'an assembly by name, with what is below',
      { by: 'name', pattern: 'Guard' },
      ['Guard', 'Panel', 'Bolt M12', 'Bolt (M16)'],
    ],
    ['a material', { by: 'material', materials: ['#e3b40c'] }, ['Panel']],
    ['a source', { by: 'source', sources: ['nobody'] }, []],
    ['a size', { by: 'size', min: 0.05, max: 0.5 }, ['Bolt (M16)']],
    ['a picked part', { by: 'picked', keys: ['/Guard/Panel'] }, ['Panel']],
    [
      'a picked assembly, with what is below',
      { by: 'picked', keys: ['/Guard'] },
      ['Guard', 'Panel', 'Bolt M12', 'Bolt (M16)'],
    ],
    [
      'both of two',
      {
        by: 'and',
        of: [
          { by: 'layer', layers: ['FASTENERS'] },
          { by: 'size', max: 0.05 },
        ],
      },
      ['Bolt M12'],
    ],
    [
      'either of two',
      {
        by: 'or',
        of: [
          { by: 'layer', layers: ['ROPEWAY'] },
          { by: 'name', pattern: 'Panel' },
        ],
      },
      ['Panel', 'Rope'],
    ],
    ['the opposite', { by: 'not', of: [{ by: 'name', pattern: 'Guard' }] }, ['Rope', 'Upper floor', 'Door']],
  ])('find %s', (_, selector, expected) => expect(names(selector)).toEqual(expected));

  it('tell a material as received from the one that is assigned', () => {
    const rules = [{ which: { by: 'layer', layers: ['FASTENERS'] }, material: 'lib:cast-iron' }];
    const { scene: after } = applyStep(stepKind('finishes'), scene, select(scene, { by: 'all' }), { rules });
    const found = (selector: Selector) => [...select(after, selector)].map((id) => after.nodes.at(id)!.name);
    expect(found({ by: 'material', materials: ['#b9bcc0'] })).toEqual([]);
    expect(found({ by: 'material', materials: ['#b9bcc0'], as: 'received' })).toEqual(['Bolt M12', 'Bolt (M16)']);
    expect(found({ by: 'material', materials: ['lib:cast-iron'] })).toEqual(['Bolt M12', 'Bolt (M16)']);
    const offers = ruleKind('material').offers?.(after, { source: String, material: String }) ?? [];
    expect(offers.map(({ value }) => value)).toEqual(expect.arrayContaining(['#b9bcc0', 'lib:cast-iron']));
  });

  it('offer what there is to choose', () => {
    const known = { source: () => 'guard.stp', material: String };
    const offers = (by: string) =>
      ruleKind(by)
        .offers?.(scene, known)
        .map(({ label }) => label);
    expect(offers('layer')).toEqual(['FASTENERS', 'GUARDS', 'ROPEWAY']);
    expect(offers('class')).toEqual(['IfcBuildingStorey', 'IfcDoor']);
    expect(offers('storey')).toEqual(['Upper floor']);
    expect(offers('source')).toEqual(['guard.stp']);
    expect(offers('size')).toBeUndefined();
  });

  it('each begin with what their check takes, or with an empty choice, and have words', () => {
    for (const kind of RULE_KINDS.values()) {
      const rule = { by: kind.by, ...kind.defaults };
      expect(selectorSchema.isValidSync(rule, { strict: true }), kind.by).toBe(true);
      expect(() => describeSelector(rule as Selector)).not.toThrow();
    }
    expect(selectorSchema.isValidSync({ by: 'size', most: 3 }, { strict: true })).toBe(false);
  });

  it('are rewritten inside others', () => {
    const rule: Selector = { by: 'not', of: [{ by: 'or', of: [{ by: 'source', sources: ['a'] }, { by: 'all' }] }] };
    const moved = mapRules(rule, (inner) => (inner.by === 'source' ? { ...inner, sources: ['b'] } : inner));
    expect(JSON.stringify(moved)).toBe(JSON.stringify(rule).replace('"a"', '"b"'));
  });

  it('report picked keys that are gone, at any depth', () => {
    expect(lostKeys(scene, { by: 'or', of: [{ by: 'picked', keys: ['/Guard', '/Gone'] }] })).toEqual(['/Gone']);
  });

  it('match patterns of many stars without taking for ever', () => {
    const matches = nameMatcher(`${'*'.repeat(200)}x`);
    expect(matches('a'.repeat(2000))).toBe(false);
    expect(matches('ax')).toBe(true);
  });
});

describe('rules in words', () => {
  it.each([
    [{ by: 'all' }, 'everything'],
    [{ by: 'picked', keys: ['s:/Drive unit/Motor'] }, 'Motor'],
    [{ by: 'picked', keys: ['a', 'b', 'c'] }, '3 picked'],
    [{ by: 'layer', layers: ['FASTENERS', 'GUARDS'] }, 'layer FASTENERS, GUARDS'],
    [{ by: 'name', pattern: 'Motor*' }, 'named Motor*'],
    [{ by: 'class', classes: ['IfcWall'] }, 'class IfcWall'],
    [{ by: 'property', name: 'Pset.FireRating', value: 'EI 60' }, 'Pset.FireRating = EI 60'],
    [{ by: 'size', max: 0.02 }, '≤ 20\u00a0mm'],
    [{ by: 'size', min: 0.5, max: 2 }, '≥ 500\u00a0mm ≤ 2\u2009000\u00a0mm'],
    [{ by: 'not', of: [{ by: 'layer', layers: ['A'] }] }, 'not (layer A)'],
    [
      {
        by: 'or',
        of: [
          { by: 'layer', layers: ['A'] },
          { by: 'name', pattern: 'B' },
        ],
      },
      'layer A or named B',
    ],
    // Which source is meant is plain from the sheet that the rule stands on.
    [
      {
        by: 'and',
        of: [
          { by: 'source', sources: ['s1'] },
          { by: 'layer', layers: ['A'] },
        ],
      },
      'layer A',
    ],
    [{ by: 'and', of: [{ by: 'source', sources: ['s1'] }] }, 'source s1'],
  ] as const)('%j', (selector, words) => {
    expect(
      describeSelector(selector as never)
        .replace(/\s+/g, ' ')
        .replace(/\u2009/g, ' '),
    ).toBe(words.replace(/\s+/g, ' ').replace(/\u2009/g, ' '));
  });
});
