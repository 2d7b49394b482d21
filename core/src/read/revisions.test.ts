// Revisions of several sources that come together are told apart by their names.
import { describe, expect, it } from 'vitest';
import { slotsByName, slotsOfRevision } from './revisions.ts';

const shown = [
  { slot: 'a', name: 'frame.stp' },
  { slot: 'b', name: 'cover.stp' },
];

describe('models that came together', () => {
  it('are revisions of what is called like them, whatever the folder and the case', () => {
    expect(slotsByName(['B/Cover.STP', 'lever.stp', 'frame.stp'], shown)).toEqual(['b', undefined, 'a']);
  });

  it('as the revision of one source: the others go where they belong', () => {
    expect(slotsOfRevision(['lever.stp', 'frame.stp', 'cover.stp'], 'a', shown)).toEqual([undefined, 'a', 'b']);
  });

  it('the only one that is called like none is it, where nothing is called like it', () => {
    expect(slotsOfRevision(['frame rev B.stp', 'cover.stp'], 'a', shown)).toEqual(['a', 'b']);
  });

  it('are not guessed at: two could be meant, or none', () => {
    expect(slotsOfRevision(['frame B.stp', 'lever.stp'], 'a', shown)).toBeUndefined();
    expect(slotsOfRevision(['cover.stp'], 'a', shown)).toBeUndefined();
  });
});
