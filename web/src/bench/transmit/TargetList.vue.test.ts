// What a job is sent to: targets added by what the receiver does, switched, renamed, copied, taken from another job; each says what it would lose.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import type { Target, TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { api } from '../../api/client.ts';
import { all, choicesOf, choose, click, fill, mounted, openJob, press, textOf, the, tick, unmountAll } from '../../testing/mountBench.ts'; // prettier-ignore
import type { OpenJob } from '../../testing/mountBench.ts';
import TargetList from './TargetList.vue';
import { unused, useTargets } from './targets.ts';

let job: OpenJob;
let sheets: number;
/** What the server was told to keep, newest last. */
let kept: Target[][];

const target = (id: string, name: string, settings: Partial<TargetSettings> = {}): Target => ({ id, name, on: true, settings: { ...DEFAULT_TARGET, ...settings } }); // prettier-ignore

const plain = (targets: unknown) => JSON.parse(JSON.stringify(targets)) as Target[];

beforeEach(async () => {
  // A tree, a layer and a colour: STL carries none of them.
  job = await openJob([{ name: 'Frame', children: [{ name: 'Box', layer: 'STEEL', mesh: boxMesh(1, 1, 1), materials: ['#802020'] }] }]); // prettier-ignore
  kept = [];
  sheets = 0;
  vi.spyOn(api, 'keepTargets').mockImplementation(async (_id, targets) => {
    kept.push(plain(targets));
    return { ...job.server.job, targets: plain(targets) };
  });
});
afterEach(() => {
  unmountAll();
  vi.restoreAllMocks();
});

function list(...targets: Target[]): void {
  if (job.store.job) job.store.job = { ...job.store.job, targets };
  mounted(
    defineComponent(() => {
      const shown = useTargets();
      return () => h(TargetList, { targets: shown, onSheet: () => sheets++ });
    }),
  );
}
const names = () => all('checkbox', /^Send to/).map((box) => box.getAttribute('aria-label')?.slice('Send to '.length));
const newest = () => kept.at(-1)?.map(({ name }) => name);

describe('the list of targets', () => {
  it('says that there is none, and adds one by what it is for, open to be changed', async () => {
    list();
    expect(document.body.textContent).toContain('None yet.');
    const offered = await choicesOf(the('combobox', 'Add a target'));
    expect(offered.length).toBeGreaterThanOrEqual(10);
    await choose(the('combobox', 'Add a target'), 'Printing');
    expect(names()).toEqual(['Printing']);
    expect(the('button', 'Printing').getAttribute('aria-expanded')).toBe('true');
    await vi.waitFor(() => expect(newest()).toEqual(['Printing']));
    expect(kept.at(-1)?.[0].settings).toMatchObject({ format: '3mf', lines: 'left' });
  });

  it('says of each how much it would lose, and opens the sheet that says what', async () => {
    list(target('g', 'Whole'), target('s', 'Milling', { format: 'stl', unit: 'mm', up: 'z' }));
    expect(textOf(the('button', /^Carry-over of Whole/))).not.toContain('lost');
    // "STL … no colour, texture, units": of one body nothing of tree, layer, material is left.
    expect(textOf(the('button', /^Carry-over of Milling/))).toMatch(/^[3-9] lost/);
    await click(the('button', /^Carry-over of Milling/));
    await click(the('button', 'Carry-over sheet'));
    expect(sheets).toBe(2);
  });

  it('switches one off without losing it', async () => {
    list(target('g', 'Whole'), target('s', 'Milling', { format: 'stl' }));
    await tick(the('checkbox', 'Send to Milling'), false);
    await vi.waitFor(() => expect(kept.at(-1)?.map(({ on }) => on)).toEqual([true, false]));
    expect(names()).toEqual(['Whole', 'Milling']);
  });

  it('sets what a format cannot do back to what is usual in it', async () => {
    list(target('s', 'Milling', { format: 'stl', unit: 'mm', up: 'z' }));
    await click(the('button', 'Milling'));
    await choose(the('combobox', /^Format/), 'Binary glTF 2.0 (.glb)');
    await vi.waitFor(() => expect(kept.at(-1)?.[0].settings.format).toBe('glb'));
    // glTF 2.0, 3.1: metres, y up.
    expect(kept.at(-1)?.[0].settings).not.toHaveProperty('unit');
    expect(kept.at(-1)?.[0].settings).not.toHaveProperty('up');
  });

  it('renames, copies behind the one that is copied, and removes', async () => {
    list(target('g', 'Whole'), target('s', 'Milling', { format: 'stl' }));
    await click(the('button', 'Whole'));
    await fill(the('textbox', /^Name/), 'Viewer');
    await press(the('textbox', /^Name/), 'Enter');
    await vi.waitFor(() => expect(newest()).toEqual(['Viewer', 'Milling']));
    await click(the('button', 'Duplicate'));
    await vi.waitFor(() => expect(newest()).toEqual(['Viewer', 'Viewer 2', 'Milling']));
    expect(the('button', 'Viewer 2').getAttribute('aria-expanded')).toBe('true');
    await click(the('button', /^(Remove|Delete|Take)/));
    await vi.waitFor(() => expect(newest()).toEqual(['Viewer', 'Milling']));
  });

  it('goes back to what the server has where it cannot be kept', async () => {
    list(target('g', 'Whole'));
    vi.mocked(api.keepTargets).mockRejectedValueOnce(new TypeError('fetch failed'));
    await choose(the('combobox', 'Add a target'), 'Rendering');
    await expect.poll(names).toEqual(['Whole']);
    expect(job.store.error ?? job.store.offline).toBeTruthy();
  });

  it('takes those of another job over, numbered where a name is taken', async () => {
    list(target('g', 'Whole'));
    const other = { ...job.server.job, id: 'o', name: 'Pump house', targets: [target('x', 'Whole'), target('y', 'Plan', { format: 'obj' })] }; // prettier-ignore
    vi.spyOn(api, 'jobs').mockResolvedValue([{ id: 'j', name: 'Job' }, { id: 'o', name: 'Pump house' }] as never); // prettier-ignore
    vi.spyOn(api, 'job').mockResolvedValue(other as never);
    await click(the('button', 'From another job…'));
    const jobs = the('combobox', 'Job whose targets are taken over');
    expect(await choicesOf(jobs)).toEqual(['Pump house']);
    await choose(jobs, 'Pump house');
    await vi.waitFor(() => expect(newest()).toEqual(['Whole', 'Whole 2', 'Plan']));
    expect(new Set(kept.at(-1)?.map(({ id }) => id)).size).toBe(3);
  });

  it('says so where there is no other job', async () => {
    list(target('g', 'Whole'));
    vi.spyOn(api, 'jobs').mockResolvedValue([{ id: 'j', name: 'Job' }] as never);
    await click(the('button', 'From another job…'));
    expect(document.body.textContent).toContain('There is no other job.');
  });
});

it.each([
  ['Viewer', [], 'Viewer'],
  ['Viewer', ['Viewer'], 'Viewer 2'],
  ['Viewer 2', ['Viewer', 'Viewer 2'], 'Viewer 3'],
  ['Viewer', ['Viewer', 'Viewer 2', 'Viewer 4'], 'Viewer 3'],
])('a name that is not taken, from %s among %j: %s', (name, taken, made) => {
  expect(unused(name, taken.map((one) => ({ name: one })))).toBe(made); // prettier-ignore
});
