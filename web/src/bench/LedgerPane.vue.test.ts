// The ledger by keyboard and pointer: tree opened and closed, rows chosen singly and in ranges, found, sorted, renamed, left out.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useSelection } from '../stores/selection.ts';
import { all, click, fill, mounted, openJob, press, textOf, the, unmountAll } from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';
import LedgerPane from './LedgerPane.vue';

const part = (name: string, size: number, layer = 'DRIVE'): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(size, 1, 1),
  materials: ['#808080'],
});
const TREE: PartSpec[] = [
  {
    name: 'Drive unit',
    children: [part('Motor', 3), { name: 'Train', children: [part('Wheel', 1), part('Pin', 2, 'FASTENERS')] }],
  },
  part('Guard', 4, 'GUARDS'),
];

let job: OpenJob;
let menus: MouseEvent[];
beforeEach(async () => {
  job = await openJob(TREE);
  menus = [];
  const { store } = job;
  mounted(LedgerPane, { station: 'receive', bands: store.evaluation?.bands, hues: [], onMenu: (event: MouseEvent) => menus.push(event) });
}); // prettier-ignore
afterEach(unmountAll);

const grid = () => the('treegrid');
const rows = () => all('row').filter((row) => row.id.startsWith('row-'));
const names = () => rows().map((row) => textOf(row.querySelector('.name') as Element));
const row = (name: string) => rows()[names().indexOf(name)];
const chosen = () => rows().filter((one) => one.getAttribute('aria-selected') === 'true').map((one) => textOf(one.querySelector('.name') as Element)); // prettier-ignore

describe('the tree', () => {
  it('opens its first levels, and is opened and closed by arrows; left goes up to what it hangs below', async () => {
    expect(names()).toEqual(['Drive unit', 'Motor', 'Train', 'Guard']);
    expect(rows().map((one) => one.getAttribute('aria-level'))).toEqual(['1', '2', '2', '1']);
    await click(row('Train'));
    await press(grid(), 'ArrowRight');
    expect(names()).toEqual(['Drive unit', 'Motor', 'Train', 'Wheel', 'Pin', 'Guard']);
    await press(grid(), 'ArrowDown');
    expect(chosen()).toEqual(['Wheel']);
    await press(grid(), 'ArrowLeft');
    expect(chosen()).toContain('Train');
    await press(grid(), 'ArrowLeft');
    expect(names()).toEqual(['Drive unit', 'Motor', 'Train', 'Guard']);
    await press(grid(), 'End');
    expect(chosen()).toEqual(['Guard']);
    await press(grid(), 'Home');
    expect(chosen()).toEqual(['Drive unit', 'Motor', 'Train']);
  });

  it('opens where something was picked elsewhere', async () => {
    const { nodes } = job.store.scene;
    useSelection().pick([nodes.key(nodes.map(({ name }) => name).indexOf('Pin'))]);
    await vi.waitFor(() => expect(chosen()).toEqual(['Pin']));
  });
});

describe('choosing', () => {
  it('adds with Ctrl, takes ranges with Shift, by pointer and by keys', async () => {
    await click(row('Motor'));
    await click(row('Guard'), { ctrlKey: true });
    expect(chosen()).toEqual(['Motor', 'Guard']);
    await click(row('Motor'), { ctrlKey: true });
    expect(chosen()).toEqual(['Guard']);
    await click(row('Motor'));
    await click(row('Guard'), { shiftKey: true });
    expect(chosen()).toEqual(['Motor', 'Train', 'Guard']);
    await click(row('Guard'));
    await press(grid(), 'ArrowUp', { shiftKey: true });
    expect(chosen()).toEqual(['Train', 'Guard']);
    await press(grid(), ' ');
    expect(chosen()).toEqual(['Guard']);
  });

  it('with Ctrl A takes all, or what a search has found', async () => {
    await press(grid(), 'a', { ctrlKey: true });
    expect(chosen()).toContain('Motor');
    const everything = chosen().length;
    await fill(the('textbox', 'Find in the ledger'), 'pin');
    await press(grid(), 'a', { ctrlKey: true });
    expect(chosen()).toEqual(['Pin']);
    expect(everything).toBeGreaterThan(2);
  });

  it('for the menu takes the row under it, and leaves a selection that it is part of', async () => {
    await click(row('Motor'));
    row('Guard').dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, cancelable: true }));
    await vi.waitFor(() => expect(chosen()).toEqual(['Guard']));
    await click(row('Motor'), { ctrlKey: true });
    row('Guard').dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, cancelable: true }));
    expect(chosen()).toEqual(['Motor', 'Guard']);
    expect(menus).toHaveLength(2);
  });
});

describe('finding and sorting', () => {
  it('shows what is called so with what it hangs in, and says where nothing is', async () => {
    await fill(the('textbox', 'Find in the ledger'), 'pin');
    expect(names()).toEqual(['Drive unit', 'Train', 'Pin']);
    await fill(the('textbox', 'Find in the ledger'), 'fasteners');
    expect(names()).toContain('Pin');
    await fill(the('textbox', 'Find in the ledger'), 'winch');
    expect(textOf(document.body)).toContain('Nothing is called “winch”. Esc clears the search.');
    the('textbox', 'Find in the ledger').dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    await vi.waitFor(() => expect(names()).toHaveLength(4));
  });

  it('by name goes one way, the other, and back to the tree', async () => {
    const head = () => all('columnheader').find((one) => textOf(one).startsWith('Part')) as HTMLElement;
    const sortNow = () => click((head().querySelector('button') ?? head()) as HTMLElement);
    await sortNow();
    const once = names();
    await sortNow();
    const twice = names();
    await sortNow();
    // Within each assembly.
    expect(once).toEqual(['Drive unit', 'Motor', 'Train', 'Guard']);
    expect(twice).toEqual(['Guard', 'Drive unit', 'Train', 'Motor']);
    expect(names()).toEqual(['Drive unit', 'Motor', 'Train', 'Guard']);
  });
});

describe('changing', () => {
  it('renames in place: a step, which Escape gives up', async () => {
    await click(row('Motor'));
    await press(grid(), 'F2');
    await fill(the('textbox', 'New name'), 'Main motor');
    await press(the('textbox', 'New name'), 'Escape');
    expect(names()).toContain('Motor');
    await press(grid(), 'F2');
    await fill(the('textbox', 'New name'), '  Main motor ');
    await press(the('textbox', 'New name'), 'Enter');
    await job.settled();
    expect(names()).toContain('Main motor');
    expect(job.store.steps).toMatchObject([{ kind: 'rename', parameters: { name: 'Main motor', of: 'picked' } }]);
  });

  it('leaves out what is selected with Del', async () => {
    const button = the('button', 'Leave out') as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    await click(row('Train'));
    expect(button.disabled).toBe(false);
    await press(grid(), 'Delete');
    await job.settled();
    expect(names()).not.toContain('Train');
    expect(job.store.steps).toMatchObject([{ kind: 'leave-out' }]);
  });
});

it('has columns by station, figures with their unit', () => {
  const heads = () => all('columnheader').map((head) => textOf(head));
  expect(heads().join(' ')).toMatch(/Part.*Layer.*Triangles/);
  const cellsOf = (name: string) => [...row(name).querySelectorAll('[role=gridcell]')].map((cell) => textOf(cell));
  expect(cellsOf('Guard').slice(1)).toEqual(['GUARDS', '12']);
});
