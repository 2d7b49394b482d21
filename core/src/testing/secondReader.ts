/** A second reader of mesh formats to compare with: the command of Debian's assimp-utils, which `npm test` unpacks. */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { models } from './reading.ts';

export interface SecondReading {
  /** Faces of all its meshes, each counted once however often it is placed. */
  faces: number;
  /** Nodes without the root that it adds. */
  nodes: number;
  /** Box of everything as placed, in the unit and with the axis that it makes of the file. */
  min: number[];
  max: number[];
}

/** Undefined where the second reader cannot read the file. */
export function secondReading(path: string): SecondReading | undefined {
  return secondReadingAt(join(models, path));
}

/** The same of a file that lies somewhere else. */
export function secondReadingAt(path: string): SecondReading | undefined {
  const folder = join(models, 'second-reader');
  let text: string;
  try {
    text = execFileSync(join(folder, 'assimp'), ['info', path], {
      env: { LD_LIBRARY_PATH: folder },
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    });
  } catch {
    return undefined;
  }
  const figure = (name: string) => Number(new RegExp(`${name}:\\s+(\\d+)`).exec(text)?.[1] ?? NaN);
  const point = (name: string) =>
    (new RegExp(`${name} point +\\(([^)]+)\\)`).exec(text)?.[1] ?? '').split(' ').map(Number);
  return { faces: figure('Faces'), nodes: figure('Nodes') - 1, min: point('Minimum'), max: point('Maximum') };
}
