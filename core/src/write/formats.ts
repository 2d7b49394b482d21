/** All formats that are written. */
import { glbWriter } from './glb.ts';
import type { Writer } from './writer.ts';

export const WRITERS: readonly Writer[] = [glbWriter];

export function writerFor(target: string): Writer | undefined {
  return WRITERS.find((writer) => writer.target === target);
}
