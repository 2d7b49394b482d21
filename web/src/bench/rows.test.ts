// Rows of the ledger: equal siblings gathered, filtered with what is above, sorted.
import { describe, expect, it } from 'vitest';
import { fileOf, readAll, readOnce } from '@noble-prism/core/testing/reading';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import { plainNode } from '@noble-prism/core/scene/nodes';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { LedgerTree } from './rows.ts';
import type { RowOptions } from './rows.ts';

const OPTIONS: RowOptions = { expanded: new Set(), filter: '', sort: 'tree', descending: false };

async function treeOf(...rows: string[]) {
  const points = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\n';
  const { scene } = await readAll(fileOf('a.obj', points + rows.map((row) => `${row}\n`).join('')));
  return new LedgerTree(scene);
}
const shown = (tree: LedgerTree, options: Partial<RowOptions> = {}) =>
  [...tree.rows({ ...OPTIONS, ...options })].map(
    ({ node, depth, rows }) => `${' '.repeat(depth)}${node.name}${rows.length > 1 ? ` ×${rows.length}` : ''}`,
  );

describe('the ledger', () => {
  it('opens only what is opened, and adds up what is below', async () => {
    const tree = await treeOf('o Rack', 'g left', 'f 1 2 3', 'g right', 'f 2 3 4', 'f 1 2 4', 'o Lid', 'f 1 2 3');
    expect(shown(tree)).toEqual(['Rack', 'Lid']);
    expect(shown(tree, { expanded: new Set(['/Rack']) })).toEqual(['Rack', ' left', ' right', 'Lid']);
    expect(tree.rows(OPTIONS).at(0)?.triangles).toBe(3);
  });

  it('gathers equal siblings into one row', async () => {
    const { scene } = await readOnce('glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb');
    const tree = new LedgerTree(scene);
    const open = new Set(scene.nodes.map(({ key }) => key));
    const gathered = [...tree.rows({ ...OPTIONS, expanded: open })].filter((row) => row.gathered);
    expect(gathered.length).toBeGreaterThan(0);
    for (const { rows } of gathered) expect(new Set([...rows].map((row) => scene.nodes.row(row).mesh)).size).toBe(1);
  });

  it('finds by name, class or property, and shows what is above', async () => {
    const { scene } = await readOnce('house.ifc');
    const tree = new LedgerTree(scene);
    const hits = (filter: string) => [
      ...tree.rows({ ...OPTIONS, filter, expanded: new Set(scene.nodes.map(({ key }) => key)) }),
    ];
    expect(hits('ifcdoor').filter(({ node }) => node.class === 'IfcDoor')).toHaveLength(5);
    expect(hits('ifcdoor')[0].node.class).toBe('IfcProject');
    expect(hits('leichtbeton').some(({ node }) => node.class === 'IfcWallStandardCase')).toBe(true);
    expect(hits('no such thing')).toEqual([]);
  });

  it('finds by patterns too, as rules do', async () => {
    const tree = await treeOf('o Bolt M8', 'f 1 2 3', 'o Bolt M10', 'f 2 3 4', 'o Nut M8', 'f 1 2 4');
    expect(shown(tree, { filter: 'bolt*' })).toEqual(['Bolt M8', 'Bolt M10']);
    expect(shown(tree, { filter: '*m8' })).toEqual(['Bolt M8', 'Nut M8']);
    expect(shown(tree, { filter: '/m\\d$/' })).toEqual(['Bolt M8', 'Nut M8']);
    expect(shown(tree, { filter: '/(/' })).toEqual([]);
  });

  it('sorts by the longest side and by the material', async () => {
    const tree = await treeOf('usemtl tin', 'o Short', 'f 1 2 3', 'usemtl brass', 'o Wide', 'f 1 2 4', 'f 2 3 4');
    expect(shown(tree, { sort: 'material' })).toEqual(['Wide', 'Short']);
    expect(shown(tree, { sort: 'size', descending: true })).toHaveLength(2);
  });

  it('tells rows of one name at the top by their source', async () => {
    const hall = (name: string) => readAll(fileOf(name, 'o Hall\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'));
    const [{ scene: a }, { scene: b }] = [await hall('east.obj'), await hall('west.obj')];
    const tree = new LedgerTree(mergeSlots([{ slot: 'a', scene: a }, { slot: 'b', scene: b }])); // prettier-ignore
    expect([...tree.scene.nodes].map((node) => tree.sourceOf(node))).toEqual(['east.obj', 'west.obj']);
    expect(tree.scene.nodes.map((node) => new LedgerTree(a).sourceOf(node))).toEqual([undefined, undefined]);
  });

  it('finds every one of what stands in equal assemblies', async () => {
    const set = ['g Bolt', 'f 1 2 3', 'g Nut', 'f 2 3 4'];
    const one = await treeOf('o Set', ...set);
    const nodes = [0, 1].flatMap((copy) =>
      one.scene.nodes.map((node) => ({
        ...plainNode(node),
        id: node.id + copy * 3,
        key: `/${copy}${node.key}`,
        parent: node.parent === null ? null : node.parent + copy * 3,
      })),
    );
    const found = shown(new LedgerTree({ ...one.scene, nodes: nodeTable(nodes) }), { filter: 'nut' });
    expect(found).toEqual(['Set ×2', ' Set', '  Nut', ' Set', '  Nut']);
  });

  it('sorts by name and by triangles, both ways', async () => {
    const tree = await treeOf('o b', 'f 1 2 3', 'o a', 'f 1 2 3', 'f 2 3 4', 'o c', 'f 1 2 3', 'f 2 3 4', 'f 1 3 4');
    expect(shown(tree, { sort: 'name' })).toEqual(['a', 'b', 'c']);
    expect(shown(tree, { sort: 'triangles', descending: true })).toEqual(['c', 'a', 'b']);
  });
});
