// What a step concerns: rules that this scene has words for, how much each finds, what is selected, rules made of rules.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Selector } from '@noble-prism/core/select/select';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useSelection } from '../stores/selection.ts';
import {
  all,
  choicesOf,
  choose,
  click,
  fill,
  mounted,
  openJob,
  textOf,
  the,
  unmountAll,
} from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';
import ScopeField from './ScopeField.vue';

const part = (name: string, layer: string): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(1, 1, 1),
  materials: ['#808080'],
});
const DRIVE: PartSpec[] = [
  { name: 'Drive', children: [part('Motor', 'DRIVE'), part('Gearbox', 'DRIVE')] },
  part('Guard', 'GUARDS'),
];

let job: OpenJob;
beforeEach(async () => {
  job = await openJob(DRIVE);
});
afterEach(unmountAll);

/** The field as a form holds it: what it says is what it shows next. */
function field(rule: Selector, props: object = {}) {
  const { page } = mounted(ScopeField, { id: 'scope', modelValue: rule, ...props });
  const last = () => (page.emitted('update:modelValue') as [Selector][] | undefined)?.at(-1)?.[0];
  const take = async () => {
    await page.setProps({ modelValue: last() });
    return last();
  };
  return { page, last, take };
}
const found = () => textOf(document.querySelector('.scope > small') as Element);
const keyOf = (name: string) => {
  const { nodes } = job.store.scene;
  return nodes.key(nodes.map((node) => node.name).indexOf(name));
};

describe('what a step concerns', () => {
  it('is everything at first, with its number', () => {
    field({ by: 'all' });
    expect(found()).toBe('3 parts');
  });

  it('is a layer out of those that there are, and says how many parts it finds', async () => {
    const { take, page } = field({ by: 'all' });
    await choose(document.querySelector('[role=combobox]') as HTMLElement, 'layer');
    expect(await take()).toEqual({ by: 'layer', layers: [] });
    expect(found()).toBe('0 parts');
    expect(document.querySelector('.scope > small')?.classList.contains('warn')).toBe(true);
    await choose(the('combobox', 'Layers'), 'DRIVE');
    expect(await take()).toEqual({ by: 'layer', layers: ['DRIVE'] });
    expect(found()).toBe('2 parts');
    // As rows, or as sources, where that is what it is about.
    await page.setProps({ counts: 'rows' });
    expect(found()).toBe('2 rows');
  });

  it('offers no rules that this scene has no words for, and the selection only where there is one', async () => {
    field({ by: 'all' });
    const box = document.querySelector('[role=combobox]') as HTMLElement;
    box.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
    const offered = await choicesOf(box);
    expect(offered).toEqual(expect.arrayContaining(['everything', 'layer', 'name', 'size', 'what is selected (0)']));
    expect(offered).not.toContain('storey');
    expect(offered).not.toContain('class');
    expect(the('option', 'what is selected (0)').getAttribute('aria-disabled')).toBe('true');
  });

  it('is what is selected, and what is selected later only where that is asked for', async () => {
    const selection = useSelection();
    selection.pick([keyOf('Motor')]);
    const { take, last } = field({ by: 'all' });
    await choose(document.querySelector('[role=combobox]') as HTMLElement, 'what is selected (1)');
    expect(await take()).toEqual({ by: 'picked', keys: [keyOf('Motor')] });
    expect(found()).toBe('1 part');
    selection.pick([keyOf('Guard'), keyOf('Gearbox')]);
    await vi.waitFor(() => the('button', 'Take the selection (2)'));
    await click(the('button', 'Take the selection (2)'));
    expect(last()).toEqual({ by: 'picked', keys: [keyOf('Guard'), keyOf('Gearbox')] });
  });

  it('is made of rules: what was said so far is the first of them', async () => {
    const { take } = field({ by: 'layer', layers: ['DRIVE'] });
    await choose(all('combobox')[0], 'all of these');
    expect(await take()).toEqual({
      by: 'and',
      of: [
        { by: 'layer', layers: ['DRIVE'] },
        { by: 'name', pattern: '*' },
      ],
    });
    await fill(the('textbox', 'Name'), 'G*');
    await take();
    expect(found()).toBe('1 part');
    await click(all('button', 'Take this rule away')[0]);
    expect(await take()).toEqual({ by: 'and', of: [{ by: 'name', pattern: 'G*' }] });
    expect(found()).toBe('2 parts');
    await click(the('button', 'Add a rule'));
    expect((await take()) as { of: object[] }).toMatchObject({ of: [{ pattern: 'G*' }, { by: 'name', pattern: '*' }] });
  });

  it('is outlined in the view while somebody is at it; everything is not', async () => {
    const selection = useSelection();
    const { page } = field({ by: 'layer', layers: ['GUARDS'] });
    const scope = document.querySelector('.scope') as HTMLElement;
    scope.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
    expect([...(selection.outlined ?? [])]).toEqual([job.store.scene.nodes.map(({ name }) => name).indexOf('Guard')]);
    await page.setProps({ modelValue: { by: 'all' } });
    scope.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
    expect(selection.outlined).toBeUndefined();
    await page.setProps({ modelValue: { by: 'layer', layers: ['GUARDS'] } });
    scope.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
    page.unmount();
    expect(selection.outlined).toBeUndefined();
  });
});
