import { beforeAll, describe, expect, it } from 'vitest';
import type { Scene } from '../scene/types.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { lostKeys, nameMatcher, select } from './selector.ts';
import type { Selector } from './selector.ts';

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
  ]));
});

const names = (selector: Selector) => [...select(scene, selector)].map((id) => scene.nodes.at(id)!.name);

describe('selectors', () => {
  it.each<[string, Selector, string[]]>([
    ['everything', { by: 'all' }, ['Guard', 'Panel', 'Bolt M12', 'Bolt (M16)', 'Rope']],
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
    ['the opposite', { by: 'not', of: [{ by: 'name', pattern: 'Guard' }] }, ['Rope']],
  ])('find %s', (_, selector, expected) => expect(names(selector)).toEqual(expected));

  it('report picked keys that are gone, at any depth', () => {
    expect(lostKeys(scene, { by: 'or', of: [{ by: 'picked', keys: ['/Guard', '/Gone'] }] })).toEqual(['/Gone']);
  });

  it('match patterns of many stars without taking for ever', () => {
    const matches = nameMatcher(`${'*'.repeat(200)}x`);
    expect(matches('a'.repeat(2000))).toBe(false);
    expect(matches('ax')).toBe(true);
  });
});
