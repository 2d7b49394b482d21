import { beforeAll, describe, expect, it } from 'vitest';
import { AS_RECEIVED, wholeRule } from '../finish/rule.ts';
import type { FinishRule, ShortRule } from '../finish/rule.ts';
import { reasonsFor } from '../finish/why.ts';
import { NO_RULE, PARTED, scheduleOf } from '../finish/schedule.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/selector.ts';
import type { Scene } from '../scene/types.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { applyStep } from './kind.ts';
import { broughtUp, checkSteps, stepKind } from './kinds.ts';

const finishes = stepKind('finishes');
const box = boxMesh(1, 1, 1);
/** The mesh of a box with six triangles in each of two slots. */
const twoSlots = { ...box, groups: [{ slot: 0, start: 0, count: 18 }, { slot: 1, start: 18, count: 18 }] }; // prettier-ignore
let scene: Scene;

beforeAll(async () => {
  ({ scene } = await sceneWith([
    {
      name: 'Ground floor',
      children: [
        { name: 'Wall 1', mesh: box, layer: 'WALLS', materials: ['white'] },
        { name: 'Wall 2', mesh: box, layer: 'WALLS', materials: ['white'] },
        { name: 'Door', mesh: twoSlots, layer: 'DOORS', materials: ['white', 'brass'] },
        { name: 'Lamp', mesh: box, materials: ['white'] },
        { name: 'Shell', mesh: box },
      ],
    },
  ]));
});

const rule = (which: Selector, material: string, more: Partial<FinishRule> = {}): FinishRule => ({ which, material, ...more }); // prettier-ignore
const layer = (name: string): Selector => ({ by: 'layer', layers: [name] });
const colour = (id: string): Selector => ({ by: 'material', materials: [id] });
const apply = (rules: FinishRule[], on: Selector = { by: 'all' }) =>
  applyStep(finishes, scene, select(scene, on), { rules }, () => undefined);
const materialsOf = (of: Scene) =>
  Object.fromEntries(of.nodes.map(({ name, materials }) => [name, materials.join('+')]));
const schedule = (rules: FinishRule[]) => scheduleOf(scene, select(scene, { by: 'all' }), rules);
const rowOf = (name: string) => [...scene.nodes].find((node) => node.name === name)!.id;

describe('the finish schedule', () => {
  it('goes by layer, colour, name and what is picked; the later rule wins on each slot by itself', () => {
    const { scene: after, changed } = apply([
      rule(layer('WALLS'), 'lib:concrete'),
      rule(layer('DOORS'), 'lib:paint-sage'),
      rule(colour('brass'), 'lib:bronze'),
      rule({ by: 'picked', keys: ['/Ground floor/Wall 2'] }, 'lib:glass'),
    ]);
    expect(materialsOf(after)).toMatchObject({
      'Wall 1': 'lib:concrete',
      'Wall 2': 'lib:glass',
      Door: 'lib:paint-sage+lib:bronze',
      Lamp: 'white',
      Shell: 'none',
    });
    expect(changed).toBe(3);
    expect(after.materials['lib:bronze'].origin).toBe('library');
  });

  it('takes an assembly by its name with what is below it, and gives back what was received', () => {
    const { scene: after } = apply([
      rule({ by: 'name', pattern: 'Ground floor' }, 'lib:concrete'),
      rule(layer('DOORS'), AS_RECEIVED),
    ]);
    expect(materialsOf(after)).toMatchObject({ Shell: 'lib:concrete', Lamp: 'lib:concrete', Door: 'white+brass' });
  });

  it('evaluates a rule made of rules slot by slot', () => {
    const white: Selector = { by: 'and', of: [colour('white'), { by: 'not', of: [layer('WALLS')] }] };
    const notWhite: Selector = { by: 'and', of: [layer('DOORS'), { by: 'not', of: [colour('white')] }] };
    const { scene: after } = apply([rule(white, 'lib:glass'), rule(notWhite, 'lib:rubber')]);
    expect(materialsOf(after)).toMatchObject({ 'Wall 1': 'white', Door: 'lib:glass+lib:rubber', Lamp: 'lib:glass' });
  });

  it('shares meshes and lists as before: no instance is lost by materials', () => {
    const { scene: after } = apply([rule(layer('WALLS'), 'lib:concrete')]);
    const [one, two] = ['Wall 1', 'Wall 2'].map((name) => after.nodes.row(rowOf(name)));
    expect([one.mesh, one.materials]).toEqual([two.mesh, two.materials]);
    expect(after.nodes.columns.mesh).toBe(scene.nodes.columns.mesh);
  });

  it('passes over rules that are off, and names those that are on no part or give what nobody has', () => {
    const { problems, scene: after } = apply([
      rule(layer('ROOF'), 'lib:glass'),
      rule(layer('WALLS'), 'lib:glass', { on: false }),
      rule(layer('DOORS'), 'gone'),
    ]);
    expect(after).toBe(scene);
    expect(problems).toEqual([
      'Rule 3 gives the material gone, which neither library nor job has.',
      'Rule 1, layer ROOF, is on no part.',
    ]);
  });

  it('takes a material of the job as well as one of the library', () => {
    expect(materialsOf(apply([rule(layer('WALLS'), 'brass')]).scene)).toMatchObject({ 'Wall 1': 'brass' });
  });

  it('is left alone where the step concerns other parts', () => {
    const { scene: after } = apply([rule(colour('white'), 'lib:glass')], layer('WALLS'));
    expect(materialsOf(after)).toMatchObject({ 'Wall 1': 'lib:glass', Lamp: 'white' });
  });
});

describe('what a rule takes hold of', () => {
  const rules = [
    rule(layer('WALLS'), 'lib:concrete'),
    rule(colour('white'), 'lib:paint-sage'),
    rule({ by: 'picked', keys: ['/Ground floor/Wall 2', '/Ground floor/Door'] }, 'lib:glass'),
    rule(layer('ROOF'), 'lib:rubber'),
  ];

  it('is counted in parts and triangles, with what it wins from whom', () => {
    const { lines, unruled } = schedule(rules);
    expect(lines.map(({ parts, triangles, won }) => [parts, triangles, won])).toEqual([
      [2, 24, 0],
      // Half of the door has brass.
      [4, 12 * 3 + 6, 2],
      [2, 24, 2],
      [0, 0, 0],
    ]);
    expect(lines[1].overrides).toEqual([{ rule: 0, parts: 2 }]);
    expect(lines[2].overrides).toEqual([{ rule: 1, parts: 2 }]);
    expect(lines[0].overridden).toEqual([{ rule: 1, parts: 2 }]);
    expect(unruled).toBe(1);
  });

  it('is what a part can be asked about: which rules name it, and which won', () => {
    const made = schedule(rules);
    expect(reasonsFor(made, rowOf('Wall 2'))).toEqual([
      { slots: [0], had: ['white'], rules: [0, 1, 2], triangles: 12 },
    ]);
    const [doors] = [schedule(rules.slice(0, 2))];
    expect(doors.winners()[rowOf('Door')]).toBe(PARTED);
    expect(reasonsFor(doors, rowOf('Door'))).toEqual([
      { slots: [0], had: ['white'], rules: [1], triangles: 6 },
      { slots: [1], had: ['brass'], rules: [], triangles: 6 },
    ]);
    expect(reasonsFor(made, rowOf('Ground floor'))).toEqual([]);
  });

  it('agrees with every part asked one by one, on many schedules', () => {
    const which: Selector[] = [layer('WALLS'), layer('DOORS'), colour('white'), colour('brass'), { by: 'name', pattern: '*l*' }, { by: 'not', of: [colour('white')] }]; // prettier-ignore
    for (let run = 0; run < 200; run++) {
      const some = Array.from({ length: 4 }, (_, i) => rule(which[(run * 7 + i * (run % 5 + 1)) % which.length], ['lib:glass', 'lib:rubber', 'lib:concrete'][(run + i) % 3])); // prettier-ignore
      const made = schedule(some);
      const { scene: after } = apply(some);
      for (const row of made.parts)
        for (const reason of reasonsFor(made, row))
          for (const slot of reason.slots) {
            const winner = reason.rules.at(-1);
            expect(made.outcomeOf(row)!.owners[slot]).toBe(winner ?? NO_RULE);
            const had = scene.nodes.row(row).materials[slot];
            expect(after.nodes.row(row).materials[slot]).toBe(winner === undefined ? had : some[winner].material);
          }
    }
  });
});

describe('schedules from outside', () => {
  const step = (rules: unknown, more: object = {}) => [
    { id: 'a', kind: 'finishes', on: true, selector: { by: 'all' }, parameters: { rules }, ...more },
  ];

  it('may be written in short, and an older one means what it meant', () => {
    const short: ShortRule[] = [
      { by: 'layer', match: 'WALLS', material: 'lib:glass' },
      { by: 'colour', match: 'brass', material: 'lib:bronze' },
      { by: 'received', match: 'Ground*', material: 'lib:rubber' },
      { by: 'name', match: 'lamp', material: 'lib:concrete' },
    ];
    const [{ parameters, format }] = checkSteps(step(short));
    expect(format).toBe(2);
    const { rules } = parameters as { rules: FinishRule[] };
    expect(rules.map(({ which }) => which)).toEqual([
      layer('WALLS'),
      colour('brass'),
      { by: 'name', pattern: 'Ground*', as: 'received', reach: 'itself' },
      { by: 'name', pattern: 'lamp', reach: 'itself' },
    ]);
    // Names were those of parts alone: an assembly did not hand its rule down.
    expect(materialsOf(apply(rules).scene)).toMatchObject({ Lamp: 'lib:concrete', Shell: 'none', Door: 'white+lib:bronze' }); // prettier-ignore
    expect(wholeRule(rules[0])).toBe(rules[0]);
    expect(broughtUp(checkSteps(step(rules, { format: 2 }))[0]).parameters).toEqual({ rules });
  });

  it.each([
    ['a material that is not in the library', [rule(layer('A'), 'lib:unobtainium')], /no material “lib:unobtainium”/],
    ['a pattern that does not compile', [rule({ by: 'name', pattern: '/wall(/' }, 'lib:glass')], /\/wall\(\/ cannot be understood/], // prettier-ignore
    ['a pattern that may never end', [rule({ by: 'name', pattern: '/(a+)+$/' }, 'lib:glass')], /may never end/],
    ['a rule that says nothing', [{ material: 'lib:glass' }], /which parts/],
    ['no rules', undefined, /rules are missing/],
  ])('are refused with %s', (_, rules, message) => {
    expect(() => checkSteps(step(rules, { format: 2 }))).toThrow(message);
  });
});
