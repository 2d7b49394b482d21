/** Step: lets a linkage run from one value of a link to another, and keeps the way as keyframes that files carry. */
import type { BakeInput, BakeOutput } from '../linkage/bake.ts';
import { composed, IDENTITY } from '../scene/matrix.ts';
import { hashData, hashPlaces } from '../scene/hash.ts';
import { decomposed } from '../scene/motion.ts';
import type { AnimationKeys } from '../scene/motion.ts';
import type { Motion, Scene, SceneNode } from '../scene/types.ts';
import { defineStep, isFailed, WHEREVER } from './kind.ts';
import type { Work } from './kind.ts';
import { driverOf, formatValue, gapWords, LINK_FIELD, stopWords } from './linkFields.ts';
import type { Driver } from './linkFields.ts';
import { MARK_FIELD } from './made.ts';

export interface RunParameters {
  name: string;
  link: string;
  /** Radians, where it is a hinge. */
  turnFrom?: number;
  turnTo?: number;
  /** Metres, where it is a slide. */
  shiftFrom?: number;
  shiftTo?: number;
  seconds: number;
  back?: 'same-way';
  mark?: string;
}

/** What is remembered of a run: its keys by the blob, or why there are none. */
interface Baked extends Omit<BakeOutput, 'tracks'> {
  keys: string;
}

/** Keys in each second: between them what turns goes a straight way, which must not be seen. */
const KEYS = 30;
const VERSION = 1;

const turn = (label: string) =>
  ({
    type: 'quantity',
    of: 'angle',
    unit: '°',
    label,
    min: -100 * Math.PI,
    max: 100 * Math.PI,
    optional: { meaning: 0 },
  }) as const;
const shift = (label: string) =>
  ({ type: 'quantity', of: 'length', unit: 'mm', label, min: -1e6, max: 1e6, optional: { meaning: 0 } }) as const;

export const runStep = defineStep<RunParameters>({
  kind: 'run',
  title: 'Run',
  purpose: 'Lets a linkage run and keeps its movement as keyframes, which go into the files.',
  also: ['animate', 'animation', 'bake', 'keyframes', 'movement', 'simulate', 'mechanism'],
  act: 'Keep movement',
  station: 'arrange',
  topic: 'Motion',
  place: WHEREVER,
  version: VERSION,
  needs: 'manifest',
  whole: () => true,
  fields: {
    name: { type: 'text', label: 'Name', most: 200 },
    link: LINK_FIELD,
    turnFrom: turn('Turned from'),
    turnTo: turn('to'),
    shiftFrom: shift('Shifted from'),
    shiftTo: shift('to'),
    seconds: { type: 'quantity', of: 'time', unit: 's', label: 'Takes', min: 0.01, max: 3600 },
    back: {
      type: 'choice',
      label: 'And then',
      called: 'end',
      choices: [
        { value: undefined, label: 'begins anew' },
        { value: 'same-way', label: 'comes back the same way' },
      ],
    },
    mark: MARK_FIELD,
  },
  defaults: { name: 'Movement 1', link: '', seconds: 4 },
  example: { parameters: { name: 'One turn', link: 'Crank shaft', turnFrom: 0, turnTo: 6.283185307179586, seconds: 4 } },

  summary: ({ name, link, seconds }) => `“${name}”, ${link}, ${seconds} s`,
  counts: () => 'rows',
  work: (scene, _rows, parameters) => {
    const driver = driverOf(scene, parameters.link);
    return typeof driver === 'string' ? [] : [workOf(scene, driver, parameters) as unknown as Work];
  },

  apply(edit, _rows, parameters, lookup) {
    const { scene } = edit;
    const driver = driverOf(scene, parameters.link);
    if (typeof driver === 'string') return { pending: 0, problems: [driver] };
    const found = lookup(workOf(scene, driver, parameters).key);
    if (found === undefined) return { pending: driver.places.length, problems: [] };
    if (isFailed(found)) return { pending: 0, problems: [found.failed] };
    const { keys, duration, stop, reached, gap, took } = found as Baked & { took?: number };
    if (stop !== undefined) return { pending: 0, problems: [stopWords(driver, scene, reached, stop)], worked: took ?? 0 };
    const id = `a:+${hashData(parameters.mark ?? parameters.name).slice(0, 12)}`;
    driver.places.forEach(({ row }, track) => {
      const known = movementOf(edit.placed(row));
      edit.setExtras(row, { motion: { ...known, tracks: { ...known.tracks, [id]: track } } });
    });
    edit.setAnimations({ [id]: { id, name: parameters.name, source: '', duration, nodes: driver.places.length, keys } });
    return { pending: 0, problems: [], notes: [rangeWords(driver, parameters), ...gapWords(gap)], worked: took ?? 0 };
  },
}); // prettier-ignore

function rangeOf({ link }: Driver, { turnFrom = 0, turnTo = 0, shiftFrom = 0, shiftTo = 0 }: RunParameters) {
  return link.kind === 'hinge' ? { from: turnFrom, to: turnTo } : { from: shiftFrom, to: shiftTo };
}

function rangeWords(driver: Driver, parameters: RunParameters): string {
  const { from, to } = rangeOf(driver, parameters);
  return `${driver.link.name} from ${formatValue(driver.link, from)} to ${formatValue(driver.link, to)} in ${parameters.seconds} s, ${KEYS} keys a second.`;
}

/**
 * How a row moves, or will: by its own place, so that what turns about its pivot turns about it between keys too. A place that move, turn
 * and scale do not make stays behind the movement.
 */
function movementOf({ transform, motion }: Pick<SceneNode, 'transform' | 'motion'>): Motion {
  if (motion) return motion;
  const { translation, rotation, scale } = decomposed(transform);
  const isWhole = composed(translation, rotation, scale).every((value, i) => Math.abs(value - transform[i]) < 1e-12);
  return isWhole ? { tracks: {}, rest: transform } : { tracks: {}, rest: IDENTITY, after: transform };
}

/** Where everything stands is part of the key: the same linkage elsewhere has other keys. */
function workOf(scene: Scene, driver: Driver, parameters: RunParameters): Work<'bake'> {
  const { linkage } = driver.mechanism;
  const input: BakeInput = {
    joints: linkage.joints,
    bodies: linkage.bodies,
    driver: linkage.driver,
    places: driver.places.map((place) => {
      const { rest, before = IDENTITY, growth = 1 } = movementOf(scene.nodes.row(place.row));
      return { ...place, rest, before, growth };
    }),
    ...rangeOf(driver, parameters),
    seconds: parameters.seconds,
    isBack: parameters.back === 'same-way',
    keysPerSecond: KEYS,
  };
  return {
    key: hashPlaces(['run', VERSION, input]),
    task: 'bake',
    label: parameters.name,
    input: async () => input,
    async keep({ tracks, ...rest }, blobs): Promise<Baked> {
      const keys: AnimationKeys = { tracks };
      return { ...rest, keys: await blobs.put(new TextEncoder().encode(JSON.stringify(keys))) };
    },
  };
}
