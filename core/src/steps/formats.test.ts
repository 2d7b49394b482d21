// Steps that other programs saved: older formats go up, newer ones are passed over and said; and the manual says what kinds take.
import { describe, expect, it } from 'vitest';
import { MemoryBlobs } from '../memoryStores.ts';
import { evaluateNow } from '../preparation/evaluate.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { defineStep, WHEREVER } from './kind.ts';
import type { StepKind } from './kind.ts';
import {
  broughtUp,
  checkSteps,
  isNewer,
  placeFor,
  STEP_KINDS,
  stepKind,
  summaryOf,
  titleOf,
  withSteps,
} from './kinds.ts';
import type { Step } from './kinds.ts';
import { stepsManual } from './manual.ts';

/** Its parameters were a text first, then a number of degrees, and are radians now. */
const leaning = defineStep<{ lean: number }>({
  kind: 'lean',
  title: 'Lean',
  purpose: 'Leans.',
  station: 'arrange',
  place: WHEREVER,
  version: 1,
  upgrades: [
    ({ lean }) => ({ degrees: Number.parseFloat(String(lean)) }),
    ({ degrees }) => ({ lean: (Number(degrees) * Math.PI) / 180 }),
  ],
  needs: 'manifest',
  fields: { lean: { type: 'quantity', of: 'angle', unit: '°', label: 'Lean', min: 0, max: Math.PI / 2 } },
  defaults: { lean: 0 },
  summary: ({ lean }) => String(lean),
  apply: () => ({ pending: 0, problems: [] }),
}) as unknown as StepKind;

const saved = (parameters: object, format?: number): Step => ({
  id: 'a',
  kind: 'lean',
  on: true,
  selector: { by: 'all' },
  parameters,
  ...(format ? { format } : {}),
});

describe('parameters of an older format', () => {
  it.each([
    ['the first, which says no format', saved({ lean: '30 deg' })],
    ['the second', saved({ degrees: 30 }, 2)],
    ['the one of today', saved({ lean: Math.PI / 6 }, 3)],
  ])('go all ways up: %s', (_, step) => {
    const up = broughtUp(step, leaning);
    expect(up.format).toBe(3);
    expect((up.parameters as { lean: number }).lean).toBeCloseTo(Math.PI / 6, 12);
    expect(leaning.schema.isValidSync(up.parameters, { strict: true })).toBe(true);
  });

  it('of a newer one are refused by name where they come in', () => {
    expect(() => broughtUp(saved({ lean: 1 }, 4), leaning)).toThrow(/newer Noble Prism saved the step “Lean”/);
    const step = { id: 'x', kind: 'rename', on: true, selector: { by: 'all' }, parameters: {}, format: 7 };
    expect(() => checkSteps([step])).toThrow(expect.objectContaining({ code: 'bad-parameters', where: 'x' }));
  });

  it('are as many as a kind says', () => {
    for (const kind of STEP_KINDS.values()) expect(kind.format).toBe((kind.upgrades?.length ?? 0) + 1);
  });
});

it('a step of a newer program costs itself only, and is said', async () => {
  const { scene } = await sceneWith([{ name: 'P', mesh: boxMesh(1, 1, 1) }], new MemoryBlobs());
  const steps: Step[] = [
    { id: 'new', kind: 'fold-like-paper', on: true, selector: { by: 'all' }, parameters: {} },
    { id: 'old', kind: 'rename', on: true, selector: { by: 'all' }, parameters: { name: 'Q', of: 'picked' } },
  ];
  expect([isNewer(steps[0]), titleOf(steps[0]), summaryOf(steps[0])]).toEqual([
    true,
    'fold-like-paper',
    'of a newer Noble Prism',
  ]);
  const made = evaluateNow(scene, 'k', steps, () => undefined);
  expect(made.reports[0].problems).toEqual([expect.stringContaining('newer Noble Prism')]);
  expect(made.scene.nodes.row(0).name).toBe('Q');
});

describe('a new step', () => {
  const list = (...kinds: string[]): Step[] =>
    kinds.map((kind) => ({ id: kind, kind, on: true, selector: { by: 'all' }, parameters: stepKind(kind).defaults }));
  it.each([
    ['what is said of a source stands before its tessellation', 'unit', ['wires', 'tessellate', 'turn'], 1],
    [
      'a rule of tessellation behind the others, before what works on triangles',
      'tessellate',
      ['tessellate', 'reduce'],
      1,
    ],
    ['the first of all where nothing comes before it', 'wires', ['tessellate'], 0],
    ['the others at the end', 'rename', ['tessellate', 'reduce'], 2],
  ])('%s', (_, kind, there, place) => expect(placeFor(kind, list(...there))).toBe(place));
});

it('steps of another job stand where they belong, and one that nobody knows at the end', () => {
  const kind = (name: string): Step => ({ id: name, kind: name, on: true, selector: { by: 'all' }, parameters: {} });
  let n = 0;
  const all = withSteps(
    ['tessellate', 'turn', 'reduce'].map(kind),
    ['fold-like-paper', 'wires', 'unit'].map(kind),
    () => `new ${++n}`,
  );
  expect(all.map(({ kind: name }) => name)).toEqual(['wires', 'unit', 'tessellate', 'turn', 'reduce', 'fold-like-paper']); // prettier-ignore
  expect(all.map(({ id }) => id)).toEqual(['new 2', 'new 3', 'tessellate', 'turn', 'reduce', 'new 1']);
});

it('a step that was there already is not there twice; a tessellation of the same parts takes the place of the one before', () => {
  const step = (id: string, kind: string, parameters: object, layer?: string): Step => ({ id, kind, on: true, selector: layer ? { by: 'layer', layers: [layer] } : { by: 'all' }, parameters }); // prettier-ignore
  const ours = [step('t', 'tessellate', { chord: 1 }), step('u', 'turn', { direction: 'z-to-y' }), step('r', 'rename', { name: 'A', of: 'parts' })]; // prettier-ignore
  const theirs = [
    step('1', 'tessellate', { chord: 2 }),
    step('2', 'tessellate', { chord: 3 }, 'BOLTS'),
    { ...step('3', 'turn', { direction: 'z-to-y' }), on: false },
    step('4', 'rename', { name: 'B', of: 'parts' }),
    step('5', 'rename', { name: 'B', of: 'parts' }),
  ];
  const all = withSteps(ours, theirs, () => 'new');
  expect(all.map(({ id, kind, on, parameters }) => [id, kind, on, parameters])).toEqual([
    ['t', 'tessellate', true, { chord: 2 }],
    ['new', 'tessellate', true, { chord: 3 }],
    ['u', 'turn', false, { direction: 'z-to-y' }],
    ['r', 'rename', true, { name: 'A', of: 'parts' }],
    // What was given twice was meant twice.
    ['new', 'rename', true, { name: 'B', of: 'parts' }],
    ['new', 'rename', true, { name: 'B', of: 'parts' }],
  ]);
});

describe('the manual', () => {
  it('is the one in the documents', async () => {
    await expect(stepsManual()).toMatchFileSnapshot('../../../docs/steps.md');
  });

  it('names all that every kind takes', () => {
    for (const kind of STEP_KINDS.values()) {
      const text = stepsManual(kind.kind);
      for (const name of Object.keys(kind.fields)) expect(text).toContain(`\`${name}\``);
      expect(text).toContain(kind.purpose);
    }
    expect(() => stepsManual('explode')).toThrow(/no kind of step “explode”/);
  });
});
