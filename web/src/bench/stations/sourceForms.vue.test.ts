// What is said of a source on its sheet: the unit that it is read in, and what of it is taken. Each becomes a step, and is read from the steps.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useMeasure } from '../../stores/measure.ts';
import { useSelection } from '../../stores/selection.ts';
import { choicesOf, choose, click, fill, mounted, openJob, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import TakeList from './TakeList.vue';
import UnitChoice from './UnitChoice.vue';

const part = (name: string, layer: string): PartSpec => ({
  name,
  layer,
  mesh: boxMesh(1, 1, 1),
  materials: ['#808080'],
});
const TREE: PartSpec[] = [
  { name: 'Hall', children: [
    { name: 'Ground', children: [part('Wall', 'WALLS'), part('Door', 'DOORS')] },
    { name: 'Upper', children: [part('Roof', 'WALLS')] },
  ] },
]; // prettier-ignore

afterEach(unmountAll);

describe('the unit of a source', () => {
  async function unit() {
    const job = await openJob(TREE);
    const [info] = job.store.scene.sources;
    mounted(UnitChoice, { info });
    const factor = () => (job.store.steps.find(({ kind }) => kind === 'unit')?.parameters as { factor: number } | undefined)?.factor;
    return { ...job, factor, box: () => the('combobox', /^Unit of/) };
  } // prettier-ignore

  it('is the one that it declares, or any other, as a step that is taken back by choosing the first again', async () => {
    const { factor, box, settled } = await unit();
    expect(await choicesOf(box())).toEqual(['mm, as declared', 'cm', 'm', 'inch', 'foot', 'by a known length…']);
    await choose(box(), 'inch');
    await settled();
    // 1 in = 25.4 mm exactly (international yard and pound agreement, 1959).
    expect(factor()).toBeCloseTo(25.4, 12);
    await choose(box(), 'mm, as declared');
    await settled();
    expect(factor() ?? 1).toBe(1);
  });

  it('is found by a distance whose true length is known', async () => {
    const { factor, box, settled } = await unit();
    await choose(box(), 'by a known length…');
    const measure = useMeasure();
    expect(measure.active).toBe(true);
    expect(textOf(document.body)).toContain('Click two points in the view whose true distance you know.');
    vi.spyOn(measure, 'distance', 'get').mockReturnValue(0.02);
    await click(the('button', 'Cancel'));
    expect(measure.active).toBe(false);
    await choose(box(), 'by a known length…');
    await vi.waitFor(() => expect(textOf(document.body)).toContain('Measured'));
    await fill(the('textbox', 'In truth'), '2 m');
    await click(the('button', 'Calibrate'));
    await settled();
    expect(factor()).toBeCloseTo(100, 9);
    expect(measure.active).toBe(false);
  });
});

describe('what of a source is taken', () => {
  async function list() {
    const job = await openJob(TREE);
    const [{ id }] = job.store.scene.sources;
    mounted(TakeList, { source: id });
    const names = () => job.store.scene.nodes.map(({ name }) => name);
    return { ...job, names };
  }
  const lists = () => [...document.querySelectorAll('summary')].map((summary) => textOf(summary));

  it('are its sub-assemblies and layers, and what is unticked is left out by a step, until it is ticked again', async () => {
    const { names, settled, store } = await list();
    expect(lists()).toEqual(['2 sub-assemblies', '2 layers']);
    const box = () => the('checkbox', 'Take DOORS');
    await click(box());
    await settled();
    expect(names()).not.toContain('Door');
    expect(store.steps.map(({ kind }) => kind)).toEqual(['leave-out']);
    expect(lists()[1]).toBe('2 layers, 1 left out');
    await click(box());
    await settled();
    expect(names()).toContain('Door');
  });

  it('can be selected by its name: what a layer holds, or a branch', async () => {
    const { store } = await list();
    await click(the('button', /^DOORS/));
    expect(useSelection().nodes.map(({ name }) => name)).toEqual(['Door']);
    await click(the('button', /^Upper/));
    expect(useSelection().nodes.map(({ name }) => name)).toEqual(['Upper']);
    expect(store.steps).toEqual([]);
  });
});
