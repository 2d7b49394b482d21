/** Movements as COLLADA has them: the matrix of each node over time, and a clip with the name of each movement. */
import type { AnimationKeys } from '../../scene/motion.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import { clipsIn, placesIn } from '../moments.ts';
import type { XmlIds, XmlText } from '../xml.ts';
import { matrixText, PLACE } from './placing.ts';

/** @param names ids of the nodes */
export function writeAnimations(
  xml: XmlText,
  scene: Scene,
  nodes: readonly SceneNode[],
  keys: ReadonlyMap<string, AnimationKeys>,
  names: ReadonlyMap<number, string>,
  ids: XmlIds,
): void {
  const clips = clipsIn(scene, keys);
  if (clips.length === 0) return;
  const parts = new Map<string, string[]>();
  xml.begin('library_animations');
  for (const { id: clip, name } of clips) {
    const own: string[] = [];
    for (const { id, motion } of nodes) {
      const places = motion && placesIn(motion, clip, keys, { matrices: true });
      if (!places) continue;
      const animation = ids.next(`${name}_${names.get(id) ?? ''}`);
      own.push(animation);
      const text = (list: readonly string[]) => list.join(' ');
      xml.begin('animation', { id: animation });
      const source = (what: string, array: string, count: number, size: number, value: string, parameter: string, type: string) => {
        xml.begin('source', { id: `${animation}-${what}` });
        xml.leaf(array, { id: `${animation}-${what}-array`, count: count * size }, value);
        xml.begin('technique_common').begin('accessor', { source: `#${animation}-${what}-array`, count, stride: size });
        xml.leaf('param', { name: parameter, type }).end().end().end();
      }; // prettier-ignore
      const count = places.length;
      source('times', 'float_array', count, 1, text(places.map(({ time }) => String(time))), 'TIME', 'float');
      source('places', 'float_array', count, 16, text(places.map(({ place }) => matrixText(place))), 'TRANSFORM', 'float4x4'); // prettier-ignore
      source('ways', 'Name_array', count, 1, text(places.map(() => 'LINEAR')), 'INTERPOLATION', 'Name');
      xml.within('sampler', { id: `${animation}-sampler` }, () => {
        for (const [semantic, what] of [
          ['INPUT', 'times'],
          ['OUTPUT', 'places'],
          ['INTERPOLATION', 'ways'],
        ])
          // prettier-ignore
          xml.leaf('input', { semantic, source: `#${animation}-${what}` });
      });
      xml.leaf('channel', { source: `#${animation}-sampler`, target: `${names.get(id) ?? ''}/${PLACE}` });
      xml.end();
    }
    parts.set(clip, own);
  }
  xml.end();
  xml.within('library_animation_clips', {}, () => {
    for (const { id, name, length } of clips)
      xml.within('animation_clip', { id: ids.next(`${name}_clip`), name, start: 0, end: length }, () => {
        for (const part of parts.get(id) ?? []) xml.leaf('instance_animation', { url: `#${part}` });
      });
  });
}
