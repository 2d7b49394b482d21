// The strip of steps: those of the station first, as many as fit, each switched, opened, moved and deleted in place; undo and redo.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { Step } from '@noble-prism/core/steps/kinds';
import { all, click, mounted, openJob, press, step, textOf, the, unmountAll } from '../testing/mountBench.ts';
import { provideActions } from './actions.ts';
import { openStep } from './stepEdits.ts';
import StepsBar from './StepsBar.vue';

const TREE = ['Motor', 'Guard'].map((name) => ({ name, mesh: boxMesh(1, 1, 1), materials: ['#808080'] }));
const rename = (id: string, pattern: string) =>
  step(id, 'rename', { by: 'name', pattern }, { name: `${id}!`, of: 'parts' });
const STEPS: Step[] = [
  step('turn', 'turn', { by: 'all' }, { direction: 'z-to-y' }),
  rename('motor', 'Motor'),
  rename('winch', 'Winch'),
];

afterEach(unmountAll);

async function strip(steps = STEPS, station = 'arrange') {
  const job = await openJob(TREE, steps);
  const opened: string[] = [];
  const { router } = mounted(
    defineComponent(() => {
      provideActions({ go: () => {}, open: (what: string) => opened.push(what), ledger: () => undefined, view: () => undefined } as never);
      return () => h(StepsBar, { station });
    }),
  ); // prettier-ignore
  const ids = () => job.store.steps.map(({ id }) => id).join(' ');
  return { ...job, ids, opened, router };
}
const heads = () => [...document.querySelectorAll('.step .head')].map((head) => textOf(head));
const words = (title: string) => [...document.querySelectorAll<HTMLElement>('.words')].find((one) => textOf(one).includes(title)) as HTMLElement; // prettier-ignore

describe('the strip of steps', () => {
  it('shows number, title and what each concerns, and marks those with problems', async () => {
    await strip();
    expect(textOf(the('button', /^Steps/))).toBe('Steps 3');
    expect(heads()).toEqual(['1 Turn', '2 Rename', '3 Rename !']);
    expect(textOf(words('“motor!”'))).toContain('named Motor');
    expect(words('“winch!”').title).toContain('Changed 0 of 0 rows');
  });

  it('begins with those of the station, whatever their number', async () => {
    await strip([step('out', 'leave-out', { by: 'name', pattern: 'Guard' }, {}), ...STEPS], 'arrange');
    expect(heads().map((head) => head.split(' ')[1])).toEqual(['Turn', 'Rename', 'Rename', 'Leave']);
    expect([...document.querySelectorAll('.station')].map((name) => textOf(name))).toEqual(['Arrange', 'Receive']);
  });

  it('opens a step at its station, with what can be done to it, and closes it again', async () => {
    const { router, ids, settled } = await strip();
    await click(words('“motor!”'));
    expect(openStep.value).toBe('motor');
    await vi.waitFor(() => expect(router.currentRoute.value.params.station).toBe('arrange'));
    await click(the('button', 'Move earlier'));
    await settled();
    expect(ids()).toBe('motor turn winch');
    expect((the('button', 'Move earlier') as HTMLButtonElement).disabled).toBe(true);
    await click(the('button', 'Move later'));
    await settled();
    await click(the('button', 'Delete step'));
    await settled();
    expect([ids(), openStep.value]).toEqual(['turn winch', undefined]);
  });

  it('moves and deletes by keys, and does not go beyond the ends', async () => {
    const { ids, settled } = await strip();
    await press(words('“winch!”'), 'ArrowLeft', { altKey: true });
    await settled();
    expect(ids()).toBe('turn winch motor');
    await press(words('Turn'), 'ArrowLeft', { altKey: true });
    expect(ids()).toBe('turn winch motor');
    await press(words('“winch!”'), 'Delete');
    await settled();
    expect(ids()).toBe('turn motor');
  });

  it('switches a step off, and undoes and redoes that', async () => {
    const { store, settled } = await strip();
    const undo = () => the('button', 'Undo') as HTMLButtonElement;
    const redo = () => the('button', 'Redo') as HTMLButtonElement;
    expect(redo().disabled).toBe(true);
    await click(all('checkbox', 'Rename: switched on')[0]);
    await settled();
    expect(store.scene.nodes.map(({ name }) => name)).toContain('Motor');
    await click(undo());
    await vi.waitFor(() => expect(store.scene.nodes.map(({ name }) => name)).toContain('motor!'));
    expect(redo().disabled).toBe(false);
    await click(redo());
    await vi.waitFor(() => expect(store.steps[1].on).toBe(false));
  });

  it('shows as many as fit, and leads to all of them', async () => {
    const { opened } = await strip(Array.from({ length: 30 }, (_, i) => rename(`n${i}`, 'Motor')));
    expect(heads().length).toBeLessThan(10);
    const rest = the('button', /^and \d+ more/);
    expect(Number(/\d+/.exec(textOf(rest))?.[0]) + heads().length).toBe(30);
    await click(rest);
    await click(the('button', /^Steps/));
    expect(opened).toHaveLength(2);
    // What is open is always among them.
    openStep.value = 'n29';
    await vi.waitFor(() => expect(heads().some((head) => head.startsWith('30 '))).toBe(true));
  });

  it('says what it means that there are none', async () => {
    await strip([]);
    expect(textOf(document.body)).toContain('No steps: the sources as they came.');
  });
});
