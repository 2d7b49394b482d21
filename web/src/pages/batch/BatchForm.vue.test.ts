// What is made of models that were dropped together: a job for each, what each begins with, where all are sent.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { READY_MADE } from '@noble-prism/core/transmit/targets/readyMade';
import { all, choose, click, fill, mounted, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import BatchForm from './BatchForm.vue';

interface Order {
  name: string;
  jobs: string[];
  template: string | null;
  targets: { name: string; on: boolean }[];
  folder: boolean;
}

let orders: Order[];
let refused = '';
const theirs = [{ id: 't', name: 'Their print', on: true, settings: READY_MADE[1].settings }];

beforeEach(() => {
  orders = [];
  refused = '';
  vi.stubGlobal('fetch', async (path: string, { body }: { body?: string } = {}) => {
    if (path.includes('/jobs/')) return Response.json({ id: 'upper', targets: theirs });
    if (refused) return Response.json({ error: { code: 'bad-parameters', message: refused } }, { status: 422 });
    orders.push(JSON.parse(body ?? '{}') as Order);
    return Response.json({ id: 'b', jobs: [] });
  });
});
afterEach(unmountAll);

const file = (name: string, bytes: number) => new File([new Uint8Array(bytes)], name);

function form(props: object = {}) {
  const { page } = mounted(BatchForm, {
    files: [file('wedge.stp', 1500), file('wedge.obj', 500), file('rack.ifc', 2000)],
    ignored: [],
    beginnings: [
      { value: undefined, label: 'the usual steps' },
      { value: 'iron', label: 'All of iron', note: '2 steps' },
    ],
    template: undefined,
    jobs: [{ id: 'upper', name: 'Upper station' }],
    ...props,
  });
  const submit = () => document.querySelector('form')?.dispatchEvent(new Event('submit', { cancelable: true }));
  return { page, submit };
}
const targets = () => [...document.querySelectorAll<HTMLInputElement>('.targets input')];

describe('a batch that is about to be made', () => {
  it('says how many models, how large, and what of a folder is none', () => {
    form({ ignored: ['read me.txt', 'notes.doc'] });
    expect(textOf(document.body)).toMatch(/3 models, 4\s*kB: a job for each/);
    expect(all('listitem').map((item) => textOf(item))[0]).toContain('wedge.stp');
    expect(textOf(document.body)).toContain('2 files are no model and left out.');
  });

  it('is ordered with names that differ, a template and the targets that are ticked', async () => {
    const { page, submit } = form();
    expect(targets().map(({ checked }) => checked)).toEqual(READY_MADE.map((_, i) => i === 0));
    await choose(the('combobox', /^Begins with/), 'All of iron');
    await fill(the('textbox', 'Name'), ' Three ');
    await click(targets()[1]);
    await click(document.querySelector('.folder input') as HTMLElement);
    submit();
    await vi.waitFor(() => expect(orders).toHaveLength(1));
    const [{ name, jobs, template, folder, targets: sent }] = orders;
    expect([name, template, folder]).toEqual(['Three', 'iron', true]);
    expect(new Set(jobs).size).toBe(3);
    expect(sent.filter(({ on }) => on).map((target) => target.name)).toEqual(READY_MADE.slice(0, 2).map((made) => made.name)); // prettier-ignore
    await vi.waitFor(() => expect(page.emitted('made')).toHaveLength(1));
  });

  it('takes the targets of another job, and the ready-made ones again', async () => {
    form();
    await choose(the('combobox', /^Sent to/), 'as in Upper station');
    await vi.waitFor(() => expect(targets()).toHaveLength(1));
    expect(textOf(document.querySelector('.targets') as Element)).toContain('Their print');
    await choose(the('combobox', /^Sent to/), 'ready-made targets');
    await vi.waitFor(() => expect(targets()).toHaveLength(READY_MADE.length));
  });

  it('is not made without a name or without a target', async () => {
    form();
    const make = the('button', /^Prepare 3 models/) as HTMLButtonElement;
    expect(make.disabled).toBe(false);
    await fill(the('textbox', 'Name'), '  ');
    expect(make.disabled).toBe(true);
    await fill(the('textbox', 'Name'), 'Three');
    await click(targets()[0]);
    expect(make.disabled).toBe(true);
    expect(textOf(document.body)).toContain('Choose at least one target.');
  });

  it('says what the server says where it is refused, and can be given up', async () => {
    refused = 'There are too many models for one batch.';
    const { page, submit } = form();
    submit();
    await vi.waitFor(() => expect(textOf(the('alert'))).toBe(refused));
    expect(page.emitted('made')).toBeUndefined();
    await click(the('button', 'Cancel'));
    expect(page.emitted('cancel')).toHaveLength(1);
  });
});
