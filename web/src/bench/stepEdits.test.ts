// Edits of the list of steps: each is one change that the server can refuse or undo, and says what it did.
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Step } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { useSelection } from '../stores/selection.ts';
import { changeSteps, openStep } from './stepEdits.ts';

const step = (id: string, kind: string): Step => ({ id, kind, on: true, selector: { by: 'all' }, parameters: {} });
let notes: string[];

beforeEach(() => {
  setActivePinia(createPinia());
  const store = useJob();
  store.steps = [step('t', 'tessellate'), step('u', 'turn'), step('r', 'reduce')];
  notes = [];
  // The store itself would also save: here it is enough that the change is made, and how it is called.
  store.change = (note, make) => {
    notes.push(note);
    store.steps = make(store.steps);
  };
});
const order = () => useJob().steps.map(({ id }) => id);

describe('adding', () => {
  it('puts a step at the end, or where the usual order has it', () => {
    const last = changeSteps.add('rename', { by: 'all' }, {});
    const first = changeSteps.add('unit', { by: 'all' }, {});
    const second = changeSteps.add('tessellate', { by: 'all' }, {});
    expect(order()).toEqual([first, 't', second, 'u', 'r', last]);
    expect(notes).toEqual(['Rename added', 'Unit added', 'Tessellate added']);
  });

  it('puts steps of another job each where it belongs, as one change, under ids of their own', () => {
    changeSteps.addAll(
      [{ ...step('r', 'reduce'), parameters: { keep: 0.2 } }, step('v', 'variant')],
      'Template Hall given',
    );
    expect(useJob().steps.map(({ kind }) => kind)).toEqual(['variant', 'tessellate', 'turn', 'reduce', 'reduce']);
    expect(order().slice(1, 4)).toEqual(['t', 'u', 'r']);
    expect(new Set(order()).size).toBe(5);
    expect(notes).toEqual(['Template Hall given']);
  });
});

describe('changing', () => {
  it('edits, switches and deletes one step, and closes it where it was open', () => {
    changeSteps.edit('u', { parameters: { direction: 'z-to-y' } });
    changeSteps.toggle('r');
    openStep.value = 't';
    changeSteps.remove('t');
    expect(openStep.value).toBeUndefined();
    expect(useJob().steps).toMatchObject([
      { id: 'u', parameters: { direction: 'z-to-y' } },
      { id: 'r', on: false },
    ]);
    expect(notes).toEqual(['Turn edited', 'Reduce switched off', 'Tessellate deleted']);
  });

  it('does nothing to a step that is gone', () => {
    changeSteps.edit('x', {});
    changeSteps.toggle('x');
    changeSteps.remove('x');
    changeSteps.move('x', 1);
    expect(notes).toEqual([]);
  });
});

describe('moving', () => {
  it('goes by places and stays at the ends', () => {
    changeSteps.move('t', 1);
    expect(order()).toEqual(['u', 't', 'r']);
    changeSteps.move('t', 9);
    expect(order()).toEqual(['u', 'r', 't']);
    changeSteps.move('t', 1);
    changeSteps.move('u', -1);
    expect(notes).toHaveLength(2);
  });
});

describe('several steps', () => {
  it('are switched, moved and deleted together, as one change each', () => {
    changeSteps.switchAll(['t', 'r'], false);
    expect(useJob().steps.map(({ on }) => on)).toEqual([false, true, false]);
    changeSteps.moveAll(['t', 'r'], 1);
    // They close ranks: down from the last of them.
    expect(order()).toEqual(['u', 't', 'r']);
    changeSteps.moveAll(['t', 'r'], -1);
    expect(order()).toEqual(['t', 'r', 'u']);
    changeSteps.removeAll(['t', 'u']);
    expect(order()).toEqual(['r']);
    expect(notes).toEqual(['2 steps switched off', '2 steps moved', '2 steps moved', '2 steps deleted']);
  });

  it('that are so already are no change', () => {
    changeSteps.switchAll(['t', 'u'], true);
    changeSteps.moveAll(['t', 'u'], -1);
    expect(notes).toEqual([]);
  });
});

describe('the selection', () => {
  it('is set, added to, and taken from; a new step follows it', () => {
    const selection = useSelection();
    expect(selection.selector).toEqual({ by: 'all' });
    selection.pick(['a', 'b']);
    selection.pick(['b'], 'toggle');
    selection.pick(['c'], 'add');
    expect(selection.selector).toEqual({ by: 'picked', keys: ['a', 'c'] });
    selection.clear();
    expect(selection.keys.size).toBe(0);
  });
});
