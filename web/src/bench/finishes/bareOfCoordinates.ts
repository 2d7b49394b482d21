/** Parts that show the mean colour of a material with pictures, since they have no texture coordinates: the words, and the way to them. */
import { uvStep } from '@noble-prism/core/steps/uv';
import type { Scene } from '@noble-prism/core/scene/types';
import { counted } from '@noble-prism/core/units';
import { useSelection } from '../../stores/selection.ts';
import { openAction } from '../openAction.ts';

/** Laid behind the finishes, coordinates come too late for what was given before. */
export function wordsOfBare({ nodes, meshes }: Scene, rows: readonly number[]): string {
  const late = rows.filter((row) => meshes[nodes.word('mesh', row)].uvs).length;
  const one = counted(rows.length, 'part shows', 'parts show');
  if (late === rows.length) return `${one} one colour instead of pictures, since the coordinates were laid after the finishes; move that step before them`; // prettier-ignore
  return `${one} one colour instead of pictures, since there are no texture coordinates`;
}

/** Selects the parts and opens the action that lays coordinates. @param go opens a station */
export function layCoordinates({ nodes }: Scene, rows: readonly number[], go: (station: string) => void): void {
  useSelection().pick(rows.map((row) => nodes.key(row)));
  openAction(uvStep.station, uvStep.kind);
  go(uvStep.station);
}
