import { expect, it } from 'vitest';
import { randomNumbers } from '../testing/random.ts';
import { Texts } from '../scene/texts.ts';
import { textsMatching } from './manyPatterns.ts';
import { nameMatcher, nameTest, patternProblem } from './patterns.ts';

it('names are found by number as they are written out, however their table came about', () => {
  const random = randomNumbers(17);
  const pick = <T>(of: readonly T[]) => of[Math.floor(random() * of.length)];
  // The Kelvin sign and the long s are letters of ASCII in another form.
  const word = () => Array.from({ length: 1 + random() * 4 }, () => pick(['b', 'B', 'k', '\u212a', 's', 'ſ', 'ß', ' ', '1'])).join(''); // prettier-ignore
  const words = Array.from({ length: 200 }, word);
  const ends: number[] = [];
  words.reduce((end, text) => ends[ends.push(end + text.length) - 1], 0);
  const read = Texts.NONE.with(words.slice(0, 100)).joined(Texts.from(words.join(''), Uint32Array.from(ends)));
  const of = Int32Array.from({ length: 150 }, () => Math.floor(random() * read.length));
  const maker = (start: string, goesOn: boolean) =>
    Object.assign((text: string, i: number) => `${start}${goesOn ? text : i}k`, { start, goesOn });
  const derived = read.derived(of, maker('', true)).derived(of, maker('Bk', true)).derived(of, maker('s', false));
  expect([...derived].slice(301 + 150, 301 + 152)).toEqual([`Bk${read.get(of[0])}k`, `Bk${read.get(of[1])}k`]);
  expect([...derived.since(301)]).toEqual([...derived].slice(301));
  const asked: string[] = [];
  for (let run = 0; run < 400; run++) {
    const pattern = word() + pick(['', '*', '?', '*k']);
    asked.push(pattern);
    const [byNumber, byText] = [nameTest(derived, pattern), nameMatcher(pattern)];
    const found = (test: (number: number) => boolean) => Array.from(derived, (_, number) => number).filter(test);
    expect(found(byNumber), pattern).toEqual(found((number) => byText(derived.get(number))));
  }
  // Many at once find what each finds alone.
  const patterns = [...asked, '*b*', '/^b.*1$/', '*'];
  const matching = textsMatching(
    derived,
    Int32Array.from({ length: derived.length }, (_, number) => number),
    patterns,
  );
  for (let number = 0; number < derived.length; number += 3) {
    const alone = patterns.flatMap((pattern, i) => (nameMatcher(pattern)(derived.get(number)) ? [i] : []));
    expect([...matching(number)].sort((a, b) => a - b)).toEqual(alone);
  }
});

it('regular expressions stand between slashes; one that cannot be understood, or may never end, is told and finds nothing', () => {
  const found = (pattern: string) => ['W-12', 'w-7a', 'Wall'].filter(nameMatcher(pattern));
  expect(found('/^w-\\d+$/')).toEqual(['W-12']);
  expect(found('/7/')).toEqual(['w-7a']);
  expect(found('W-*')).toEqual(['W-12', 'w-7a']);
  for (const pattern of ['/wall(/', '/(a+)+$/', '/(a|b*)*c/', '/(a|aa)+$/']) {
    expect(patternProblem(pattern)).toContain(pattern);
    expect(found(pattern)).toEqual([]);
  }
  for (const pattern of ['wall(', '/', '/(ab)+/', '/\\d{2,}/']) expect(patternProblem(pattern)).toBeUndefined();
});
