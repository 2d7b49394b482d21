/** All formats that are written. */
import { glbWriter } from './glb.ts';
import { usdaWriter, usdzWriter } from './usd/usd.ts';
import type { Writer } from './writer.ts';

export const WRITERS: readonly Writer[] = [glbWriter, usdaWriter, usdzWriter];

export function writerFor(target: string): Writer | undefined {
  return WRITERS.find((writer) => writer.target === target);
}
