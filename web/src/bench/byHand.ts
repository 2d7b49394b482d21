/**
 * What a drag in the view does to the rows that were taken: moves, turns or scales them. The pointer is followed on what it is over;
 * over nothing, on the surface on which the drag means something: across the view, across the axis, along the way from the fixed point.
 */
import { cross, dot, IDENTITY, normalize, translation } from '@noble-prism/core/scene/matrix';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { rotationAbout } from '@noble-prism/core/scene/rotation';
import { about } from '@noble-prism/core/scene/standing';
import { formatAngle, formatNumber, metresPer } from '@noble-prism/core/units';
import type { Dragged, Hand } from '../stores/dragging.ts';

/** Goes where the pointer is, or on what is under it; along one axis of the world when asked. @param unit in which the way is said */
export function movingHand(unit: string): Hand<Vector> {
  return {
    hint: 'Take the part at a corner, an edge or a face, and put that on another. Shift keeps to one axis.',
    guide: () => undefined,
    follow(taken, to, round) {
      const free = between(taken, to);
      const way = round ? alongOne(free) : free;
      const lengths = way.map((one) => formatNumber(one / (metresPer(unit) ?? 1), 4)).join(', ');
      return { matrix: translation(way), value: way, words: `x, y, z: ${lengths} ${unit}` };
    },
  };
}

/** An angle this near to a whole step is one, radians. */
const TURN_STEP = Math.PI / 12;

/**
 * Turns about a point and an axis, so that what was taken is in the direction of the pointer: radians, counter-clockwise seen against
 * the axis, more than one turn too. In steps of 15° when asked.
 */
export function turningHand(fixed: Vector, axis: Vector): Hand<number> {
  const direction = normalize(axis);
  let last = 0;
  let startedAt: Vector | undefined;
  return {
    fixed,
    hint: 'Take the part away from its axis, and turn it; near a corner or an edge of others, into line with that. Shift turns by 15°.',
    guide: () => ({ normal: direction }),
    follow(taken, to, round) {
      if (startedAt !== taken) [last, startedAt] = [0, taken];
      const from = across(between(fixed, taken), direction);
      const towards = across(between(fixed, to), direction);
      // On the axis there is no direction.
      if (!isDirection(from) || !isDirection(towards)) return turned(last);
      const angle = Math.atan2(dot(cross(from, towards), direction), dot(from, towards));
      last = angle + 2 * Math.PI * Math.round((last - angle) / (2 * Math.PI));
      return turned(round ? Math.round(last / TURN_STEP) * TURN_STEP : last);
    },
  };
  function turned(angle: number): Dragged<number> {
    return { matrix: about(fixed, rotationAbout(direction, angle)), value: angle, words: formatAngle(angle) };
  }
}

/** A drag scales by no more and no less than this. */
const FACTORS = { min: 1e-3, max: 1e3 };

/** Scales about a point, so that what was taken is as far from it as the pointer, in its own direction. In steps of a tenth when asked. */
export function scalingHand(fixed: Vector): Hand<number> {
  return {
    fixed,
    hint: 'Take the part away from its fixed point, and draw it larger or smaller; near a corner or an edge of others, as far as that. Shift goes in tenths.',
    guide: (taken) => ({ along: between(fixed, taken) }),
    follow(taken, to, round) {
      const arm = between(fixed, taken);
      if (!isDirection(arm)) return { matrix: IDENTITY, value: 1, words: '× 1' };
      const free = dot(between(fixed, to), arm) / dot(arm, arm);
      const wanted = round ? Math.max(0.1, Math.round(free * 10) / 10) : free;
      const value = Math.min(Math.max(wanted, FACTORS.min), FACTORS.max);
      const matrix = about(fixed, [value, 0, 0, 0, 0, value, 0, 0, 0, 0, value, 0, 0, 0, 0, 1]);
      return { matrix, value, words: `× ${formatNumber(value, 4)}` };
    },
  };
}

const between = (from: Vector, to: Vector): Vector => [to[0] - from[0], to[1] - from[1], to[2] - from[2]];

/** A micrometre from a point or an axis is on it. */
const isDirection = (v: Vector) => Math.hypot(...v) > 1e-6;

/** What of it lies across a direction of length one. */
function across(v: Vector, direction: Vector): Vector {
  const ahead = dot(v, direction);
  return [v[0] - ahead * direction[0], v[1] - ahead * direction[1], v[2] - ahead * direction[2]];
}

function alongOne(way: Vector): Vector {
  const most = Math.max(...way.map(Math.abs));
  const axis = way.findIndex((one) => Math.abs(one) === most);
  return [axis === 0 ? way[0] : 0, axis === 1 ? way[1] : 0, axis === 2 ? way[2] : 0];
}
