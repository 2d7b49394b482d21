/** Shafts in holes among what is selected: the rows that are selected, or what is in the only one. */
import { linkOffers } from '@noble-prism/core/linkage/offers';
import type { LinkOffer } from '@noble-prism/core/linkage/offers';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { factsOf } from '@noble-prism/core/scene/facts';
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
  const rows = selected.length === 1 ? [...facts.childrenOf(selected[0])] : selected;
  if (rows.length < 2) return { offers: [], waits: 0, not: 'Select an assembly, or the parts and assemblies that move against each other.' };
  const below = rows.map((row) => [...withDescendants(scene, Rows.of(scene.nodes.rows, [row]))].filter((at) => scene.nodes.columns.solid[at] > 0));
  const solids = new Set(below.flat().map((row) => scene.nodes.word('solid', row)));
  if (solids.size === 0) return { offers: [], waits: 0, not: 'Nothing selected is a solid: pick the axis by hand, it is fitted to the mesh.' };
  if (solids.size > MOST_SOLIDS) return { offers: [], waits: 0, not: `${solids.size} solids are too many to be looked through: select fewer.` };
  let waits = 0;
  for (const solid of solids) if (!shapeOf(solid)) waits++;
  if (waits > 0) return { offers: [], waits };
  const bodies = rows.map((row, i) => ({
    row,
    shapes: below[i].flatMap((at) => {
      const shape = shapeOf(scene.nodes.word('solid', at));
      return shape ? [{ shape, place: geometryPlace(scene, at) }] : [];
    }),
  }));
  return { offers: linkOffers(bodies), waits: 0 };
} // prettier-ignore
