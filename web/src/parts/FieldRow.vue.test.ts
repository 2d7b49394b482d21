// The line of a form: drawn from what a field says of itself; numbers typed in any unit, kept in metres and radians.
import { afterEach, describe, expect, it } from 'vitest';
import type { Field } from '@noble-prism/core/fields/field';
import { all, choicesOf, choose, click, fill, mounted, nameOf, the, unmountAll } from '../testing/mountBench.ts';
import FieldRow from './FieldRow.vue';

afterEach(unmountAll);

function row(field: Field, modelValue: unknown, props: object = {}) {
  const { page } = mounted(FieldRow, { id: 'f', field, modelValue, ...props });
  /** What was said last, and how often something was. */
  const said = () => page.emitted('update:modelValue') ?? [];
  return { page, said, last: () => said().at(-1)?.[0] };
}
const CHORD: Field = { type: 'quantity', label: 'Chord dev.', of: 'length', unit: 'mm', min: 1e-5, max: 0.1 };

describe('a length', () => {
  it('is shown in its unit, and read in whatever unit it is typed', async () => {
    const { last, said } = row(CHORD, 0.0002);
    const field = the('textbox', 'Chord dev.') as HTMLInputElement;
    expect(field.value).toBe('0.2');
    expect(document.body.textContent).toContain('mm');
    // 1 in = 25.4 mm exactly (international yard and pound agreement, 1959).
    for (const [typed, metres] of [['0.5', 0.0005], ['1 in', 0.0254], ['0,3', 0.0003], ['0.01 m', 0.01]] as const) {
      await fill(field, typed);
      expect(last()).toBeCloseTo(metres, 12);
    } // prettier-ignore
    expect(said()).toHaveLength(4);
  });

  it('that is none, or out of bounds, is refused in words with an example, and nothing changes', async () => {
    const { said } = row(CHORD, 0.0002);
    const field = the('textbox', 'Chord dev.');
    await fill(field, 'two');
    expect(nameOf(the('alert'))).toBe('Not a length: try 0.2 mm.');
    expect(field.getAttribute('aria-invalid')).toBe('true');
    await fill(field, '101');
    expect(nameOf(the('alert'))).toBe('It has to be at least 0.01 mm and at most 100 mm.');
    expect(said()).toEqual([]);
    await fill(field, '100');
    expect(all('alert')).toEqual([]);
    expect(said()).toEqual([[0.1]]);
  });

  it('is not stored anew by being looked at: what is shown is rounded', async () => {
    const { said } = row(CHORD, 0.000_123_456_789);
    const field = the('textbox', 'Chord dev.') as HTMLInputElement;
    await fill(field, field.value);
    expect(said()).toEqual([]);
  });

  it('that may be left empty says what is meant then', async () => {
    const { last } = row({ ...CHORD, optional: true }, 0.001);
    const field = the('textbox', 'Chord dev.') as HTMLInputElement;
    expect(field.placeholder).toBe('none');
    await fill(field, '');
    expect(last()).toBeUndefined();
  });

  it('is offered with one click', async () => {
    const { last } = row({ ...CHORD, offers: [0.001, 0.005] }, 0.002);
    await click(the('button', /^5\s*mm$/));
    expect(last()).toBe(0.005);
  });
});

describe('other numbers', () => {
  it('are typed as people say them: degrees, shares, counts with groups', async () => {
    const angle = row({ type: 'quantity', label: 'Angle', of: 'angle', unit: '°', min: 0, max: Math.PI }, Math.PI / 2);
    const field = the('textbox', 'Angle') as HTMLInputElement;
    expect(field.value).toBe('90');
    await fill(field, '180');
    expect(angle.last()).toBeCloseTo(Math.PI, 12);
    unmountAll();

    const share = row({ type: 'quantity', label: 'Keep', of: 'share', unit: '%', min: 0, max: 1 }, 0.5);
    await fill(the('textbox', 'Keep'), '30 %');
    expect(share.last()).toBeCloseTo(0.3, 12);
    unmountAll();

    const count = row({ type: 'quantity', label: 'At most', of: 'count', unit: '', min: 1, max: 1e9 }, 1000);
    for (const typed of ['500 000', '500.000', '500,000']) {
      await fill(the('textbox', 'At most'), typed);
      expect(count.last()).toBe(500_000);
      await fill(the('textbox', 'At most'), '7');
    }
    await fill(the('textbox', 'At most'), '2.5');
    expect(nameOf(the('alert'))).toContain('Not a whole number');
  });
});

describe('other fields', () => {
  it('are a choice among what there is', async () => {
    const { last } = row(
      { type: 'choice', label: 'Until', choices: [{ value: 'share', label: 'a share is left' }, { value: 'deviation', label: 'deviation reaches' }] },
      'share',
    ); // prettier-ignore
    expect(await choicesOf(the('combobox'))).toEqual(['a share is left', 'deviation reaches']);
    await choose(the('combobox'), 'deviation reaches');
    expect(last()).toBe('deviation');
  });

  it('are text that is no longer than it may be, and done with Enter', async () => {
    const { page, last } = row({ type: 'text', label: 'New name', most: 300 }, 'Bolt');
    const field = the('textbox', 'New name') as HTMLInputElement;
    expect(field.maxLength).toBe(300);
    await fill(field, 'Bolt M8');
    expect(last()).toBe('Bolt M8');
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    expect(page.emitted('enter')).toHaveLength(1);
  });

  it('are words; those that are no longer there stay chosen, and are said', async () => {
    const offers = ['DRIVE', 'GUARDS'].map((value) => ({ value, label: value }));
    const { last } = row({ type: 'words', label: 'Layers' }, ['GONE'], { offers });
    expect(await choicesOf(the('combobox', 'Layers'))).toEqual(['GONE (no longer there)', 'DRIVE', 'GUARDS']);
    await choose(the('combobox', 'Layers'), 'DRIVE');
    expect(last()).toEqual(['GONE', 'DRIVE']);
  });

  it('with a form of their own are drawn by who knows it', () => {
    row({ type: 'own', label: 'Links' } as Field, []);
    expect(document.body.querySelector('input, label')).toBeNull();
  });

  it('in a short line stand alone, and are called all the same', () => {
    row({ type: 'text', label: 'Name', most: 300 }, '', { short: true });
    expect(document.body.querySelector('label')).toBeNull();
    expect((the('textbox', 'Name') as HTMLInputElement).placeholder).toBe('Name');
  });
});
