// A change kept as data is made again on another list: nothing of the others is lost, and what it changed is as it made it.
import { expect, it } from 'vitest';
import type { Step } from '@noble-prism/core/steps/kinds';
import { randomNumbers } from '@noble-prism/core/testing/random';
import { changedSources, changedSteps } from './stepsChange.ts';

const list = (words: string): Step[] =>
  words.split(' ').filter(Boolean).map((word) => ({ id: word[0], kind: 'rename', on: true, selector: { by: 'all' }, parameters: { name: word } })); // prettier-ignore
const words = (steps: readonly Step[]) =>
  steps.map(({ parameters }) => (parameters as { name: string }).name).join(' ');

it.each([
  ['what was added stands behind what it was put behind', 'a b', 'a x b', 'a c b', 'a x c b'],
  ['what was added in front stands in front', 'a b', 'x a b', 'c a b', 'x c a b'],
  ['what was added at the end stands there, though that is gone', 'a b', 'a b x', 'a', 'a x'],
  ['what was taken away is so', 'a b c', 'a c', 'a b c d', 'a c d'],
  ['what was changed is as it was made', 'a b', 'a b2', 'c a b', 'c a b2'],
  ['what others took away stays away', 'a b', 'a b2', 'a', 'a'],
  ['what was moved is so among the others', 'a b c', 'c a b', 'a d b c', 'c d a b'],
  ['what is there already is not added twice', 'a', 'a x', 'a x', 'a x'],
  ['nothing stays nothing', '', '', 'a', 'a'],
])('%s', (_, before, after, other, expected) => {
  expect(words(changedSteps({ before: list(before), after: list(after) })(list(other)))).toBe(expected);
});

it('on what it was made on gives exactly what it made, and made twice is made once', () => {
  for (let seed = 1; seed <= 200; seed++) {
    const random = randomNumbers(seed);
    const some = (of: string[]) => of.filter(() => random() > 0.3).sort(() => random() - 0.5);
    const before = list(some(['a', 'b', 'c', 'd', 'e']).join(' '));
    const after = list(some(['a', 'b2', 'c', 'd', 'e2', 'x', 'y']).join(' '));
    const change = changedSteps({ before, after });
    expect(words(change(before))).toBe(words(after));
    expect(words(change(change(before)))).toBe(words(after));
    const others = list(some(['a', 'b', 'c', 'd', 'e', 't', 'u']).join(' '));
    // What only they have is still there.
    for (const theirs of ['t', 'u'])
      if (words(others).includes(theirs)) expect(words(change(others))).toContain(theirs);
  }
});

it('sources are named by themselves', () => {
  expect(changedSources({ before: ['1', '2'], after: ['2'] })(['1', '2', '3'])).toEqual(['2', '3']);
});
