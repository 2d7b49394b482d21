// Colours by their plain names: the sixteen of HTML 4.01 (W3C, 6.5) are called as they are there, as far as the trade calls them so.
import { describe, expect, it } from 'vitest';
import { plainColour, shownName } from './plainColour.ts';

describe('the plain name of a colour', () => {
  it.each([
    ['#000000', 'black'],
    ['#808080', 'grey'],
    ['#c0c0c0', 'light grey'],
    ['#ffffff', 'white'],
    ['#ff0000', 'red'],
    ['#800000', 'dark red'],
    ['#ffff00', 'yellow'],
    ['#808000', 'olive'],
    ['#008000', 'green'],
    ['#008080', 'turquoise'],
    ['#0000ff', 'blue'],
    ['#000080', 'dark blue'],
    ['#ff00ff', 'magenta'],
    ['#800080', 'violet'],
  ])('%s is %s', (hex, name) => expect(plainColour(hex)).toBe(name));

  it('stands before a bare code, and nowhere else', () => {
    expect(shownName('Colour #FF0000')).toBe('red #ff0000');
    expect(shownName('#808080')).toBe('grey #808080');
    expect(shownName('Larch, oiled')).toBe('Larch, oiled');
  });
});
