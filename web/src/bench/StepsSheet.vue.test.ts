// All steps of a job in one sheet: found by words, chosen singly and in ranges, switched, moved and deleted together, opened at their station.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { all, click, fill, mounted, openJob, press, step, textOf, the, unmountAll } from '../testing/mountBench.ts';
import type { Mounted, OpenJob } from '../testing/mountBench.ts';
import { openStep } from './stepEdits.ts';
import StepsSheet from './StepsSheet.vue';

const part = (name: string): PartSpec => ({ name, layer: 'DRIVE', mesh: boxMesh(1, 1, 1), materials: ['#808080'] });
const STEPS = [
  step('turn', 'turn', { by: 'all' }, { direction: 'z-to-y' }),
  step('motor', 'rename', { by: 'name', pattern: 'Motor' }, { name: 'Engine', of: 'parts' }),
  step('winch', 'rename', { by: 'name', pattern: 'Winch' }, { name: 'Hoist', of: 'parts' }),
  step('out', 'leave-out', { by: 'name', pattern: 'Guard' }, {}),
];

let job: OpenJob;
let sheet: Mounted;
beforeEach(async () => {
  job = await openJob([part('Motor'), part('Gearbox'), part('Guard')], STEPS);
  sheet = mounted(StepsSheet, { visible: true });
  await vi.waitFor(() => the('table', 'All steps'));
});
afterEach(unmountAll);

const line = (number: number) => all('row')[number];
const cells = (number: number) => [...line(number).querySelectorAll('[role=cell]')].map((cell) => textOf(cell));
const ids = () => job.store.steps.map(({ id }) => id).join(' ');
const count = () => textOf(the('status'));
const box = (number: number) => line(number).querySelector('input[type=checkbox]') as HTMLElement;

describe('the sheet of steps', () => {
  it('says for each what it does, to what, and with which result', () => {
    expect(count()).toContain('4 steps');
    // Number, on, step, station, does, concerns, found, changed.
    expect(cells(2).slice(1, 9)).toEqual(['2', '', 'Rename', 'Arrange', '“Engine”', 'named Motor', '1', '1']);
    expect(cells(3).slice(7, 9)).toEqual(['0', '0']);
    // One that finds nothing is a problem, and is counted as one.
    expect(count()).toContain('1 with problems');
    expect(cells(3).at(-1)).not.toBe('');
  });

  it('finds steps by what they do and concern', async () => {
    await fill(the('textbox', 'Find steps'), 'winch');
    expect([count(), all('row').length - 1]).toEqual(['1 of 4 steps, 1 with problems', 1]);
    await fill(the('textbox', 'Find steps'), 'no such thing');
    expect(textOf(document.body)).toContain('No step says “no such thing”.');
  });

  it('chooses one, several, a range, all; and does with them what is asked for as one change', async () => {
    const off = the('button', 'Switch off') as HTMLButtonElement;
    expect(off.disabled).toBe(true);
    await click(box(2));
    await click(box(4), { shiftKey: true });
    expect(count()).toBe('3 steps chosen');
    await click(off);
    await job.settled();
    expect(job.store.steps.map(({ on }) => on)).toEqual([true, false, false, false]);
    expect(job.server.versions.at(-1)?.note).toBe('3 steps switched off');
    await click(the('button', 'Switch on'));
    await job.settled();
    expect(job.store.steps.every(({ on }) => on)).toBe(true);
    await click(the('checkbox', 'Choose all'));
    expect(count()).toBe('4 steps chosen');
    await click(the('checkbox', 'Choose all'));
    expect(count()).toContain('4 steps,');
  });

  it('moves what is chosen earlier and later, together, by buttons and by keys', async () => {
    await click(line(3));
    await click(line(4), { ctrlKey: true });
    await click(the('button', 'Earlier'));
    await job.settled();
    expect(ids()).toBe('turn winch out motor');
    await press(the('table', 'All steps'), 'ArrowDown', { altKey: true });
    await job.settled();
    expect(ids()).toBe('turn motor winch out');
    // At the end they stay.
    await press(the('table', 'All steps'), 'ArrowDown', { altKey: true });
    expect(ids()).toBe('turn motor winch out');
  });

  it('deletes with Del, but not while somebody types', async () => {
    await click(line(2));
    await press(the('textbox', 'Find steps'), 'Delete');
    expect(ids()).toBe('turn motor winch out');
    await press(the('table', 'All steps'), 'Delete');
    await job.settled();
    expect(ids()).toBe('turn winch out');
    expect(job.store.scene.nodes.map(({ name }) => name)).toContain('Motor');
  });

  it('opens a step at its station, and goes', async () => {
    await click(the('button', 'Leave out'));
    expect(openStep.value).toBe('out');
    expect(sheet.page.emitted('update:visible')?.at(-1)).toEqual([false]);
    await vi.waitFor(() => expect(sheet.router.currentRoute.value.params.station).toBe('receive'));
  });

  it('is sorted by its figures', async () => {
    await click(the('button', 'Changed, rows'));
    expect([1, 2, 3, 4].map((number) => Number(cells(number)[8]))).toEqual(
      [1, 2, 3, 4].map((number) => Number(cells(number)[8])).sort((a, b) => b - a),
    );
  });

  it('says what to do where there are none', async () => {
    await click(the('checkbox', 'Choose all'));
    await click(the('button', 'Delete'));
    await job.settled();
    expect(textOf(document.body)).toContain('No steps: the sources as they came.');
  });
});
