/** Shafts in holes among what is selected: between the rows that are selected, and between those in each assembly at or below them. */
import { linkOffers } from '@noble-prism/core/linkage/offers';
import type { LinkOffer } from '@noble-prism/core/linkage/offers';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { SceneFacts } from '@noble-prism/core/scene/facts';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { geometryPlace } from '@noble-prism/core/scene/spot';
import { withDescendants } from '@noble-prism/core/scene/tree';
import type { Scene } from '@noble-prism/core/scene/types';

export interface FoundOffers {
  offers: LinkOffer[];
  /** Solids that are still being read. */
  waits: number;
  /** Why none are looked for, in words. */
  not?: string;
}

/** Solids that are read for it at most: each costs the kernel a moment. */
const MOST_SOLIDS = 300;

export function linkOffersOf(
  scene: Scene,
  selected: readonly number[],
  shapeOf: (solid: string | undefined) => ExactShape | undefined,
): FoundOffers {
  const facts = factsOf(scene);
  const levels = levelsIn(facts, selected);
  const rows = [...new Set(levels.flat())];
  if (levels.length === 0)
    return {
      offers: [],
      waits: 0,
      not: 'Select an assembly, or the parts and assemblies that move against each other.',
    };
  const below = rows.map((row) =>
    [...withDescendants(scene, Rows.of(scene.nodes.rows, [row]))].filter((at) => scene.nodes.columns.solid[at] > 0),
  );
  const solids = new Set(below.flat().map((row) => scene.nodes.word('solid', row)));
  if (solids.size === 0)
    return {
      offers: [],
      waits: 0,
      not: 'Nothing selected is a solid: pick the axis by hand, it is fitted to the mesh.',
    };
  if (solids.size > MOST_SOLIDS)
    return { offers: [], waits: 0, not: `${solids.size} solids are too many to be looked through: select fewer.` };
  let waits = 0;
  for (const solid of solids) if (!shapeOf(solid)) waits++;
  if (waits > 0) return { offers: [], waits };
  const bodies = new Map(
    rows.map((row, i) => [
      row,
      {
        row,
        shapes: below[i].flatMap((at) => {
          const shape = shapeOf(scene.nodes.word('solid', at));
          return shape ? [{ shape, place: geometryPlace(scene, at) }] : [];
        }),
      },
    ]),
  );
  return { offers: levels.flatMap((level) => linkOffers(level.map((row) => bodies.get(row)!))), waits: 0 };
}

/** Rows that may move against each other: those that are selected, and those that hang in one assembly, however deep it is. */
function levelsIn(facts: SceneFacts, selected: readonly number[]): number[][] {
  const levels: number[][] = selected.length > 1 ? [[...selected]] : [];
  const open = [...selected];
  for (let row = open.pop(); row !== undefined; row = open.pop()) {
    const below = [...facts.childrenOf(row)];
    if (below.length > 1) levels.push(below);
    open.push(...below);
  }
  return levels;
}
