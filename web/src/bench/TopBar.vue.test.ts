// The top bar: how far each station is, what the server is doing and how to stop it, and the name of the job.
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { Task } from '@noble-prism/wire/task';
import { FakeEvents } from '../testing/fakeServer.ts';
import { all, click, fill, mounted, openJob, press, step, textOf, the, unmountAll } from '../testing/mountBench.ts';
import type { Mounted, OpenJob } from '../testing/mountBench.ts';
import TopBar from './TopBar.vue';

const box = (name: string) => ({ name, mesh: boxMesh(1, 1, 1) });
const RULES = [
  { which: { by: 'name', pattern: 'A' }, material: 'lib:oak' },
  { which: { by: 'name', pattern: 'B' }, material: 'lib:glass' },
];

let job: OpenJob;
let opened: Mounted;
let told: string[];
beforeEach(async () => {
  job = await openJob([box('A'), box('B'), box('C')], [step('f', 'finishes', { by: 'all' }, { rules: RULES })]);
  told = [];
  opened = mounted(TopBar, { station: 'receive', onHelp: () => told.push('help'), onFind: () => told.push('find') });
});
afterEach(unmountAll);

const station = (name: string) => textOf(the('button', new RegExp(`^\\d ?${name}`)));
const doing = () => textOf(the('status'));
const task = (id: string, state: Task['state'], progress: Task['progress'] = null) =>
  ({ id, kind: 'evaluate', state, progress, error: null, result: null }) as Task;

/** What the server says of its tasks. */
async function works(...tasks: Task[]): Promise<void> {
  job.server.tasks = tasks;
  FakeEvents.latest.happens('resync');
  await expect.poll(() => job.store.job?.tasks.length).toBe(tasks.length);
}

describe('the stations', () => {
  it('say how far each is', () => {
    expect(station('Receive')).toContain('1 source');
    expect(station('Arrange')).toContain('3 parts');
    expect(station('Finishes')).toContain('2 rules');
    expect(station('Lighten')).toContain('not reduced');
    expect(station('Transmit')).toContain('nothing sent');
  });

  it('forget the rules of a schedule that is switched off', async () => {
    job.store.change('Off', (steps) => steps.map((one) => ({ ...one, on: false })));
    await job.settled();
    expect(station('Finishes')).toContain('as received');
  });

  it('says of what was sent whether it holds, and whether it was all', async () => {
    const sent = (more: object) => [{ id: 't', outputs: [{ readBack: { holds: true }, ...more }] }] as never;
    for (const [more, words] of [[{}, '1 sent, holds'], [{ notInFull: ['It ends early.'] }, '1 sent, not in full'], [{ error: { message: 'no' }, notInFull: [] }, '1 sent, differs']] as const) {
      if (job.store.job) job.store.job = { ...job.store.job, transmittals: sent(more) };
      await opened.page.vm.$nextTick();
      expect(station('Transmit')).toContain(words);
    }
  }); // prettier-ignore

  it('are gone to, and the one that is open is marked', async () => {
    await opened.router.push('/jobs/j/receive');
    await click(the('button', /Transmit/));
    expect(opened.router.currentRoute.value.params).toEqual({ job: 'j', station: 'transmit' });
    expect(all('button').filter((one) => one.getAttribute('aria-current') === 'page')).toHaveLength(1);
    expect(the('button', /Receive/).getAttribute('aria-current')).toBe('page');
  });
});

describe('what the server does', () => {
  it('is said with how far it is, and can be stopped', async () => {
    expect(doing()).toBe('');
    await works(task('7', 'running', { what: 'Tessellate Crown gear', done: 12, total: 82 }));
    expect(doing()).toContain('Tessellate Crown gear');
    expect(doing()).toContain('12 of 82');
    job.server.log.length = 0;
    await click(the('button', 'Cancel'));
    expect(job.server.log).toContain('POST cancel');
  });

  it('is that which runs, not that which waits before it', async () => {
    await works(task('7', 'queued'), task('8', 'running', { what: 'Read tower.ifc', done: 0, total: 1 }));
    expect(doing()).toContain('Read tower.ifc');
    await works(task('9', 'queued'));
    expect(doing()).toContain('Waiting for the worker');
  });

  it('is not said of what is read where somebody points', async () => {
    await works({ ...task('7', 'running', { what: 'Read one solid', done: 0, total: 1 }), kind: 'exact' });
    expect(doing()).toBe('');
  });

  it('is that it cannot be reached, before all else', async () => {
    await works(task('7', 'running', { what: 'Tessellate', done: 1, total: 2 }));
    FakeEvents.latest.onerror?.();
    await expect.poll(doing).toBe('Server out of reach, trying again');
  });
});

describe('the name of the job', () => {
  const field = () => the('textbox', /name/i);

  it('is changed in place, with blanks around it taken away', async () => {
    await click(the('button', 'Job'));
    await fill(field(), '  Gondola station  ');
    job.server.log.length = 0;
    await press(field(), 'Enter');
    expect(job.server.log).toEqual(['PATCH j']);
    expect(all('textbox')).toEqual([]);
  });

  it('stays where nothing or the same is typed, and on Esc', async () => {
    job.server.log.length = 0;
    for (const [text, key] of [['', 'Enter'], ['Job', 'Enter'], ['Other', 'Escape']]) {
      await click(the('button', 'Job'));
      await fill(field(), text);
      await press(field(), key === 'Escape' ? 'Esc' : key);
      if (all('textbox').length > 0) await press(field(), 'Escape');
      expect(all('textbox')).toEqual([]);
    }
    expect(job.server.log).toEqual([]);
  }); // prettier-ignore
});

it('leads to the finder and to the keys', async () => {
  await click(the('button', 'Find an action, Ctrl K'));
  await click(the('button', 'Keyboard shortcuts'));
  expect(told).toEqual(['find', 'help']);
});
