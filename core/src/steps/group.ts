/** Step: put rows into a new assembly, under what is above all of them. Nothing moves. */
import { factsOf } from '../scene/facts.ts';
import { IDENTITY, invert, multiply, transformPoint, translation } from '../scene/matrix.ts';
import { commonParent, Rehanging, topmost } from '../scene/rehang.ts';
import { Rows } from '../scene/rowSet.ts';
import { withDescendants, worldBox } from '../scene/tree.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { keyFor, MARK_FIELD, sourcesOf } from './made.ts';

export interface GroupParameters {
  name: string;
  /** Where its pivot lies: in the middle of what it holds, of its base, or where that of its parent is. */
  pivot: 'base-centre' | 'box-centre' | 'parent';
  mark?: string;
}

export const groupStep = defineStep<GroupParameters>({
  kind: 'group',
  title: 'Group',
  purpose: 'Puts what is selected into a new assembly, under what is above all of it; nothing moves.',
  also: ['assembly', 'collect', 'folder', 'null', 'parent'],
  act: 'Group',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    name: { type: 'text', label: 'Name', most: 1000 },
    pivot: {
      type: 'choice',
      label: 'Pivot',
      choices: [
        { value: 'base-centre', label: 'centre of the base' },
        { value: 'box-centre', label: 'centre of the box' },
        { value: 'parent', label: 'where the parent’s is' },
      ],
    },
    mark: MARK_FIELD,
  },
  defaults: { name: 'Group', pivot: 'base-centre' },
  example: { selector: { by: 'name', pattern: 'Motor *' }, parameters: { name: 'Motor', pivot: 'base-centre' } },

  summary: ({ name }) => `“${name}”`,
  counts: () => 'rows',
  themselves: () => true,

  apply(edit, rows, { name, pivot, mark }) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const members = topmost(facts, rows);
    if (members.length === 0) return { pending: 0, problems: [] };
    const sources = sourcesOf(scene, members);
    if (sources.length > 1)
      return {
        pending: 0,
        problems: [`These rows come from ${sources.length} sources (${sources.slice(0, 3).join(', ')}). A group belongs to one: make a group in each.`], // prettier-ignore
      };
    const source = scene.nodes.word('source', members[0]);
    const parent = commonParent(facts, members);
    const above = parent < 0 ? IDENTITY : facts.world(parent);
    const box = pivot === 'parent' ? undefined : worldBox(scene, withDescendants(scene, Rows.of(scene.nodes.rows, members))); // prettier-ignore
    const point = box && [0, 1, 2].map((axis) => (box.min[axis] + box.max[axis]) / 2);
    // The world has y up; what is up in the source has been turned there.
    if (box && point && pivot === 'base-centre') point[1] = box.min[1];
    const transform = point
      ? translation(transformPoint(invert(above), point as unknown as [number, number, number]))
      : IDENTITY;
    const group = edit.add({
      parent: parent < 0 ? null : parent,
      name,
      kind: 'assembly',
      key: keyFor(facts, source, `group ${mark ?? name}`),
      source,
      transform,
    });
    const hanging = new Rehanging(edit);
    hanging.made(group, multiply(above, transform));
    for (const row of members) hanging.hang(row, group);
    return { pending: 0, problems: hanging.problems };
  },
});
