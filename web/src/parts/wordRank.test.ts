// What begins with the words that are sought stands before what only holds them.
import { describe, expect, it } from 'vitest';
import { ranked, rankOf } from './wordRank.ts';

const find = (sought: string, ...names: string[]) => ranked(names, sought, (title) => ({ title }));

describe('words that are sought', () => {
  it('are found first where a name begins so, then where a word of it does, then within', () => {
    expect(find('red', 'Timber, weathered', 'Brick, red', 'Red oak', 'Plaster')).toEqual(['Red oak', 'Brick, red', 'Timber, weathered']); // prettier-ignore
    expect(find('', 'b', 'a')).toEqual(['b', 'a']);
    expect(find('oak red', 'Red oak', 'Oak')).toEqual(['Red oak']);
  });

  it('in other words stand behind the beginning of a name, and before its middle', () => {
    const rank = (title: string, ...also: string[]) => rankOf('red', title, also) as number;
    expect(rank('A', 'red')).toBeLessThan(rank('weathered'));
    expect(rank('A red')).toBeLessThan(rank('A', 'red'));
    expect(rank('A', 'red', 'b')).toBeLessThan(rank('A', 'b', 'red'));
    expect(rankOf('red', 'A', ['b'])).toBeUndefined();
  });
});
