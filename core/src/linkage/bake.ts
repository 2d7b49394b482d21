/** Runs a linkage and writes down where its bodies are: keyframes that files carry. */
import { invert, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { grown, trackOfPlaces } from '../scene/motion.ts';
import type { Track } from '../scene/motion.ts';
import type { Joint } from './joint.ts';
import { Linkage } from './linkage.ts';
import type { Driven } from './linkage.ts';
import { beforeOwn } from './links.ts';
import type { BodyPlace } from './links.ts';

export interface BakeInput {
  joints: readonly Joint[];
  bodies: number;
  driver: number;
  places: readonly (BodyPlace & Rest)[];
  /** Of the driver, radians or metres, and how long that takes, seconds. */
  from: number;
  to: number;
  seconds: number;
  /** Comes back the same way, in as long again. */
  isBack: boolean;
  keysPerSecond: number;
}

/** How a body stands when nothing moves: its own keys come between `before` and what is after them. */
export interface Rest {
  rest: Matrix;
  before: Matrix;
  /** How much the lengths of its keys grow; 1 where they stay. */
  growth: number;
}

export interface BakeOutput {
  /** One for each place, in their order. */
  tracks: Track[];
  duration: number;
  /** Why it went no further, and how far it came. */
  stop?: string;
  reached: number;
  gap?: number;
}

const MOST_KEYS = 20_000;

export async function bake(input: BakeInput): Promise<BakeOutput> {
  const { joints, bodies, driver, places, from, to, seconds, isBack, keysPerSecond } = input;
  const linkage = new Linkage(joints, bodies, driver);
  const steps = Math.max(1, Math.min(MOST_KEYS, Math.round(seconds * keysPerSecond)));
  let now: Driven = linkage.drive(from);
  const way: Driven[] = [];
  for (let step = 0; step <= steps && now.stop === undefined; step++) {
    now = linkage.driveFrom(now, from + ((to - from) * step) / steps);
    if (now.stop === undefined) way.push(now);
  }
  const gap = Math.max(0, ...way.map((one) => one.gap ?? 0));
  const done = {
    reached: now.reached,
    ...(now.stop === undefined ? {} : { stop: now.stop }),
    ...(gap > 0 ? { gap } : {}),
  };
  if (now.stop !== undefined || way.length === 0) return { tracks: [], duration: 0, ...done };
  const all = isBack ? [...way, ...way.slice(0, -1).reverse()] : way;
  const times = all.map((_, i) => (i * seconds) / steps);
  const tracks = places.map((place) => {
    const { before, rest, growth } = place;
    const [into, still] = [invert(before), multiply(before, grown(rest, growth))];
    const own = all.map(({ moves }) => grown(multiply(into, multiply(beforeOwn(place, moves), still)), 1 / growth));
    return trackOfPlaces(times, own);
  });
  return { tracks, duration: times[times.length - 1], ...done };
}
