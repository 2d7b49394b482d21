// The menu of the right click: by station, found by words, all by the keyboard; what had the keyboard before gets it back.
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { defineComponent, h, nextTick } from 'vue';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { useSelection } from '../stores/selection.ts';
import { all, mounted, openJob, press, textOf, the, unmountAll } from '../testing/mountBench.ts';
import { provideActions } from './actions.ts';
import { openActionOf } from './openAction.ts';
import SelectionMenu from './SelectionMenu.vue';

afterEach(unmountAll);
const went: string[] = [];
let menu: { show(event: MouseEvent): Promise<void> };
let row: HTMLButtonElement;

beforeEach(async () => {
  await openJob([{ name: 'Motor', mesh: boxMesh(1, 1, 1) }]);
  went.length = 0;
  // As the page does it: the menu stands below what provides the actions.
  const Page = defineComponent({
    setup() {
      provideActions({
        go: (station) => went.push(station),
        open() {},
        ledger: () => undefined,
        view: () => undefined,
      });
      return () => [h('button', 'row'), h(SelectionMenu, { ref: (one) => (menu = one as unknown as typeof menu) })];
    },
  });
  mounted(Page);
  row = document.querySelector('button') as HTMLButtonElement;
  row.focus();
  useSelection().pick(['s:/Motor']);
  await nextTick();
});

const shown = async () => {
  await menu.show(new MouseEvent('contextmenu', { clientX: 5000, clientY: 5000 }));
  return the('combobox', /Find/) as HTMLInputElement;
};
const options = () => all('option').map((one) => textOf(one));
const type = async (field: HTMLInputElement, text: string) => {
  field.value = text;
  field.dispatchEvent(new Event('input'));
  await nextTick();
};

describe('the menu of the right click', () => {
  it('has a heading for each station, and lies within the window', async () => {
    const field = await shown();
    expect(document.activeElement).toBe(field);
    expect(all('presentation').map((one) => textOf(one))).toEqual([
      'Selection',
      'Receive',
      'Arrange',
      'Finishes',
      'Lighten',
    ]);
    expect(options().filter((text) => text.endsWith('…')).length).toBeGreaterThan(STEP_KINDS.size / 2);
    const { left, top } = (the('dialog', /What can be done/) as HTMLElement).style;
    expect(Number.parseFloat(left)).toBeLessThan(window.innerWidth);
    expect(Number.parseFloat(top)).toBeLessThan(window.innerHeight);
  });

  it('finds by words, best first, and does it with Enter', async () => {
    const field = await shown();
    await type(field, 'decim');
    expect(options()[0]).toBe('Reduce…');
    await press(field, 'Enter');
    expect([went, openActionOf('lighten', undefined)]).toEqual([['lighten'], 'reduce']);
    expect(all('dialog')).toHaveLength(0);
  });

  it('goes up and down, and says so where nothing is called so', async () => {
    const field = await shown();
    const chosen = () => all('option').find((option) => option.getAttribute('aria-selected') === 'true');
    const first = textOf(chosen() as HTMLElement);
    await press(field, 'ArrowDown');
    expect(textOf(chosen() as HTMLElement)).not.toBe(first);
    await press(field, 'ArrowUp');
    expect(textOf(chosen() as HTMLElement)).toBe(first);
    await type(field, 'qqq');
    expect(textOf(document.body)).toContain('Nothing is called so');
    await press(field, 'Enter');
    expect(all('dialog')).toHaveLength(1);
  });

  it('gives the keyboard back with Escape', async () => {
    await press(await shown(), 'Escape');
    expect([all('dialog').length, document.activeElement]).toEqual([0, row]);
  });
});
