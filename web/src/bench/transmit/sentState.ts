/** What became of a transmittal, in a word: whether all of it reads back as it was sent, and was read in full before. */
import type { Transmittal } from '@noble-prism/wire/job';

export function sentState({ outputs }: Pick<Transmittal, 'outputs'>): { text: string; tone: 'good' | 'bad' } {
  if (!outputs.every(({ error, readBack }) => !error && readBack?.holds)) return { text: 'differs', tone: 'bad' };
  // It is as it was here; the source was more.
  if (outputs.some(({ notInFull }) => notInFull)) return { text: 'not in full', tone: 'bad' };
  return { text: 'holds', tone: 'good' };
}
