/** What is named and measured in a scene, as it is shown in the view. */
import { linksOf, seatOf } from '@noble-prism/core/linkage/links';
import { lengthOf, minus, plus } from '@noble-prism/core/measure/circle';
import { measuredShort } from '@noble-prism/core/measure/kept';
import type { Measured } from '@noble-prism/core/measure/kept';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { namedPoints } from '@noble-prism/core/scene/points';
import type { Scene } from '@noble-prism/core/scene/types';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import type { Callout } from '../view/callouts.ts';

/** Named points, and measures between points at what they are between; those of parts have no place of their own. */
export function calloutsOf(scene: Scene, reports: readonly StepReport[]): Callout[] {
  const unit = unitOf(scene);
  const measures = reports.flatMap(({ measured }) => (measured && measured.points.length > 0 ? [measured] : []));
  return [
    ...namedPoints(scene).map(({ name, at }) => ({ at, text: name })),
    ...measures.map((measured) => ({
      at: standsAt(measured),
      text: `${measured.name}: ${measuredShort(measured, unit)}`,
      lines: linesOf(measured),
    })),
  ];
}

/** Axes of links, as long as they lie apart; each with its name. */
export function linkCallouts(scene: Scene): Callout[] {
  const links = linksOf(scene).map((link) => ({ link, ...seatOf(scene, link) }));
  const spread = Math.max(0, ...links.map(({ point }) => lengthOf(minus(point, links[0].point))));
  const reach = spread > 0 ? spread / 4 : 0.05;
  const out: (Callout & { lines: Vector[] })[] = [];
  for (const { link, point, axis } of links) {
    const ends = [plus(point, axis, -reach), plus(point, axis, reach)];
    // What lies on one point has one text, or none could be read.
    const there = out.find(({ at }) => lengthOf(minus(at, point)) < reach * 1e-3);
    if (there) {
      there.text = `${there.text}, ${link.name}`;
      there.lines.push(...ends);
    } else out.push({ at: point, text: link.name, lines: ends });
  }
  return out;
}

/** In the middle of a distance, at the corner of an angle, on the rim of a circle. */
function standsAt({ of, points: [a, b] }: Measured): Vector {
  if (of === 'distance') return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
  return of === 'angle' ? b : a;
}

/** Ends two by two. */
function linesOf({ of, points: [a, b, c] }: Measured): Vector[] {
  return of === 'distance' ? [a, b] : of === 'angle' ? [a, b, b, c] : [a, b, b, c, c, a];
}
