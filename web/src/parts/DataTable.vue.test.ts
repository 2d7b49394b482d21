// The table that all figures stand in: sorted by its heads, columns made wider, thousands of rows of which few are drawn.
import { afterEach, describe, expect, it } from 'vitest';
import { all, click, mounted, press, textOf, the, unmountAll } from '../testing/mountBench.ts';
import DataTable from './DataTable.vue';
import type { TableColumn } from './dataTable.ts';

interface Bolt {
  name: string;
  length: number | undefined;
}
const BOLTS: Bolt[] = [
  { name: 'M10', length: 40 },
  { name: 'M8', length: undefined },
  { name: 'M6', length: 12 },
];
const COLUMNS: TableColumn<Bolt>[] = [
  { id: 'name', title: 'Bolt', by: ({ name }) => name, text: ({ name }) => name },
  { id: 'length', title: 'Length, mm', figure: true, by: ({ length }) => length, text: ({ length }) => String(length ?? '') },
  { id: 'note', title: 'Note' },
]; // prettier-ignore

const table = (props: object = {}) =>
  mounted(DataTable, {
    columns: COLUMNS,
    rows: BOLTS,
    keyOf: ({ name }: Bolt) => name,
    label: 'Bolts',
    ...props,
  });
const lines = () =>
  all('row')
    .slice(1)
    .map((row) => textOf(row.querySelector('[role=cell]') as Element));
const head = (title: RegExp) => the('columnheader', title);
const sorted = (title: RegExp) => head(title).getAttribute('aria-sort');

afterEach(unmountAll);

describe('a table', () => {
  it('is sorted by a column one way, the other way, and then stands as it was given', async () => {
    table();
    expect(lines()).toEqual(['M10', 'M8', 'M6']);
    await click(the('button', 'Bolt'));
    expect([lines(), sorted(/^Bolt/)]).toEqual([['M6', 'M8', 'M10'], 'ascending']);
    await click(the('button', 'Bolt ↑'));
    expect([lines(), sorted(/^Bolt/)]).toEqual([['M10', 'M8', 'M6'], 'descending']);
    await click(the('button', 'Bolt ↓'));
    expect([lines(), sorted(/^Bolt/)]).toEqual([['M10', 'M8', 'M6'], 'none']);
  });

  it('begins with the largest of figures, and puts those that have none last either way', async () => {
    table();
    await click(the('button', 'Length, mm'));
    expect([lines(), sorted(/^Length/)]).toEqual([['M10', 'M6', 'M8'], 'descending']);
    await click(the('button', 'Length, mm ↓'));
    expect(lines()).toEqual(['M6', 'M10', 'M8']);
  });

  it('sorts by no column that has nothing to sort by', () => {
    table();
    expect(sorted(/^Note/)).toBeNull();
    expect(all('button').map((button) => textOf(button))).toEqual(['Bolt', 'Length, mm']);
  });

  it('draws the rows in sight alone, and says how many there are', () => {
    const rows = Array.from({ length: 20_000 }, (_, i) => ({ name: `Bolt ${i}`, length: i }));
    table({ rows, tallest: 260 });
    expect(the('table', 'Bolts').getAttribute('aria-rowcount')).toBe('20001');
    expect(lines().length).toBeGreaterThan(5);
    expect(lines().length).toBeLessThan(100);
  });

  it('makes a column wider and narrower by keys, and no narrower than can be read', async () => {
    table();
    const grip = the('separator', 'Width of Bolt');
    const width = () => the('table').style.getPropertyValue('--grid').split(' ')[0];
    expect(width()).toBe('minmax(0,');
    await press(grip, 'ArrowRight');
    const wide = Number.parseFloat(width());
    expect(wide).toBeGreaterThanOrEqual(36);
    for (let i = 0; i < 40; i++) await press(grip, 'ArrowLeft');
    expect(width()).toBe('36px');
    grip.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
    await press(grip, 'Tab');
    expect(width()).toBe('minmax(0,');
  });

  it('tells which row was chosen, with the key that was held, and marks those that are', async () => {
    const { page } = table({ chosen: new Set(['M8']) });
    const rows = all('row').slice(1);
    expect(rows.map((row) => row.classList.contains('chosen'))).toEqual([false, true, false]);
    await click(rows[2], { shiftKey: true });
    const [row, event] = page.emitted('choose')?.[0] as [Bolt, MouseEvent];
    expect([row.name, event.shiftKey]).toEqual(['M6', true]);
  });
});
