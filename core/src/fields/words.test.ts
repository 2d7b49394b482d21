// Whatever is wrong with a value is said in words of people, never in those of the library that checks it.
import { describe, expect, it } from 'vitest';
import { checkSteps } from '../steps/kinds.ts';

const wrong = (step: object): string => {
  try {
    checkSteps([{ id: 's', on: true, selector: { by: 'all' }, parameters: {}, ...step }]);
  } catch (error) {
    return (error as Error).message;
  }
  return 'nothing';
};
const move = (parameters: object) => ({ kind: 'move', parameters: { x: 0, y: 0, z: 0, ...parameters } });

describe('a value that is wrong', () => {
  it.each([
    [move({ x: 'far' }), /a number is expected, “far” was given/],
    [move({ x: { metres: 2 } }), /a number is expected, an object was given/],
    [move({ x: [1] }), /a number is expected, a list was given/],
    [{ ...move({}), on: 'maybe' }, /yes or no \(true, false\) is expected, “maybe” was given/],
    [{ ...move({}), id: 7 }, /a text is expected, “7” was given/],
    [{ ...move({}), colour: 'red' }, /nothing is known of: colour/],
    [{ ...move({}), selector: { by: 'layer', layers: 'WALLS' } }, /list|texts/],
  ])('%j', (step, words) => {
    expect(wrong(step)).toMatch(words);
    expect(wrong(step)).not.toMatch(/`|\[object|must be|final value|typeError|undefined/);
  });
});
