// The finder of actions: what words lead to; and rows that are like others.
import { describe, expect, it } from 'vitest';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { findActions } from './benchAction.ts';
import type { BenchAction } from './benchAction.ts';
import { alike } from './alike.ts';

const action = (title: string, also: string[] = [], purpose = ''): BenchAction => ({
  id: title,
  title,
  also,
  purpose,
  group: 'Bench',
  run: () => {},
});
const all = [
  action('Reduce…', ['decimate', 'lighter'], 'Takes triangles away.'),
  action('Hide'),
  action('Undo'),
  action('Redo'),
  action('Rename in place', ['label']),
  action('Select all on the same layer'),
];
const titles = (sought: string) => findActions(all, sought).map(({ title }) => title);

describe('the finder', () => {
  it.each([
    ['what begins so comes first', 're', ['Reduce…', 'Redo', 'Rename in place']],
    ['other words for it', 'decimate', ['Reduce…']],
    ['what it says of itself', 'triangles', ['Reduce…']],
    ['several words, each anywhere', 'layer same', ['Select all on the same layer']],
    ['in either case', 'HIDE', ['Hide']],
    ['nothing', 'weld', []],
  ])('finds %s', (_, sought, expected) => expect(titles(sought)).toEqual(expected));

  it('shows all in their order where nothing is sought', () => expect(titles(' ')).toHaveLength(all.length));
});

describe('rows like others', () => {
  const bolt = { mesh: boxMesh(1, 1, 1), layer: 'BOLTS', materials: ['#111111'] };
  const scene = async (): Promise<Scene> =>
    (
      await sceneWith([
        {
          name: 'Left',
          children: [
            { ...bolt, name: 'Bolt 1' },
            { ...bolt, name: 'Bolt 2' },
          ],
        },
        { name: 'Right', children: [{ name: 'Case', mesh: boxMesh(2, 2, 2), layer: 'BOLTS' }, { name: 'Marker' }] },
      ])
    ).scene;
  it.each([
    ['mesh', 'Bolt 1', ['Bolt 1', 'Bolt 2']],
    ['layer', 'Bolt 1', ['Bolt 1', 'Bolt 2', 'Case']],
    ['materials', 'Case', ['Case']],
    ['class', 'Bolt 1', []],
    ['layer', 'Marker', []],
    ['parent', 'Bolt 2', ['Left']],
    ['parent', 'Left', []],
  ] as const)('by %s of %s', async (of, name, names) => {
    const some = await scene();
    const row = some.nodes.find((node) => node.name === name)?.id ?? -1;
    expect(alike(some, [row], of).map((key) => key.split('/').at(-1))).toEqual(names);
    expect(alike(some, [row], of, true)).toHaveLength(Math.min(1, names.length));
  });

  it('are none in an empty scene', () => {
    expect(alike({ ...EMPTY_SCENE, nodes: nodeTable([]) }, [], 'layer')).toEqual([]);
  });
});
