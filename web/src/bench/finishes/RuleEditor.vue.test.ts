// One rule of the schedule, edited: shown in the view before it is applied, refused where it says nothing, and put back by layer.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h, ref } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import { all, choose, click, fill, mounted, openJob, step, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import RuleEditor from './RuleEditor.vue';
import { useSchedule } from './schedule.ts';

const part = (name: string, layer: string): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(1, 1, 1),
  materials: ['#808080'],
});
const RULES = [
  { which: { by: 'layer', layers: ['DRIVE'] }, material: 'lib:cast-iron' },
  { which: { by: 'name', pattern: 'Motor' }, material: 'lib:glass' },
];

afterEach(unmountAll);

async function editor(index: number) {
  const job = await openJob(
    [part('Motor', 'DRIVE'), part('Gearbox', 'DRIVE'), part('Guard', 'GUARDS')],
    [step('f', 'finishes', { by: 'all' }, { rules: RULES })],
  );
  const heard: string[] = [];
  const at = ref(index);
  mounted(
    defineComponent(() => {
      const schedule = useSchedule();
      const hear = (what: string) => () => void heard.push(what);
      return () => h(RuleEditor, { schedule, index: at.value, onClose: hear('close'), onDuplicate: hear('duplicate'), onRemove: hear('remove') });
    }),
  ); // prettier-ignore
  const rules = () => (job.store.steps[0].parameters as FinishesParameters).rules;
  const materialOf = (name: string) => [...job.store.scene.nodes].find((node) => node.name === name)?.materials[0];
  return { ...job, at, heard, rules, materialOf };
}

describe('a rule that is edited', () => {
  it('is shown before it is applied, and left as it was where that is wanted', async () => {
    const { rules, materialOf, store, server, settled } = await editor(1);
    await fill(the('textbox', 'Name'), 'G*');
    await vi.waitFor(() => expect(materialOf('Guard')).toContain('glass'));
    expect(rules()).toEqual(RULES);
    await click(the('button', 'Leave as it was'));
    await vi.waitFor(() => expect(materialOf('Guard')).not.toContain('glass'));
    expect(store.trial).toBeUndefined();

    await fill(the('textbox', 'Name'), 'G*');
    await click(the('button', 'Apply change'));
    await settled();
    expect(rules()[1].which).toEqual({ by: 'name', pattern: 'G*' });
    expect(server.versions.at(-1)?.note).toBe('Rule 2 edited');
    expect(all('button', 'Apply change')).toEqual([]);
  });

  it('that would take hold of nothing by its words is refused, and says what is missing', async () => {
    const { rules, store } = await editor(1);
    await fill(the('textbox', 'Name'), '');
    expect(textOf(the('alert'))).toBe('The name is missing.');
    expect((the('button', 'Apply change') as HTMLButtonElement).disabled).toBe(true);
    expect([rules(), store.trial]).toEqual([RULES, undefined]);
  });

  it('gets another material, and a note that stays with it until it is emptied', async () => {
    const { rules, settled } = await editor(0);
    await choose(the('combobox', /Material/), 'Oak, oiled');
    await fill(the('textbox', 'Note'), 'as agreed on site');
    await click(the('button', 'Apply change'));
    await settled();
    expect(rules()[0]).toMatchObject({ material: 'lib:oak', note: 'as agreed on site' });
    await fill(the('textbox', 'Note'), '');
    await click(the('button', 'Apply change'));
    await settled();
    expect(rules()[0]).not.toHaveProperty('note');
  });

  it('of a layer names the parts on which another prevails', async () => {
    await editor(0);
    await vi.waitFor(() => expect(textOf(document.body)).toContain('1 part of DRIVE shows another rule’s material.'));
  });

  it('gives up what was begun where another rule is opened', async () => {
    const { at, store, materialOf } = await editor(1);
    await fill(the('textbox', 'Name'), 'G*');
    await vi.waitFor(() => expect(materialOf('Guard')).toContain('glass'));
    at.value = 0;
    await vi.waitFor(() => expect(materialOf('Guard')).not.toContain('glass'));
    expect(store.trial).toBeUndefined();
    expect(all('button', 'Apply change')).toEqual([]);
  });

  it('tells that it is to be doubled, deleted or closed', async () => {
    const { heard } = await editor(0);
    for (const name of ['Duplicate', 'Delete', 'Close the rule']) await click(the('button', name));
    expect(heard).toEqual(['duplicate', 'remove', 'close']);
  });
});
