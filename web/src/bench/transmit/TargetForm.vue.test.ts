// Settings of a target: asked is what its format leaves open, in the units that it can be in; what is seldom changed stands behind one more step.
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import type { TargetSettings } from '@noble-prism/core/transmit/targets/target';
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
} from '../../testing/mountBench.ts';
import TargetForm from './TargetForm.vue';

let told: unknown[][];
beforeEach(async () => {
  await openJob([{ name: 'Box', mesh: boxMesh(1, 1, 1) }]);
  told = [];
});
afterEach(unmountAll);

function form(settings: Partial<TargetSettings>): void {
  const target = { id: 't', name: 'Viewer', on: true, settings: { ...DEFAULT_TARGET, ...settings } };
  const tell =
    (what: string) =>
    (...values: unknown[]) =>
      told.push([what, ...values]);
  mounted(TargetForm, { target, onSet: tell('set'), onRename: tell('rename'), onCopy: tell('copy'), onRemove: tell('remove') }); // prettier-ignore
}

describe('the settings of a target', () => {
  it('ask for the unit where the format has none of its own, and not where it is always in metres', async () => {
    form({ format: 'stl' });
    const units = await choicesOf(the('combobox', /^Unit/));
    expect(units[0]).toContain('as usual');
    expect(units).toEqual(expect.arrayContaining(['mm', 'm']));
    await choose(the('combobox', /^Unit/), 'm');
    expect(told).toEqual([['set', 'unit', 'm']]);
    unmountAll();
    // glTF 2.0, 3.1: "The units for all linear distances are meters."
    form({ format: 'glb' });
    expect(all('combobox', /^Unit/)).toEqual([]);
  });

  it('offer modules to formats that can refer to other files', async () => {
    form({ format: 'glb' });
    expect((await choicesOf(the('combobox', /^Files/))).some((choice) => choice.includes('asset'))).toBe(true);
    unmountAll();
    form({ format: 'stl' });
    expect((await choicesOf(the('combobox', /^Files/))).some((choice) => choice.includes('asset'))).toBe(false);
  });

  it('show what is seldom changed when it is asked for, or when it has been changed', async () => {
    form({ format: 'glb' });
    expect(all('combobox', /^Cameras/)).toEqual([]);
    await click(the('button', 'More settings'));
    expect(all('combobox', /^Cameras/)).toHaveLength(1);
    await click(the('button', 'Less'));
    expect(all('combobox', /^Cameras/)).toEqual([]);
    unmountAll();
    form({ format: 'glb', cameras: 'left' });
    expect(all('combobox', /^Cameras/)).toHaveLength(1);
  });

  it('keep the name where the new one is empty, and tell what is to be done with the target', async () => {
    form({ format: 'glb' });
    const [name] = all('textbox', 'Name');
    await fill(name, '  For the headset ');
    await fill(name, '   ');
    await click(the('button', 'Duplicate'));
    await click(the('button', 'Leave something out'));
    await click(the('button', 'Remove'));
    expect(told).toEqual([
      ['rename', 'For the headset'],
      ['rename', 'Viewer'],
      ['copy'],
      ['set', 'without', { by: 'layer', layers: [] }],
      ['remove'],
    ]);
    expect(textOf(document.body)).toContain('what is sent');
  });
});
