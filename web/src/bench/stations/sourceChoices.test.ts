// What is chosen for a source is kept as rules, and read back from them.
import { createPinia, setActivePinia } from 'pinia';
import { describe, expect, it } from 'vitest';
import type { Step } from '@noble-prism/core/steps/kinds';
import { checkSteps } from '@noble-prism/core/steps/kinds';
import { describeSelector } from '@noble-prism/core/select/select';
import { describeSize } from '../describe.ts';
import { useJob } from '../../stores/job.ts';
import {
  chooseUp,
  chooseVariant,
  leaveOut,
  leftOut,
  readLarger,
  takeWires,
  unitStepOf,
  upChosen,
  variantChosen,
  wiresTaken,
} from './sourceChoices.ts';

const rule = (source: string, ...of: object[]): Step => ({
  id: source,
  kind: 'leave-out',
  on: true,
  selector: {
    by: 'and',
    of: [
      { by: 'source', sources: [source] },
      { by: 'or', of: of as never },
    ],
  },
  parameters: {},
});

describe('choices for a source', () => {
  it('are found in the steps of that source only', () => {
    const steps = [
      rule('a', { by: 'layer', layers: ['HIDDEN'] }, { by: 'class', classes: ['IfcSpace'] }),
      rule('b', { by: 'picked', keys: ['b:/x'] }),
    ];
    expect(leftOut(steps, 'a').left).toEqual({ layers: ['HIDDEN'], classes: ['IfcSpace'], keys: [] });
    expect(leftOut(steps, 'b').left.keys).toEqual(['b:/x']);
    expect(leftOut(steps, 'c')).toEqual({ left: { layers: [], classes: [], keys: [] } });
    expect(checkSteps(steps)).toHaveLength(2);
  });

  it('hold also where the step for them had been switched off', () => {
    setActivePinia(createPinia());
    const store = useJob();
    store.steps = [
      { id: 'w', kind: 'wires', on: false, selector: { by: 'source', sources: ['a'] }, parameters: {} },
      { id: 'u', kind: 'up', on: false, selector: { by: 'source', sources: ['a'] }, parameters: { axis: 'x' } },
    ];
    expect([wiresTaken(store.steps, 'a'), upChosen(store.steps, 'a')]).toEqual([false, undefined]);
    takeWires('a', true);
    chooseUp('a', 'y');
    expect([wiresTaken(store.steps, 'a'), upChosen(store.steps, 'a')]).toEqual([true, 'y']);
    expect(store.steps).toHaveLength(2);
    takeWires('a', false);
    expect(store.steps.map(({ kind }) => kind)).toEqual(['up']);
  });

  it('leave alone steps with other rules', () => {
    const other: Step = { ...rule('a'), selector: { by: 'name', pattern: '*' } };
    expect(leftOut([other], 'a').step).toBeUndefined();
    const unit: Step = {
      id: 'u',
      kind: 'unit',
      on: true,
      selector: { by: 'source', sources: ['a'] },
      parameters: { factor: 2, reason: '' },
    };
    expect(unitStepOf([other, unit], 'a')).toBe(unit);
    expect(unitStepOf([other, unit], 'b')).toBeUndefined();
    const up: Step = { ...unit, id: 'x', kind: 'up', parameters: { axis: '-y' } };
    expect(upChosen([other, unit, up], 'a')).toBe('-y');
    expect(upChosen([{ ...up, on: false }], 'a')).toBeUndefined();
  });

  it('are added where they belong, changed in place, and taken away again', () => {
    setActivePinia(createPinia());
    const store = useJob();
    store.change = (_, make) => (store.steps = make(store.steps));
    store.steps = [rule('b', { by: 'layer', layers: ['X'] })];
    const kinds = () => store.steps.map(({ kind }) => kind);
    chooseVariant('a', 'Winter');
    chooseUp('a', 'y');
    readLarger('a', 25.4, 'read in inch');
    expect(kinds()).toEqual(['leave-out', 'unit', 'up', 'variant']);
    expect(checkSteps(store.steps)).toHaveLength(4);
    chooseVariant('a', 'Summer');
    expect(variantChosen(store.steps, 'a')).toBe('Summer');
    expect(variantChosen(store.steps, 'b')).toBeUndefined();
    expect(kinds()).toEqual(['leave-out', 'unit', 'up', 'variant']);
    chooseVariant('a', undefined);
    chooseUp('a', undefined);
    readLarger('a', 1, '');
    leaveOut('b', { layers: [], classes: [], keys: [] });
    expect(kinds()).toEqual([]);
    // Taking away what is not there changes nothing.
    chooseUp('a', undefined);
    leaveOut('a', { layers: [], classes: ['IfcRoof'], keys: [] });
    expect(leftOut(store.steps, 'a').left.classes).toEqual(['IfcRoof']);
  });

  it('are said in a few words', () => {
    expect(
      describeSelector(rule('a', { by: 'class', classes: ['IfcDoor'] }, { by: 'layer', layers: ['X', 'Y'] }).selector),
    ).toBe('class IfcDoor or layer X, Y');
    expect(describeSelector({ by: 'and', of: [{ by: 'source', sources: ['a'] }] })).toBe('source a');
    expect(describeSelector({ by: 'property', name: 'Pset*.FireRating', value: 'R90' })).toBe('Pset*.FireRating = R90');
    expect(describeSize([1.05, 0.684, 0.7], 'mm')).toBe('1\u202f050 × 684 × 700\u00a0mm');
  });
});
