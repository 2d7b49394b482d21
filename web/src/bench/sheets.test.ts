// The sheets of the bench: keys, actions by words, templates, files that are called like sources, and what carries over to each target.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import type { Template } from '@noble-prism/wire/job';
import { all, click, fill, mounted, openJob, press, step, textOf, the, unmountAll } from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';
import { defineComponent, h } from 'vue';
import type { Component } from 'vue';
import ActionFinder from './ActionFinder.vue';
import { provideActions } from './actions.ts';
import SameNameDialog from './SameNameDialog.vue';
import ShortcutSheet from './ShortcutSheet.vue';
import TemplatesSheet from './TemplatesSheet.vue';
import CarryOverSheet from './transmit/CarryOverSheet.vue';

const part = (name: string, layer = 'DRIVE'): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(1, 1, 1),
  materials: ['#808080'],
});

/** As the bench hands out what can be done. */
function onBench(sheet: Component) {
  const went: string[] = [];
  const closed: boolean[] = [];
  mounted(
    defineComponent(() => {
      provideActions({ go: (station: string) => void went.push(station), open: () => {}, ledger: () => undefined, view: () => undefined } as never);
      return () => h(sheet, { visible: true, 'onUpdate:visible': (visible: boolean) => void closed.push(!visible) });
    }),
  );
  return { went, closed };
} // prettier-ignore

let job: OpenJob;
beforeEach(async () => {
  job = await openJob([part('Motor'), part('Guard', 'GUARDS')]);
});
afterEach(unmountAll);

describe('the finder of actions', () => {
  const field = () => the('combobox', 'What do you want to do?');
  const titles = () => all('option').map((option) => textOf(option.querySelector('.title') as Element));
  const chosen = () => titles()[all('option').findIndex((option) => option.getAttribute('aria-selected') === 'true')];

  it('finds what is meant by other words too, and says so where nothing is', async () => {
    onBench(ActionFinder);
    await vi.waitFor(() => expect(titles().length).toBeGreaterThan(10));
    await fill(field(), 'prefix');
    expect(titles()).toContain('Rename…');
    await fill(field(), 'decimate the widgets');
    expect(titles()).toEqual([]);
    expect(textOf(document.body)).toContain('Nothing is called so. Try another word');
  });

  it('goes up and down by arrows, stays at the ends, and does what is chosen with Enter', async () => {
    const { went, closed } = onBench(ActionFinder);
    await vi.waitFor(() => field());
    await fill(field(), 'station');
    const [first, second] = titles();
    expect(chosen()).toBe(first);
    await press(field(), 'ArrowUp');
    expect(chosen()).toBe(first);
    await press(field(), 'ArrowDown');
    expect(chosen()).toBe(second);
    // Another word begins at the top again.
    await fill(field(), 'lighten');
    const at = titles().indexOf('Lighten');
    for (let i = 0; i < at; i++) await press(field(), 'ArrowDown');
    expect(chosen()).toBe('Lighten');
    await press(field(), 'Enter');
    expect([closed, went]).toEqual([[true], ['lighten']]);
  });
});

describe('the sheet of keys', () => {
  it('lists every key that an action has, and those of places, each once', async () => {
    onBench(ShortcutSheet);
    await vi.waitFor(() => the('dialog'));
    const keys = [...document.querySelectorAll('dl')].flatMap((list) => {
      const group = textOf(list.previousElementSibling as Element);
      return [...list.querySelectorAll('kbd')].map((key) => `${group}: ${textOf(key)}`);
    });
    expect(keys.length).toBeGreaterThan(25);
    expect(new Set(keys).size).toBe(keys.length);
    for (const key of ['Stations: 1', 'In the ledger: Space', 'On a step: Del']) expect(keys).toContain(key);
  });
});

describe('the sheet of templates', () => {
  const rename = step('t', 'rename', { by: 'all' }, { name: '{name}!', of: 'parts' });
  let templates: Template[];
  beforeEach(() => {
    templates = [{ id: 'iron', name: 'All of iron', steps: [rename, { ...rename, id: 'u' }], sources: [], every: false } as unknown as Template];
    const others = globalThis.fetch;
    vi.stubGlobal('fetch', async (path: string, init: RequestInit = {}) => {
      if (!path.includes('/templates')) return others(path, init);
      const id = path.split('/').at(-1);
      if (init.method === 'DELETE') templates = templates.filter((template) => template.id !== id);
      if (init.method === 'PATCH')
        templates = templates.map((template) => ({ ...template, ...(JSON.parse(String(init.body)) as object) }));
      return Response.json(templates);
    });
  }); // prettier-ignore

  async function open() {
    const { page } = mounted(TemplatesSheet, { visible: false });
    await page.setProps({ visible: true });
    await vi.waitFor(() => expect(textOf(document.body)).toMatch(/All of iron|None yet/));
    return page;
  }

  it('says what each holds, and gives its steps to the job as one change', async () => {
    const page = await open();
    expect(textOf(document.body)).toContain('2 steps: 2 Rename');
    await click(the('button', 'Give All of iron to this job'));
    await job.settled();
    expect(job.store.steps.map(({ kind }) => kind)).toEqual(['rename', 'rename']);
    expect(job.store.steps.map(({ id }) => id)).not.toContain('t');
    expect(job.server.versions.at(-1)?.note).toBe('Template All of iron given');
    expect(page.emitted('given')).toHaveLength(1);
  });

  it('is given to every new job where that is said', async () => {
    await open();
    await click(the('checkbox', 'every new job'));
    await vi.waitFor(() => expect(templates[0].every).toBe(true));
  });

  it('is deleted after a second look only', async () => {
    await open();
    await click(the('button', 'Delete All of iron'));
    expect(textOf(the('alert'))).toContain('Jobs that were given it keep their steps.');
    await click(the('button', 'Keep'));
    expect(all('alert')).toEqual([]);
    await click(the('button', /^Delete All of iron/));
    await click(
      all('button', 'Delete All of iron').find((button) => button.classList.contains('danger')) as HTMLElement,
    );
    await vi.waitFor(() => expect(textOf(document.body)).toContain('None yet.'));
    expect(templates).toEqual([]);
  });

  it('says what the server says where it fails', async () => {
    vi.stubGlobal('fetch', async () => Response.json({ error: { code: 'internal', message: 'The disk is full.' } }, { status: 500 }));
    const { page } = mounted(TemplatesSheet, { visible: false });
    await page.setProps({ visible: true });
    await vi.waitFor(() => expect(textOf(the('alert'))).toBe('The disk is full.'));
  }); // prettier-ignore
});

describe('files that are called like sources', () => {
  const same = (name: string, names: string[]) => ({ file: new File([], name), names, slot: 's' });

  it('are asked about: a new revision, a source of its own, or neither', async () => {
    job.store.sameNames = [same('test.stp', ['test.stp'])] as never;
    mounted(SameNameDialog);
    await vi.waitFor(() => the('dialog'));
    expect(textOf(the('dialog'))).toContain('test.stp is in this job already');
    expect(all('button').map((button) => textOf(button))).toEqual(['Cancel', 'A source of its own', 'New revision']);
    await click(the('button', 'Cancel'));
    expect(job.store.sameNames).toEqual([]);
    await vi.waitFor(() => expect(all('dialog')).toEqual([]));
  });

  it('are named where they are packed, and asked about together where they are several', async () => {
    job.store.sameNames = [same('B.zip', ['rack.stp', 'wedge.obj'])] as never;
    mounted(SameNameDialog);
    await vi.waitFor(() => the('dialog'));
    expect(textOf(the('dialog'))).toContain('B.zip holds what is in this job already');
    expect(textOf(the('dialog'))).toContain('rack.stp, wedge.obj');
    expect(textOf(the('dialog'))).toContain('Other models in it become sources of their own.');
    the('button', 'New revisions');
    the('button', 'Sources of their own');
  });
});

describe('the carry-over sheet', () => {
  const target = (name: string, format: string) => ({
    id: name,
    name,
    on: true,
    settings: { ...DEFAULT_TARGET, format },
  });
  const rows = () =>
    [...document.querySelectorAll('tbody tr')].map((row) => [...row.children].map((cell) => textOf(cell)));

  it('says for every target what is carried, changed or lost, and who would carry it', async () => {
    mounted(CarryOverSheet, { visible: true, targets: [target('Real time', 'glb'), target('Print', 'stl')] });
    await vi.waitFor(() => expect(rows().length).toBeGreaterThan(5));
    const layers = rows().find(([what]) => /^Layers/.test(what)) ?? [];
    expect(layers[0]).toContain('2');
    expect(layers[2]).toMatch(/^✗.*carried by/);
    // Seldom is all of it lost: what is carried everywhere can be left out.
    const before = rows().length;
    await click(document.querySelector('.legend input') as HTMLElement);
    expect(rows().length).toBeLessThan(before);
    expect(rows().every(([, ...cells]) => cells.some((cell) => !cell.startsWith('✓')))).toBe(true);
  });

  it('says that no target is switched on', async () => {
    mounted(CarryOverSheet, { visible: true, targets: [] });
    await vi.waitFor(() => expect(textOf(document.body)).toContain('No target is switched on.'));
  });
});
