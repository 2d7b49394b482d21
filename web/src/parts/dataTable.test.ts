// The order of a table's rows.
import { expect, it } from 'vitest';
import { sortedBy } from './dataTable.ts';

const rows = [
  { name: 'Bolt 10', weight: 2 },
  { name: 'Bolt 9', weight: undefined },
  { name: 'axle', weight: 7 },
  { name: 'Case', weight: 2 },
];

it.each([
  [
    'numbers from the largest, what has none last, equal ones as they stood',
    'weight',
    true,
    ['axle', 'Bolt 10', 'Case', 'Bolt 9'],
  ],
  ['numbers from the smallest, what has none last too', 'weight', false, ['Bolt 10', 'Case', 'axle', 'Bolt 9']],
  ['names as people count', 'name', false, ['axle', 'Bolt 9', 'Bolt 10', 'Case']],
] as const)('sorts %s', (_, by, descending, names) => {
  expect(sortedBy(rows, (row) => row[by], descending).map(({ name }) => name)).toEqual(names);
});
