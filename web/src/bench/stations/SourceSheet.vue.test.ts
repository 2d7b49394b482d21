// What a source says of itself, and what can be done about it: its size as people know such things, its unit, its axis, what is taken of it.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useSelection } from '../../stores/selection.ts';
import { choicesOf, choose, click, mounted, openJob, step, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import type { OpenJob } from '../../testing/mountBench.ts';
import SourceSheet from './SourceSheet.vue';

/** A pump of 3 × 1 × 1 m: two bodies of one colour on a layer, a cover on another. */
const TREE: PartSpec[] = [
  {
    name: 'Pump',
    children: [
      { name: 'Casing', layer: 'CAST', mesh: boxMesh(3, 1, 1), materials: ['#808080'] },
      { name: 'Foot', layer: 'CAST', mesh: boxMesh(1, 0.2, 1), materials: ['#808080'] },
      { name: 'Cover', layer: 'SHEET', mesh: boxMesh(0.5, 0.5, 0.1), materials: ['#203080'] },
    ],
  },
];

let job: OpenJob;
beforeEach(async () => {
  job = await openJob(TREE);
});
afterEach(unmountAll);

const open = () => mounted(SourceSheet, { source: job.store.sources[0] });
const fact = (name: string) => {
  const term = [...document.querySelectorAll('dt')].find((one) => textOf(one) === name);
  return term?.nextElementSibling ? textOf(term.nextElementSibling) : undefined;
};

describe('the sheet of a source', () => {
  it('says format, producer, tree and size', () => {
    open();
    expect(fact('Format')).toContain('STEP AP214');
    expect(fact('From')).toBe('not stated');
    expect(fact('Tree')).toBe('3 parts in 1 assembly');
    expect(fact('Size')).toContain('3 × 1 × 1 m');
  });

  it('says how large it came, whatever is done to it later; what is said of it counts', async () => {
    open();
    const { change } = job.store;
    change('moved', (steps) => [...steps, step('m', 'move', { by: 'name', pattern: 'Foot' }, { x: 9, y: 0, z: 0 }), step('l', 'scale', { by: 'all' }, { x: 2, y: 2, z: 2, about: 'origin' })]); // prettier-ignore
    await job.settled();
    expect(job.store.steps).toHaveLength(2);
    expect(fact('Size')).toContain('3 × 1 × 1 m');
    // What is said of the source itself counts: without its long part it is no longer as long.
    change('taken in part', (steps) => [step('o', 'leave-out', { by: 'name', pattern: 'Casing' }, {}), ...steps]);
    await vi.waitFor(() => expect(fact('Size')).toContain('1 × 0.5 × 1 m'));
  });

  it('is turned up, and says that nobody declared its axis', async () => {
    open();
    const up = the('combobox', 'Up axis of test.stp');
    expect((await choicesOf(up))[0]).toContain('by convention, not in the file');
    expect(job.store.scene.sources[0].up).toBe('z');
    const turned = (await choicesOf(up))[1];
    await choose(up, turned);
    await job.settled();
    expect(job.store.steps).toHaveLength(1);
    expect(job.store.scene.sources[0].up).toBe(turned[0]);
  });

  it('selects the parts of a material', async () => {
    open();
    expect(document.body.textContent).toContain('2 materials');
    await click(the('button', /#808080/));
    expect(useSelection().parts.size).toBe(2);
  });

  it('is taken out of the job', async () => {
    open();
    job.server.log.length = 0;
    await click(the('button', 'Take test.stp out of the job'));
    await job.settled();
    expect(job.server.log[0]).toMatch(/^POST versions/);
    expect(job.server.job.version.sources).toEqual([]);
  });

  it('that could not be read says why, and where', () => {
    const source = { ...job.store.sources[0], state: 'failed' as const, error: { code: 'broken-file' as const, message: 'The file ends in the middle.', where: 'line 812' } }; // prettier-ignore
    mounted(SourceSheet, { source });
    expect(textOf(the('alert'))).toBe('The file ends in the middle. (line 812)');
    expect(fact('Format')).toBeUndefined();
  });
});
