import { beforeAll, describe, expect, it } from 'vitest';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { ALL, select } from '../select/select.ts';
import type { Selector } from '../select/selector.ts';
import type { Scene } from '../scene/types.ts';
import { backToLayer, overridesOf } from './byLayer.ts';
import type { FinishRule } from './rule.ts';
import { Schedule } from './schedule.ts';
import { givenEverywhere, givenToLayer, givenToRows, withRule } from './scopes.ts';

const box = boxMesh(1, 1, 1);
let scene: Scene;
beforeAll(async () => {
  const part = (name: string, layer: string, colour = 'white') => ({ name, mesh: box, layer, materials: [colour] });
  ({ scene } = await sceneWith([
    { name: 'Hall', children: [part('Wall 1', 'WALLS'), part('Wall 2', 'WALLS', 'red'), part('Door', 'DOORS')] },
    { name: 'Annex', children: [part('Wall 3', 'WALLS'), part('Gate', 'DOORS', 'red')] },
  ]));
});

const layer = (name: string): Selector => ({ by: 'layer', layers: [name] });
const picked = (...keys: string[]): Selector => ({ by: 'picked', keys });
const rule = (which: Selector, material: string): FinishRule => ({ which, material });
/** Material of every part after some rules. */
function shown(rules: readonly FinishRule[]): Record<string, string> {
  const schedule = new Schedule(scene, select(scene, ALL), rules);
  return Object.fromEntries(
    [...scene.nodes].flatMap(({ id, name, kind, materials }) => {
      const owner = schedule.outcomeOf(id)?.owners[0] ?? -1;
      return kind === 'part' ? [[name, owner < 0 ? materials[0] : rules[owner].material]] : [];
    }),
  );
}
const walls = (of: Record<string, string>) => [of['Wall 1'], of['Wall 2'], of['Wall 3']];

describe('back to by layer', () => {
  const rules = [
    rule(layer('WALLS'), 'plaster'),
    rule({ by: 'material', materials: ['red'] }, 'paint'),
    rule({ by: 'name', pattern: 'Wall 3' }, 'glass'),
    rule(picked('/Hall'), 'oak'),
    rule(picked('/Annex/Wall 3', '/Annex/Gate'), 'steel'),
  ];

  it('names what another rule prevails on', () => {
    const { scene: of } = new Schedule(scene, select(scene, ALL), rules);
    const winners = new Schedule(scene, select(scene, ALL), rules).winners();
    const names = overridesOf(of, rules, winners, 'WALLS').map((row) => scene.nodes.text('name', row));
    expect(names).toEqual(['Wall 1', 'Wall 2', 'Wall 3']);
    expect(overridesOf(of, rules, winners, 'DOORS')).toEqual([]);
  });

  it('puts the whole layer back at once, and leaves everything else as it was', () => {
    const before = shown(rules);
    expect(walls(before)).toEqual(['oak', 'oak', 'steel']);
    const after = backToLayer(scene, rules, 'WALLS');
    expect(walls(shown(after))).toEqual(['plaster', 'plaster', 'plaster']);
    expect([shown(after).Door, shown(after).Gate]).toEqual([before.Door, before.Gate]);
    // What named nothing but walls is gone; picked walls are out of their rule; others say that they leave the walls alone.
    expect(after.map(({ which }) => which)).toEqual([
      layer('WALLS'),
      {
        by: 'and',
        of: [
          { by: 'material', materials: ['red'] },
          { by: 'not', of: [layer('WALLS')] },
        ],
      },
      { by: 'and', of: [picked('/Hall'), { by: 'not', of: [layer('WALLS')] }] },
      picked('/Annex/Gate'),
    ]);
  });

  it('changes nothing where nothing prevails, or no rule speaks of the layer', () => {
    expect(backToLayer(scene, rules, 'DOORS')).toBe(rules);
    expect(backToLayer(scene, rules.slice(0, 1), 'WALLS')).toHaveLength(1);
  });
});

describe('the scope of a change', () => {
  it('everywhere: what shows a material shows the other one, by a rule or without, and nothing else changes', () => {
    const rules = [rule(layer('DOORS'), 'white'), rule(picked('/Annex/Wall 3'), 'oak')];
    const before = shown(rules);
    const after = shown(givenEverywhere(rules, 'white', 'glass', true));
    for (const [name, material] of Object.entries(before))
      expect(after[name], name).toBe(material === 'white' ? 'glass' : material);
  });

  it('a layer: its rule gives another material, or there is one more, before those of colours and picked parts', () => {
    const rules = [rule(layer('DOORS'), 'oak'), rule({ by: 'material', materials: ['red'] }, 'paint'), rule(picked('/Annex/Gate'), 'steel')]; // prettier-ignore
    expect(givenToLayer(rules, 'DOORS', 'glass')[0]).toEqual(rule(layer('DOORS'), 'glass'));
    const walls = givenToLayer(rules, 'WALLS', 'plaster');
    expect(walls.map(({ material }) => material)).toEqual(['oak', 'plaster', 'paint', 'steel']);
    // A layer out of several that share a rule.
    const shared = givenToLayer([rule({ by: 'layer', layers: ['WALLS', 'DOORS'] }, 'oak')], 'DOORS', 'glass');
    expect(shown(shared)).toMatchObject({ 'Wall 1': 'oak', Door: 'glass', Gate: 'glass' });
  });

  it('picked parts: in one rule, behind all others, and in no other rule of picked parts', () => {
    const once = givenToRows([rule(layer('WALLS'), 'plaster')], ['/Hall/Wall 1'], 'oak');
    const twice = givenToRows(once, ['/Hall/Wall 2'], 'oak');
    expect(twice).toEqual([rule(layer('WALLS'), 'plaster'), rule(picked('/Hall/Wall 1', '/Hall/Wall 2'), 'oak')]);
    const other = givenToRows(twice, ['/Hall/Wall 1'], 'glass');
    expect(walls(shown(other))).toEqual(['glass', 'oak', 'plaster']);
    expect(givenToRows(other, ['/Hall/Wall 2'], 'glass').map(({ which }) => which)).toEqual([
      layer('WALLS'),
      picked('/Hall/Wall 1', '/Hall/Wall 2'),
    ]);
  });

  it('a new rule stands behind those that are as general', () => {
    const rules = [rule(layer('WALLS'), 'a'), rule({ by: 'name', pattern: 'Wall*' }, 'b'), rule(picked('/Hall'), 'c')];
    const at = (which: Selector) => withRule(rules, rule(which, 'new')).findIndex(({ material }) => material === 'new');
    expect([at({ by: 'all' }), at(layer('DOORS')), at({ by: 'material', materials: ['red'] }), at(picked('/Annex'))]).toEqual([0, 1, 1, 3]); // prettier-ignore
  });
});
