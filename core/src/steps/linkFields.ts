/** What the steps that drive a linkage have in common: which link is driven, and the row of problems where it cannot be. */
import type { LinkField } from '../fields/field.ts';
import { bodyPlaces, linkCalled, linksOf, mechanismOf } from '../linkage/links.ts';
import type { BodyPlace, Link, Mechanism } from '../linkage/links.ts';
import { LOCKED } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';
import { formatAngle, formatLength } from '../units.ts';

export const LINK_FIELD: LinkField<object> = { type: 'link', label: 'Driver', called: 'driver' };

export interface Driver {
  link: Link;
  mechanism: Mechanism;
  places: BodyPlace[];
}

/** What a link drives; or why it drives nothing, in words. */
export function driverOf(scene: Scene, called: string): Driver | string {
  const links = linksOf(scene);
  const link = linkCalled(links, called);
  if (!link)
    return links.length === 0
      ? 'Nothing is linked yet: name a hinge or a slide first.'
      : `There is no link “${called}”. There are: ${links.map(({ name }) => name).join(', ')}.`;
  const mechanism = mechanismOf(scene, link);
  if (mechanism.linkage.fault) return mechanism.linkage.fault;
  const places = bodyPlaces(scene, mechanism);
  if (typeof places === 'string') return places;
  const locked = places.find(({ row }) => (scene.nodes.columns.flags[row] & LOCKED) !== 0);
  if (locked) return `${scene.nodes.text('name', locked.row)} is locked, so that nothing can be driven.`;
  return { link, mechanism, places };
}

/** A value of a link as people read it. */
export function formatValue({ kind }: Pick<Link, 'kind'>, value: number): string {
  // Adding zero turns -0 into 0.
  return kind === 'hinge' ? formatAngle(rounded(value) + 0) : formatLength(rounded(value) + 0, 'mm', 5);
}

/** `“Crank” comes to 31.2° only: further “Bore” would come apart.` */
export function stopWords({ link, mechanism }: Driver, scene: Scene, reached: number, stop: string): string {
  const names = mechanism.still.map((row) => scene.nodes.text('name', row));
  // What somebody forgot to say of a row is the usual reason.
  const why =
    stop.startsWith('it is locked') && names.length > 0
      ? ` These stand still, as no link says that they move: ${names.join(', ')}.`
      : '';
  return `“${link.name}” comes to ${formatValue(link, reached)} only: ${stop}.${why}`;
}

/** Said where axes are not quite parallel. */
export function gapWords(gap: number | undefined): string[] {
  return gap === undefined
    ? []
    : [`Axes are not quite parallel: joints are up to ${formatLength(gap, 'mm', 2)} apart.`];
}

/** What is nothing but rounding is nothing. */
const rounded = (value: number) => Math.round(value * 1e9) / 1e9;
