// What stands in the ledger, station by station, on open files.
import { describe, expect, it } from 'vitest';
import { modelOf, readAll } from '@noble-prism/core/testing/reading';
import { cellText, columnsOf, materialsOf, NAME, sortAfter } from './ledgerColumns.ts';
import type { Column } from './ledgerColumns.ts';
import { LedgerTree } from './rows.ts';

async function spider() {
  const { scene } = await readAll(modelOf('OBJ/spider.obj'));
  const tree = new LedgerTree(scene);
  const rows = tree.rows({ expanded: new Set(), filter: '', sort: 'tree', descending: false });
  return { scene, tree, rows };
}
const column = (station: string, id: string) => columnsOf(station).find((entry) => entry.id === id) as Column;

describe('columns', () => {
  it('are those that the station decides by', () => {
    const titles = (station: string) =>
      columnsOf(station).map(({ title, unit }) => (unit ? `${title}, ${unit}` : title));
    expect(titles('receive')).toEqual(['Layer', 'Triangles']);
    expect(titles('arrange')).toEqual(['Layer', 'Longest, mm']);
    expect(titles('finishes')).toEqual(['Layer', 'Material']);
    expect(titles('lighten')).toEqual(['Triangles', 'Off by, mm']);
  });

  it('hold figures with their unit in the head, and a dash where there is nothing', async () => {
    const { scene, tree, rows } = await spider();
    const heaviest = [...rows].reduce((a, b) => (b.triangles > a.triangles ? b : a));
    expect(cellText(scene, tree, heaviest, column('receive', 'triangles'))).toBe(String(heaviest.triangles));
    const { bounds } = scene.meshes[heaviest.node.mesh ?? ''];
    const longest = Math.max(...bounds.max.map((high, axis) => high - bounds.min[axis])) * 1000;
    const shown = Number(cellText(scene, tree, heaviest, column('arrange', 'size')).replace(/\s|\u2009/g, ''));
    expect(shown / longest).toBeCloseTo(1, 3);
    expect(cellText(scene, tree, heaviest, column('lighten', 'deviation'))).toBe('');
    const empty = { ...heaviest, triangles: 0, node: { ...heaviest.node, mesh: undefined } };
    expect(cellText(scene, tree, empty, column('receive', 'triangles'))).toBe('–');
    expect(
      cellText(scene, tree, { ...empty, node: { ...empty.node, problem: 'x' } }, column('receive', 'triangles')),
    ).toBe('failed');
    expect(cellText(scene, tree, empty, column('arrange', 'size'))).toBe('');
  });

  it('name each material of a part once, and only those that it shows', async () => {
    const { scene, rows } = await spider();
    for (const { node } of rows) {
      const names = materialsOf(scene, node).map(({ name }) => name);
      expect(new Set(names).size).toBe(names.length);
      expect(names.length).toBeGreaterThan(0);
    }
    const [row] = rows;
    const bare = { ...row.node, mesh: undefined, materials: ['gone'] };
    expect(materialsOf(scene, bare)).toMatchObject([{ id: 'gone', name: 'none' }]);
  });
});

describe('a click on the head of a column', () => {
  it('sorts figures by the largest first, words by the alphabet, and comes back to the tree', () => {
    const tree = { sort: 'tree', descending: false } as const;
    const once = sortAfter(column('receive', 'triangles'), tree);
    expect(once).toEqual({ sort: 'triangles', descending: true });
    const twice = sortAfter(column('receive', 'triangles'), once);
    expect(twice).toEqual({ sort: 'triangles', descending: false });
    expect(sortAfter(column('receive', 'triangles'), twice)).toEqual(tree);
    expect(sortAfter(NAME, once)).toEqual({ sort: 'name', descending: false });
  });

  it('does nothing where there is no order', () => {
    const now = { sort: 'layer', descending: true } as const;
    expect(sortAfter(column('finishes', 'material'), now)).toEqual({ sort: 'material', descending: false });
    expect(sortAfter(column('arrange', 'size'), now)).toEqual({ sort: 'size', descending: true });
  });
});
