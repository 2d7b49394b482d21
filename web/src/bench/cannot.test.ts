// What is looked for and not done here is said with what is near to it.
import { describe, expect, it } from 'vitest';
import { cannotWords } from './cannot.ts';

describe('what cannot be done', () => {
  it.each([
    ['normals', /Sides/],
    ['render', /report/],
    ['Camera', /come with sources/],
    ['keyframes', /Link, then Run/],
  ])('%s', (word, words) => expect(cannotWords(word)).toMatch(words));
  it.each(['', 'no', 'reduce', 'finishes'])('nothing is said of %j', (word) => expect(cannotWords(word)).toBeUndefined()); // prettier-ignore
});
