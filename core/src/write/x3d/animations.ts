/** Movements as X3D has them: a clock for each, and interpolators that it drives, one for each value of a row that moves. */
import type { AnimationKeys, Path, Track } from '../../scene/motion.ts';
import { PATHS, SIZES, trackOfPlaces } from '../../scene/motion.ts';
import type { Scene } from '../../scene/types.ts';
import { clipsIn, placesIn } from '../moments.ts';
import type { XmlIds, XmlText } from '../xml.ts';
import { axisAngle, numbers } from './placing.ts';

/** @param names DEF of each row */
export function writeAnimations(
  xml: XmlText,
  scene: Scene,
  keys: ReadonlyMap<string, AnimationKeys>,
  names: ReadonlyMap<number, string>,
  ids: XmlIds,
): void {
  for (const { id: clip, name, length } of clipsIn(scene, keys)) {
    const clock = ids.next(name);
    const cycle = length > 0 ? length : 1;
    xml.begin('TimeSensor', { DEF: clock, cycleInterval: cycle, loop: 'true' });
    if (name !== clock) xml.leaf('MetadataString', { name: 'name', value: `"${name.replace(/[\\"]/g, '\\$&')}"`, containerField: 'metadata' }); // prettier-ignore
    xml.end();
    for (const { id, motion } of scene.nodes) {
      const places = motion && placesIn(motion, clip, keys);
      if (!places) continue;
      const times = places.map(({ time }) => time);
      const track = held(trackOfPlaces(times, places.map(({ place }) => place)), times, places.map(({ place }) => place)); // prettier-ignore
      for (const path of PATHS) {
        const channel = track[path];
        if (!channel) continue;
        const driver = ids.next(`${names.get(id) ?? ''}_${path}`);
        const kind = path === 'rotation' ? 'OrientationInterpolator' : 'PositionInterpolator';
        const values = times.map((_, i) => textOf(path, channel.values.slice(i * SIZES[path], (i + 1) * SIZES[path])));
        xml.leaf(kind, { DEF: driver, key: times.map((time) => time / cycle).join(' '), keyValue: values.join(' ') });
        xml.leaf('ROUTE', { fromNode: clock, fromField: 'fraction_changed', toNode: driver, toField: 'set_fraction' });
        xml.leaf('ROUTE', { fromNode: driver, fromField: 'value_changed', toNode: names.get(id), toField: path });
      }
    }
  }
}

const textOf = (path: Path, value: readonly number[]) => (path === 'rotation' ? axisAngle(value) : numbers(value));

/** A movement in which nothing changes is one still: it holds its place. */
function held(track: Track, times: number[], places: readonly (readonly number[])[]): Track {
  if (PATHS.some((path) => track[path])) return track;
  const values = places.flatMap((place) => [place[12], place[13], place[14]]);
  return { translation: { times, values, interpolation: 'linear' } };
}
