// Equal letters by the examples of Unicode Standard Annex 15 (Normalization Forms), figures 3 and 5; suffixes are common practice, without a source.
import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../testing/random.ts';
import { formatCounter, nameMaker } from './pattern.ts';
import { composedName, replacedIn } from './replace.ts';
import { withoutSuffixes } from './suffixes.ts';
import { uniqueNames } from './unique.ts';

/** A with a ring: the Ångström sign, the letter, and A with a ring of its own. */
const RINGS = ['\u212b', '\u00c5', 'A\u030a'];
/** s with a dot below and above, in four ways. */
const DOTS = ['\u1e69', 's\u0323\u0307', 's\u0307\u0323', '\u1e63\u0307'];

describe('letters that look the same', () => {
  it.each([RINGS, DOTS])('are one: %j', (...ways) => {
    expect(new Set(ways.map(composedName)).size).toBe(1);
    for (const find of ways)
      for (const text of ways)
        expect(replacedIn(`Bolt ${text} left`, { find, replace: 'X', where: 'anywhere' })).toBe('Bolt X left');
  });

  it('make names equal, which then get numbers', () => {
    expect([...uniqueNames(RINGS, () => true)]).toEqual([
      [1, '\u00c5 2'],
      [2, 'A\u030a 3'],
    ]);
  });

  it('are left as they were written where nothing is replaced', () => {
    expect(replacedIn('A\u030a', { find: 'Q', replace: '', where: 'anywhere' })).toBe('A\u030a');
  });
});

describe('find and replace', () => {
  it.each([
    ['L_Bolt_L_', { find: 'L_', replace: '', where: 'anywhere' }, 'Bolt_'],
    ['L_Bolt_L_', { find: 'L_', replace: '', where: 'start' }, 'Bolt_L_'],
    ['L_Bolt_L_', { find: 'L_', replace: 'R', where: 'end' }, 'L_Bolt_R'],
    ['Bolt', { find: 'L_', replace: 'R', where: 'end' }, 'Bolt'],
    // Signs that patterns give a meaning to are signs here.
    ['M8 (x) $1', { find: '(x)', replace: '$&', where: 'anywhere' }, 'M8 $& $1'],
  ] as const)('%s', (name, how, wanted) => expect(replacedIn(name, how)).toBe(wanted));
});

describe('suffixes', () => {
  it.each([
    ['Bolt.001', 'Bolt'],
    ['Bolt.001.002', 'Bolt'],
    ['Bolt:2', 'Bolt'],
    ['Bolt (3)', 'Bolt'],
    ['Bolt <4>', 'Bolt'],
    ['Bolt[12]', 'Bolt'],
    ['Bolt#2', 'Bolt'],
    ['Bolt - Copy (2)', 'Bolt'],
    ['Bolt copy', 'Bolt'],
    // Sizes and versions belong to the name.
    ['M16x40', 'M16x40'],
    ['DIN 912', 'DIN 912'],
    ['Plate_12', 'Plate_12'],
    ['Rev 2.1', 'Rev 2.1'],
    // Nothing would be left of these.
    ['(2)', '(2)'],
    ['.001', '.001'],
  ])('%s', (name, wanted) => expect(withoutSuffixes(name, false)).toBe(wanted));

  it.each([
    ['Plate_12', 'Plate'],
    ['Plate-1_2', 'Plate'],
    ['Plate 3 (2)', 'Plate'],
    ['12', '12'],
  ])('%s with numbers', (name, wanted) => expect(withoutSuffixes(name, true)).toBe(wanted));
});

describe('unique names', () => {
  it('keep the first, and never take a name that is there', () => {
    const names = ['Bolt', 'Bolt', 'Bolt 2', 'Nut', 'Bolt'];
    const made = uniqueNames(names, () => true);
    expect(names.map((name, i) => made.get(i) ?? name)).toEqual(['Bolt', 'Bolt 3', 'Bolt 2', 'Nut', 'Bolt 4']);
  });

  it('leave those alone that may not change, even where they are equal', () => {
    const names = ['A', 'A', 'A'];
    expect([...uniqueNames(names, (i) => i === 0)]).toEqual([[0, 'A 2']]);
    expect([...uniqueNames(names, () => false)]).toEqual([]);
  });

  it('are unique, whatever they were, and a second time nothing changes', () => {
    const random = randomNumbers(4);
    for (let run = 0; run < 20; run++) {
      const names = Array.from({ length: 60 }, () => `P${Math.floor(random() * 4)}${random() < 0.4 ? ` ${Math.floor(random() * 5)}` : ''}`); // prettier-ignore
      const made = uniqueNames(names, () => true);
      const after = names.map((name, i) => made.get(i) ?? name);
      expect(new Set(after).size).toBe(60);
      expect(uniqueNames(after, () => true).size).toBe(0);
    }
  });
});

it('counters have digits and a first number', () => {
  expect([0, 9, 1234].map((i) => formatCounter(i, { from: 5, by: 1, digits: 3 }))).toEqual(['005', '014', '1239']);
  const make = nameMaker('{name} {n}', { from: 1, by: 1, digits: 2 }, Int32Array.of(0, 1, 0));
  expect(['A', 'B', 'C'].map((name, i) => make(name, i))).toEqual(['A 01', 'B 02', 'C 01']);
});
