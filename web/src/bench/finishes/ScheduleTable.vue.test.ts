// The rules of a finish schedule as a table: what each takes hold of and whom it wins over; switched, moved, doubled, deleted.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h, ref } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import { useSelection } from '../../stores/selection.ts';
import {
  all,
  choose,
  click,
  mounted,
  openJob,
  press,
  step,
  textOf,
  the,
  unmountAll,
} from '../../testing/mountBench.ts';
import { useSchedule } from './schedule.ts';
import ScheduleTable from './ScheduleTable.vue';

const part = (name: string, layer: string): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(1, 1, 1),
  materials: ['#808080'],
});
const TREE = [part('Motor', 'DRIVE'), part('Gearbox', 'DRIVE'), part('Guard', 'GUARDS')];
const RULES = [
  { which: { by: 'layer', layers: ['DRIVE'] }, material: 'lib:cast-iron' },
  { which: { by: 'name', pattern: 'Motor' }, material: 'lib:glass' },
  { which: { by: 'name', pattern: 'Winch' }, material: 'lib:oak' },
];

afterEach(unmountAll);

async function table(wide = true) {
  const job = await openJob(TREE, [step('f', 'finishes', { by: 'all' }, { rules: RULES })]);
  const opened = ref<number>();
  mounted(
    defineComponent(() => {
      const schedule = useSchedule();
      return () => h(ScheduleTable, { schedule, wide, opened: opened.value, 'onUpdate:opened': (at?: number) => (opened.value = at) });
    }),
  ); // prettier-ignore
  await vi.waitFor(() => expect(cells(0)[wide ? 4 : 2]).toBe('2'));
  const rules = () => (job.store.steps[0].parameters as FinishesParameters).rules;
  const order = () => rules().map(({ material }) => material.replace('lib:', ''));
  return { ...job, opened, rules, order };
}
const line = (index: number) => all('row')[index + 1];
const cells = (index: number) => [...line(index).querySelectorAll('[role=cell]')].map((cell) => textOf(cell));

describe('the table of rules', () => {
  it('says for each which parts, how many, and whom it wins over', async () => {
    await table();
    expect(cells(0).slice(2)).toEqual(['layer DRIVE', 'Cast iron, dark', '2', '24', '', 'rule 2 on 1', '×']);
    expect(cells(1).slice(4, 8)).toEqual(['1', '12', 'rule 1 on 1', '']);
    // One that finds nothing is marked.
    expect(cells(2)[4]).toBe('! 0');
  });

  it('is moved by keys from its handle, and stays at the ends', async () => {
    const { order, settled, server } = await table();
    await press(the('button', 'Rule 2: up and down moves it'), 'ArrowUp');
    await settled();
    expect(order()).toEqual(['glass', 'cast-iron', 'oak']);
    expect(server.versions.at(-1)?.note).toBe('Rule 2 moved');
    // Lower rules win: the layer takes the motor now.
    await vi.waitFor(() => expect(cells(1)[6]).toBe('rule 1 on 1'));
    await press(the('button', 'Rule 1: up and down moves it'), 'ArrowUp');
    await press(the('button', 'Rule 3: up and down moves it'), 'ArrowDown');
    expect(order()).toEqual(['glass', 'cast-iron', 'oak']);
  });

  it('is switched off, doubled, deleted, each as one version', async () => {
    const { rules, order, settled, server, opened } = await table();
    await click(the('checkbox', 'Rule 1 is on'));
    await settled();
    expect(rules()[0].on).toBe(false);
    await vi.waitFor(() => expect([cells(0)[4], cells(1)[6]]).toEqual(['', '']));
    await click(the('button', 'Duplicate rule 2'));
    await settled();
    expect([order(), opened.value]).toEqual([['cast-iron', 'glass', 'glass', 'oak'], 2]);
    await click(the('button', 'Delete rule 4'));
    await settled();
    expect([order(), opened.value]).toEqual([['cast-iron', 'glass', 'glass'], undefined]);
    expect(server.versions.slice(-3).map(({ note }) => note)).toEqual([
      'Rule 1 switched off',
      'Rule 2 duplicated',
      'Rule 4 deleted',
    ]);
  });

  it('gives a rule another material out of the library', async () => {
    const { order, settled, store } = await table();
    await choose(line(1).querySelector('[role=combobox]') as HTMLElement, 'Cast iron, dark');
    await settled();
    expect(order()).toEqual(['cast-iron', 'cast-iron', 'oak']);
    const motor = store.scene.nodes.map((node) => node).find(({ name }) => name === 'Motor');
    expect(motor?.materials[0]).toContain('cast-iron');
  });

  it('outlines what a rule takes hold of while it is pointed at, and opens it with a click', async () => {
    const { opened, store } = await table();
    const selection = useSelection();
    const words = line(0).querySelector('.which') as HTMLElement;
    words.dispatchEvent(new Event('pointerenter'));
    const names = [...(selection.outlined ?? [])].map((row) => store.scene.nodes.row(row).name);
    expect(names).toEqual(['Motor', 'Gearbox']);
    words.dispatchEvent(new Event('blur'));
    expect(selection.outlined).toBeUndefined();
    await click(words);
    expect([opened.value, words.getAttribute('aria-expanded')]).toEqual([0, 'true']);
    await click(words);
    expect(opened.value).toBeUndefined();
  });

  it('at the side has two lines a rule, with all that decides', async () => {
    const { order, settled } = await table(false);
    expect(textOf(line(0))).toContain('layer DRIVE');
    await choose(line(0).querySelector('[role=combobox]') as HTMLElement, 'Oak, oiled');
    await settled();
    expect(order()[0]).toBe('oak');
  });
});
