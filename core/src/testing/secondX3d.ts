/** X3D as another engine understands it: it reads a file, says what of it it does not know, and writes what it has understood. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Window } from 'happy-dom';
import { Box3, Matrix4, Quaternion, Vector3 } from 'three';
import type { WrittenFile } from '../write/writer.ts';
import { inFolder } from './checkers.ts';
import { models } from './reading.ts';

export interface Understood {
  /** Nodes and fields that it does not know, values that it cannot read. */
  warnings: string[];
  /** The scene, as XML in its own words. */
  document: Document;
}

export function understoodX3d(files: readonly WrittenFile[]): Understood {
  const { stdout, stderr } = inFolder(files, (folder) =>
    spawnSync(join(models, 'checkers', 'tovrmlx3d'), ['--encoding', 'xml', join(folder, files[0].name)], { encoding: 'utf8', maxBuffer: 1 << 28 }),
  ); // prettier-ignore
  const warnings = stderr.split('\n').filter((line) => line.trim() !== '');
  const document = new new Window().DOMParser().parseFromString(stdout.replace(/<!DOCTYPE[^>]*>/, ''), 'text/xml');
  return { warnings, document: document as unknown as Document };
}

const numbers = (text: string | null, usual: string) => (text ?? usual).trim().split(/[\s,]+/).map(Number); // prettier-ignore

/** Around all points where they stand, in the numbers of the file. */
export function boxOfX3d({ document }: Understood) {
  const box = new Box3();
  const walk = (element: Element, place: Matrix4) => {
    let own = place;
    if (element.tagName === 'Transform') {
      const value = (name: string, usual: string) => numbers(element.getAttribute(name), usual);
      const [x, y, z, angle] = value('rotation', '0 0 1 0');
      const turn = new Quaternion().setFromAxisAngle(new Vector3(x, y, z).normalize(), angle);
      const move = new Vector3(...value('translation', '0 0 0'));
      own = place.clone().multiply(new Matrix4().compose(move, turn, new Vector3(...value('scale', '1 1 1'))));
    }
    if (element.tagName === 'Coordinate') {
      const values = numbers(element.getAttribute('point'), '');
      for (let i = 0; i + 2 < values.length; i += 3) box.expandByPoint(new Vector3().fromArray(values, i).applyMatrix4(own)); // prettier-ignore
    }
    for (const child of element.children) walk(child, own);
  };
  walk(document.documentElement, new Matrix4());
  return { min: box.min.toArray(), max: box.max.toArray() };
}
