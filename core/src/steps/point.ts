/** Step: names a point of a source, which from then on goes with the source: to put it in register by, and to find it again in a delivery. */
import { factsOf } from '../scene/facts.ts';
import { invert, isSingular, multiply, translation } from '../scene/matrix.ts';
import { POINT } from '../scene/nodes.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { keyFor, MARK_FIELD } from './made.ts';

export interface PointParameters {
  name: string;
  spot?: Spot;
  mark?: string;
}

export const pointStep = defineStep<PointParameters>({
  kind: 'point',
  title: 'Setting-out point',
  purpose: 'Names a point of a source; it goes with the source, and other steps can be said by it.',
  also: ['survey point', 'control point', 'datum', 'benchmark', 'reference', 'null', 'locator'],
  act: 'Name point',
  station: 'arrange',
  topic: 'Origin',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  whole: () => true,
  fields: {
    name: { type: 'text', label: 'Name', most: 200 },
    spot: { type: 'spot', label: 'Point', help: 'Picked on a part it belongs to the source of that; typed it belongs to none.' },
    mark: MARK_FIELD,
  },
  defaults: { name: 'Point 1' },
  example: { parameters: { name: 'Grid A1', spot: { at: [12.5, 0, -4] } } },

  summary: ({ name, spot }) => `“${name}”, ${spot?.what ?? 'typed'}`,
  counts: () => 'rows',

  apply(edit, _rows, { name, spot, mark }) {
    const { scene } = edit;
    if (!spot) return { pending: 0, problems: [] };
    const found = spotInWorld(scene, spot);
    if (!found) return { pending: 0, problems: [lostSpot(spot)] };
    const facts = factsOf(scene);
    const { parent } = scene.nodes.columns;
    // It hangs under the root of its source, so that it stays with the source whatever becomes of the part.
    let above = spot.on === undefined ? -1 : (facts.rowOf(spot.on) ?? -1);
    while (above >= 0 && parent[above] >= 0) above = parent[above];
    if (above >= 0 && isSingular(facts.world(above)))
      return { pending: 0, problems: [`${scene.nodes.text('name', above)} has a scale of zero: nothing can be named in it.`] };
    const world = translation(found.point);
    const source = above < 0 ? '' : scene.nodes.word('source', above);
    edit.add({
      name,
      kind: 'assembly',
      parent: above < 0 ? null : above,
      key: keyFor(facts, source, mark ?? name),
      source,
      transform: above < 0 ? world : multiply(invert(facts.world(above)), world),
      flags: POINT,
    });
    return { pending: 0, problems: [] };
  },
}); // prettier-ignore
