/** Files that would be larger than what reads and writes them can take, said before they are written. */
import { PrismError } from '../errors.ts';
import { takeOff } from '../scene/facts.ts';
import type { Scene } from '../scene/types.ts';
import { formatBytes } from '../units.ts';
import type { Writer } from '../write/writer.ts';
import type { TargetSettings } from './targets/target.ts';

/** Lengths of GLB (glTF 2.0, 4.4.2), and of entries of a zip without its 64-bit extension (APPNOTE 4.3.9), have 32 bits. */
export const MOST_BYTES = 2 ** 32 - 1;

/** What is left of the numbers, at the least, once they are packed (its test holds it to a tenth of the file or more). */
const PACKED = 0.05;

/** Bytes of one file that holds all of a scene, at the least: neither points that are apart, nor pictures, nor names are counted. */
export function leastBytes(scene: Scene, settings: TargetSettings, writer: Writer): number {
  const { triangles, uniqueTriangles } = takeOff(scene);
  const isWrittenOut = writer.places === 'baked' || settings.pivots === 'baked';
  return (isWrittenOut ? triangles : uniqueTriangles) * (writer.perTriangle ?? 0) * (settings.compression ? PACKED : 1);
}

/** Why a scene cannot be one file of a target, and what to do instead; nothing where it can. */
export function tooLarge(scene: Scene, settings: TargetSettings, writer: Writer): string | undefined {
  const bytes = leastBytes(scene, settings, writer);
  if (bytes <= MOST_BYTES) return undefined;
  return `${writer.title} would be a file of about ${formatBytes(bytes)}, and ${formatBytes(MOST_BYTES)} is the most that can be written. Split it by layer, storey, assembly or part, or reduce it first.`;
}

/** @throws PrismError `too-large` */
export function checkSize(scene: Scene, settings: TargetSettings, writer: Writer): void {
  const problem = tooLarge(scene, settings, writer);
  if (problem) throw new PrismError('too-large', problem);
}
