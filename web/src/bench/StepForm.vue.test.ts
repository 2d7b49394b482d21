// The form of any kind of step: gathers a new one, shows what it would do, edits the one that is open, and says what is wrong.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useSelection } from '../stores/selection.ts';
import { FakeEvents } from '../testing/fakeServer.ts';
import {
  all,
  choose,
  click,
  fill,
  press,
  mounted,
  openJob,
  step,
  textOf,
  the,
  unmountAll,
} from '../testing/mountBench.ts';
import StepForm from './StepForm.vue';
import { openStep } from './stepEdits.ts';

const part = (name: string): PartSpec => ({ name, layer: 'DRIVE', mesh: boxMesh(1, 1, 1), materials: ['#808080'] });
const TREE = [part('Motor'), part('Gearbox'), part('Guard')];

afterEach(unmountAll);

async function form(kind: string, steps: Parameters<typeof openJob>[1] = []) {
  const job = await openJob(TREE, steps);
  const names = () => job.store.scene.nodes.map(({ name }) => name);
  const key = (name: string) => job.store.scene.nodes.key(names().indexOf(name));
  const { page } = mounted(StepForm, { kind });
  return { ...job, names, key, close: () => page.unmount() };
}

describe('the form of a new step', () => {
  it('shows what it would do before it is applied, and saves nothing until then', async () => {
    const { store, server, names, settled } = await form('rename');
    await fill(the('textbox', 'New name'), '{name}, left');
    await settled();
    await vi.waitFor(() => expect(names()).toEqual(['Motor, left', 'Gearbox, left', 'Guard, left']));
    expect(textOf(...all('status'))).toContain('3 rows would change.');
    expect(store.steps).toEqual([]);
    expect(server.log).toEqual([]);

    await click(the('button', 'Set names'));
    await settled();
    expect(store.steps).toMatchObject([
      { kind: 'rename', selector: { by: 'all' }, parameters: { name: '{name}, left' } },
    ]);
    expect(server.log).toEqual(['POST versions on 2']);
    expect(names()).toEqual(['Motor, left', 'Gearbox, left', 'Guard, left']);
  });

  it('follows the selection until somebody says what it concerns', async () => {
    const { store, key, settled } = await form('rename');
    const selection = useSelection();
    const [guard, motor] = [key('Guard'), key('Motor')];
    selection.pick([guard]);
    await nextTick();
    await fill(the('textbox', 'New name'), 'Hood');
    selection.pick([motor]);
    await nextTick();
    await click(the('button', 'Set names'));
    await settled();
    // While it was shown, another part was looked at: the one that it was begun for is meant.
    expect(store.steps[0].selector).toEqual({ by: 'picked', keys: [guard] });
  });

  it('without what it needs says so, and adds nothing', async () => {
    const { store } = await form('rename');
    await choose(all('combobox')[0], 'find and replace');
    expect(all('textbox').length).toBeGreaterThan(0);
    await fill(the('textbox', 'Find'), '');
    await click(the('button', 'Set names'));
    expect(textOf(the('alert')).length).toBeGreaterThan(10);
    expect(store.steps).toEqual([]);
  });

  it('shows and applies nothing of what cannot be read, and Enter applies what can', async () => {
    const { store, settled } = await form('move');
    const x = () => all('textbox')[0];
    await fill(x(), '2 m');
    await vi.waitFor(() => expect(store.trial).toBeDefined());
    await fill(x(), 'two metres');
    expect(store.trial).toBeUndefined();
    expect(textOf(...all('alert'))).toMatch(/Not a length: try/);
    await press(x(), 'Enter');
    await click(the('button', 'Move'));
    expect(store.steps).toEqual([]);
    expect(textOf(...all('alert'))).toContain('x: Not a length');
    await fill(x(), `6' 7"`);
    await press(x(), 'Enter');
    await settled();
    // Six feet and seven inches (25.4 mm each).
    expect((store.steps[0].parameters as { x: number }).x).toBeCloseTo(79 * 0.0254, 9);
  });

  it('shows fields where they mean something', async () => {
    await form('pivot');
    const labels = () => [...document.querySelectorAll('label')].map((label) => textOf(label));
    const before = labels();
    await choose(the('combobox', /^Place at/), 'corner or face of the box');
    // Which corner is asked where it is one: an end along each axis.
    expect(labels().filter((label) => !before.includes(label))).toHaveLength(3);
  });

  it('gives up what it showed when it goes', async () => {
    const { store, names, settled, close } = await form('rename');
    await fill(the('textbox', 'New name'), 'X');
    await vi.waitFor(() => expect(names()).toEqual(['X', 'X', 'X']));
    close();
    await settled();
    await vi.waitFor(() => expect(names()).toEqual(['Motor', 'Gearbox', 'Guard']));
    expect(store.trial).toBeUndefined();
  });
});

describe('the form of a step that is there', () => {
  const rename = step('r', 'rename', { by: 'name', pattern: 'Motor' }, { name: 'Engine', of: 'parts' });

  it('opens with what the step says, and applies a change of it', async () => {
    const { store, server, names, settled } = await form('rename', [rename]);
    openStep.value = 'r';
    await vi.waitFor(() => expect((the('textbox', 'New name') as HTMLInputElement).value).toBe('Engine'));
    const apply = the('button', 'Apply change') as HTMLButtonElement;
    expect(apply.disabled).toBe(true);
    await fill(the('textbox', 'New name'), 'Main motor');
    expect(apply.disabled).toBe(false);
    await click(apply);
    await settled();
    expect(names()).toContain('Main motor');
    expect(store.steps).toMatchObject([{ id: 'r', parameters: { name: 'Main motor' } }]);
    expect(server.versions.at(-1)?.note).toBe('Rename edited');
    await click(the('button', 'New step instead'));
    expect(openStep.value).toBeUndefined();
    expect((the('textbox', 'New name') as HTMLInputElement).value).not.toBe('Main motor');
  });

  it('keeps what was typed when the job is told anew: something was sent, or the line was lost', async () => {
    const { store } = await form('rename', [rename]);
    openStep.value = 'r';
    await vi.waitFor(() => expect((the('textbox', 'New name') as HTMLInputElement).value).toBe('Engine'));
    await fill(the('textbox', 'New name'), 'Main motor');
    const before = store.steps;
    FakeEvents.latest.happens('resync');
    await vi.waitFor(() => expect(store.steps).not.toBe(before));
    await nextTick();
    expect((the('textbox', 'New name') as HTMLInputElement).value).toBe('Main motor');
    expect((the('button', 'Apply change') as HTMLButtonElement).disabled).toBe(false);
  });

  it('says that its rule finds nothing, that it is switched off, and which picked parts are gone', async () => {
    const nothing = { ...rename, id: 'n', selector: { by: 'name', pattern: 'Winch' } as const };
    const off = { ...rename, id: 'o', on: false };
    const lost = { ...rename, id: 'l', selector: { by: 'picked' as const, keys: ['s/Winch'] } };
    await form('rename', [nothing, off, lost]);
    const words = async (id: string) => {
      openStep.value = id;
      await new Promise((resolve) => setTimeout(resolve, 5));
      return textOf(document.body);
    };
    expect(await words('n')).toContain('No part matches this rule.');
    expect(await words('o')).toContain('This step is switched off.');
    expect(await words('l')).toContain('1 picked row no longer in the sources');
  });
});
