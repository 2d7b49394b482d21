/** Step: one assembly to take a whole model by: its pivot at a point that matters on site, everything under it. Nothing moves. */
import { factsOf } from '../scene/facts.ts';
import { translation } from '../scene/matrix.ts';
import { LOCKED } from '../scene/nodes.ts';
import { Rehanging, topmost } from '../scene/rehang.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { worldBox } from '../scene/tree.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { keyFor, MARK_FIELD, sourcesOf } from './made.ts';

export interface HandleParameters {
  name: string;
  /** Where its pivot lies; the middle of the base of all where nothing is said. */
  spot?: Spot;
  /** Locked at once. */
  lock?: 'locked';
  mark?: string;
}

export const handleStep = defineStep<HandleParameters>({
  kind: 'handle',
  title: 'Handle',
  purpose: 'Makes one assembly to take a whole model by, with its pivot at a point that matters; nothing moves.',
  also: ['root', 'control', 'null', 'master', 'insertion point', 'corner', 'anchor'],
  act: 'Make handle',
  station: 'arrange',
  topic: 'Handle',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    name: { type: 'text', label: 'Name', most: 1000, help: '{source} is the file name of the source.' },
    spot: {
      type: 'spot',
      label: 'Pivot at',
      optional: true,
      help: 'A corner that matters on site; the middle of the base where nothing is picked.',
    },
    lock: {
      type: 'choice',
      label: 'It is',
      called: 'state',
      choices: [
        { value: undefined, label: 'free' },
        { value: 'locked', label: 'locked' },
      ],
    },
    mark: MARK_FIELD,
  },
  defaults: { name: '{source}' },
  example: { parameters: { name: 'Site', spot: { at: [12.5, 0, -4] } } },

  summary: ({ name, spot }) => `“${name}”, ${spot?.what ?? (spot ? 'typed point' : 'base centre')}`,
  counts: () => 'rows',

  apply(edit, rows, { name, spot, lock, mark }) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const members = topmost(facts, rows);
    if (members.length === 0) return { pending: 0, problems: [] };
    const picked = spot && spotInWorld(scene, spot);
    if (spot && !picked) return { pending: 0, problems: [lostSpot(spot)] };
    const box = worldBox(scene, rows);
    const base = box ? ([(box.min[0] + box.max[0]) / 2, box.min[1], (box.min[2] + box.max[2]) / 2] as const) : ([0, 0, 0] as const); // prettier-ignore
    const place = translation(picked?.point ?? base);
    // Of several sources it is of none: each keeps its own below it.
    const sources = sourcesOf(scene, members);
    const source = sources.length === 1 ? scene.nodes.word('source', members[0]) : '';
    const row = edit.add({
      name: name.replaceAll('{source}', sources.length === 1 ? sources[0] : 'All sources'),
      kind: 'assembly',
      key: keyFor(facts, source, `handle ${mark ?? name}`),
      source,
      transform: place,
      ...(lock ? { flags: LOCKED } : {}),
    });
    const hanging = new Rehanging(edit);
    hanging.made(row, place);
    for (const member of members) hanging.hang(member, row);
    return { pending: 0, problems: hanging.problems };
  },
});
