// The check that is drawn from fields, in words that a person understands.
import { describe, expect, it } from 'vitest';
import { checked, formatQuantity, schemaOfFields } from './field.ts';
import type { Fields } from './field.ts';

interface Drawn {
  way: string;
  gap: number;
  turn: number;
  keep?: number;
  note: string;
  name: string;
}
const fields: Fields<Drawn> = {
  way: {
    type: 'choice',
    label: 'Way',
    choices: [
      { value: 'up', label: 'upwards' },
      { value: 'down', label: 'downwards' },
    ],
  },
  gap: { type: 'quantity', of: 'length', unit: 'mm', label: 'Gap', min: 0.0001, max: 0.1 },
  turn: { type: 'quantity', of: 'angle', unit: '°', label: 'Turn', min: 0, max: Math.PI },
  keep: { type: 'quantity', of: 'share', unit: '%', label: 'Keep', min: 0.01, max: 1, optional: true },
  note: { type: 'text', label: 'Note', most: 5, empty: true },
  name: { type: 'text', label: 'Name', most: 20, called: 'name of the row' },
};
const schema = schemaOfFields(fields, ({ gap, keep }) => (keep && gap > keep ? 'The gap is too wide.' : undefined));
const good: Drawn = { way: 'up', gap: 0.002, turn: 1, note: '', name: 'Door' };
const wrong = (change: Partial<Record<keyof Drawn, unknown>>) => {
  try {
    checked(schema, { ...good, ...change });
    return '';
  } catch (error) {
    return (error as Error).message;
  }
};

describe('fields', () => {
  it.each<[string, Partial<Record<keyof Drawn, unknown>>, string]>([
    [
      'a length below its bound, in the unit that people see',
      { gap: 0.00001 },
      'The gap must be at least 0.1\u00a0mm.',
    ],
    ['an angle', { turn: 4 }, 'The turn must be at most 180°.'],
    ['a share', { keep: 2 }, 'The keep must be at most 100\u00a0%.'],
    ['another choice', { way: 'left' }, 'The way must be one of up, down.'],
    ['no choice', { way: undefined }, 'The way has to be chosen.'],
    ['a blank name', { name: '  ' }, 'The name of the row is missing.'],
    ['too long a text', { note: 'longer' }, 'The note has more than 5 letters.'],
    ['what is wrong together', { keep: 0.05, gap: 0.09 }, 'The gap is too wide.'],
  ])('refuse %s', (_, change, message) => expect(wrong(change)).toBe(message));

  it('take what is right, and bounds as they are typed in another unit', () => {
    expect(wrong({})).toBe('');
    expect(wrong({ turn: (180 * Math.PI) / 180 + 1e-16, keep: 1 })).toBe('');
    expect(formatQuantity(0.0254, { of: 'length', unit: 'inch' })).toBe('1\u00a0inch');
  });
});
