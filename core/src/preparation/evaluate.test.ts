// The prepared scene is a function of sources and steps: what was computed once is not computed again. Counted, not timed.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { PrismError } from '../errors.ts';
import { inlineWorkbench, MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { mergeScenes } from '../scene/merge.ts';
import { takeOff } from '../scene/facts.ts';
import type { Scene } from '../scene/types.ts';
import { readSource } from '../read/readSource.ts';
import type { Step } from '../steps/kinds.ts';
import type { Surroundings } from '../surroundings.ts';
import { startKernel } from '../testing/solids.ts';
import { StepText } from '../testing/stepText.ts';
import { evaluate, evaluateNow, SceneMemo } from './evaluate.ts';
import { hashScene } from '../scene/plain.ts';

const blobs = new MemoryBlobs();
let base: Scene;

beforeAll(async () => {
  await startKernel(loadKernel);
  const step = new StepText();
  const unit = step.product('Unit');
  const shared = step.product('Shared', [step.tetrahedron(10).solid]);
  const single = step.product('Single', [step.tetrahedron(30).solid]);
  for (let i = 0; i < 3; i++) step.place(unit, shared, step.axis([i * 20, 0, 0]));
  step.place(unit, single, step.axis([0, 50, 0]));
  base = mergeScenes([await (await readSource({ name: 'u.stp', bytes: step.bytes() }, 's')).build(blobs)]);
});

const step = (id: string, kind: string, parameters: object, selector: Step['selector'] = { by: 'all' }): Step => ({
  id,
  kind,
  on: true,
  selector,
  parameters,
});
const TESSELLATE = step('t', 'tessellate', { chord: 0.0001, angle: 0.3, preset: 'own' });
const TURN = step('u', 'turn', { direction: 'z-to-y' });
const REDUCE = step('r', 'reduce', { until: 'share', share: 0.9, deviation: 0.001 });
const RENAME = step('n', 'rename', { name: 'Rib', of: 'picked' }, { by: 'picked', keys: ['s:/Unit/Single'] });
const STEPS = [TESSELLATE, TURN, REDUCE, RENAME];

/** Surroundings that count the tasks they are asked for. */
function counting(parts: Partial<Surroundings> = {}) {
  const tasks: string[] = [];
  const around = memorySurroundings({
    blobs,
    workbench: {
      width: 1,
      run: (task, input) => {
        tasks.push(task);
        return inlineWorkbench.run(task, input);
      },
    },
    ...parts,
  });
  return { around, tasks };
}

describe('rules of one kind that stand together', () => {
  const fine = step(
    'f',
    'tessellate',
    { chord: 0.00001, angle: 0.1, preset: 'own' },
    { by: 'name', pattern: 'Single' },
  );

  it('compute each part once, by the last rule that names it', async () => {
    const { around, tasks } = counting();
    const { scene, reports } = await evaluate(base, 'b', [TESSELLATE, fine], around);
    expect(tasks).toEqual(['tessellate', 'tessellate']);
    expect(reports.map(({ changed }) => changed)).toEqual([3, 1]);
    const alone = await evaluate(base, 'b', [fine], memorySurroundings({ blobs }));
    const meshOf = (of: Scene) => of.nodes.find(({ name }) => name === 'Single')?.mesh;
    expect(meshOf(scene)).toBe(meshOf(alone.scene));
    expect(takeOff(scene).meshes).toBe(2);
  });

  it('rebuild only what a changed rule names', async () => {
    const { around, tasks } = counting();
    await evaluate(base, 'b', [TESSELLATE, fine], around);
    tasks.length = 0;
    const finer = { ...fine, parameters: { chord: 0.00001, angle: 0.05, preset: 'own' } };
    await evaluate(base, 'b', [TESSELLATE, finer], around);
    expect(tasks).toEqual(['tessellate']);
  });

  it('fall back to the earlier rule where the later one is switched off', async () => {
    const { around, tasks } = counting();
    const off = await evaluate(base, 'b', [TESSELLATE, { ...fine, on: false }], around);
    expect(tasks).toHaveLength(2);
    expect(off.reports[0].changed).toBe(4);
  });

  it('give the browser and the server the same scene, to the hash', async () => {
    const { around } = counting();
    const results = new Map<string, unknown>();
    const done = await evaluate(base, 'b', [TESSELLATE, fine, TURN], {
      ...around,
      finished: (key, value) => results.set(key, value),
    });
    const now = evaluateNow(base, 'b', [TESSELLATE, fine, TURN], (key) => results.get(key));
    expect(now.missing).toEqual([]);
    expect(hashScene(now.scene)).toBe(hashScene(done.scene));
    expect(now.key).toBe(done.key);
  });
});

describe('evaluating a preparation', () => {
  it('computes every distinct solid once, however often it is placed', async () => {
    const { around, tasks } = counting();
    const { scene, missing, reports } = await evaluate(base, 'k', STEPS, around);
    expect(tasks).toEqual(['tessellate', 'tessellate', 'reduce', 'reduce']);
    expect(missing).toEqual([]);
    expect(takeOff(scene)).toMatchObject({ parts: 4, meshes: 2, triangles: 16, uniqueTriangles: 8 });
    expect(reports.map(({ id, changed }) => [id, changed])).toEqual([['t', 4], ['u', 1], ['r', 0], ['n', 1]]); // prettier-ignore
  });

  it('computes nothing the second time', async () => {
    const { around, tasks } = counting();
    const memo = new SceneMemo();
    const first = await evaluate(base, 'k', STEPS, around, memo);
    tasks.length = 0;
    const second = await evaluate(base, 'k', STEPS, around, memo);
    expect(second.counts).toMatchObject({ applied: 0, worked: 0 });
    expect(tasks).toEqual([]);
    expect(hashScene(second.scene)).toBe(hashScene(first.scene));
  });

  it('keeps the heavy results over a restart, when only they are remembered', async () => {
    const { around, tasks } = counting();
    await evaluate(base, 'k', STEPS, around);
    tasks.length = 0;
    const again = await evaluate(base, 'k', STEPS, around);
    expect(tasks).toEqual([]);
    expect(again.counts.worked).toBe(0);
  });

  it('computes again from the step that was edited, not before it', async () => {
    const { around, tasks } = counting();
    const memo = new SceneMemo();
    await evaluate(base, 'k', STEPS, around, memo);
    tasks.length = 0;
    const edited = [
      TESSELLATE,
      TURN,
      { ...REDUCE, parameters: { until: 'share', share: 0.5, deviation: 0.001 } },
      RENAME,
    ];
    const { counts } = await evaluate(base, 'k', edited, around, memo);
    expect(tasks).toEqual(['reduce', 'reduce']);
    expect(counts.applied).toBeLessThanOrEqual(3);
  });

  it('computes nothing heavy when a step that needs the manifest only is added, moved or switched off', async () => {
    const { around, tasks } = counting();
    const memo = new SceneMemo();
    await evaluate(base, 'k', STEPS, around, memo);
    tasks.length = 0;
    await evaluate(base, 'k', [TESSELLATE, RENAME, TURN, REDUCE], around, memo);
    await evaluate(base, 'k', [TESSELLATE, { ...TURN, on: false }, REDUCE, RENAME], around, memo);
    expect(tasks).toEqual([]);
  });

  it('gives the browser at once what is known, and the same scene as the server in the end', async () => {
    const results = new Map<string, unknown>();
    const { around } = counting({ finished: (key, value) => results.set(key, value) });
    const nothing = evaluateNow(base, 'k', STEPS, () => undefined);
    expect(nothing.missing).toHaveLength(2);
    expect(nothing.scene.nodes.at(4)!.name).toBe('Rib');
    expect(nothing.reports[0].pending).toBe(4);
    const server = await evaluate(base, 'k', STEPS, around);
    const browser = evaluateNow(base, 'k', STEPS, (key) => results.get(key));
    expect(browser.missing).toEqual([]);
    expect(hashScene(browser.scene)).toBe(hashScene(server.scene));
  });

  it('does nothing for a step that is switched off', async () => {
    const { around, tasks } = counting();
    const { scene } = await evaluate(base, 'k', STEPS.map((s) => ({ ...s, on: false })), around); // prettier-ignore
    expect(tasks).toEqual([]);
    expect(scene).toBe(base);
  });

  it('loses only the part whose solid fails, and remembers that it failed', async () => {
    const tasks: string[] = [];
    const { around } = counting({
      workbench: {
        width: 2,
        run: (task, input) => {
          tasks.push(task);
          if (tasks.length === 1)
            return Promise.reject(new PrismError('solid-failed', 'The kernel could not translate this solid.'));
          return inlineWorkbench.run(task, input);
        },
      },
    });
    const { scene, reports } = await evaluate(base, 'k', [TESSELLATE], around);
    const meshes = scene.nodes.filter((node) => node.mesh).length;
    expect(scene.nodes.filter((node) => node.problem)).toHaveLength(4 - meshes);
    expect(meshes).toBeGreaterThan(0);
    expect(reports[0].problems[0]).toMatch(/#\d+.*could not translate/);
    await evaluate(base, 'k', [TESSELLATE], around);
    expect(tasks).toHaveLength(2);
  });

  it('does not remember faults of the surroundings as faults of the part', async () => {
    const { around } = counting({ workbench: { width: 1, run: () => Promise.reject(new Error('disk full')) } });
    await expect(evaluate(base, 'k', [TESSELLATE], around)).rejects.toThrow('disk full');
    const { around: sound } = counting({ memo: around.memo });
    expect((await evaluate(base, 'k', [TESSELLATE], sound)).missing).toEqual([]);
  });

  it('stops when it is cancelled, and keeps what was finished', async () => {
    const controller = new AbortController();
    const { around, tasks } = counting({ signal: controller.signal, finished: () => controller.abort() });
    await expect(evaluate(base, 'k', STEPS, around)).rejects.toMatchObject({ code: 'cancelled' });
    expect(tasks).toHaveLength(1);
    const { around: later, tasks: rest } = counting({ memo: around.memo });
    await evaluate(base, 'k', [TESSELLATE], later);
    expect(rest).toHaveLength(1);
  });

  it('reports progress up to the end', async () => {
    const seen: string[] = [];
    const { around } = counting({ progress: ({ done, total }) => seen.push(`${done}/${total}`) });
    await evaluate(base, 'k', [TESSELLATE], around);
    expect(seen).toEqual(['0/2', '1/2', '2/2']);
  });

  it('measures a second reduction against the tessellation', async () => {
    const { around } = counting();
    const tessellated = await evaluate(base, 'k', [TESSELLATE], around);
    const twice = await evaluate(base, 'k', [TESSELLATE, REDUCE, { ...REDUCE, id: 'r2' }], around);
    const original = tessellated.scene.nodes.at(4)!.mesh;
    expect(twice.scene.meshes[twice.scene.nodes.at(4)!.mesh as string].deviation?.from).toBe(original);
  });

  it('does not call lost what a step takes away itself', () => {
    const { key } = base.nodes.at(1)!;
    const step = { ...RENAME, kind: 'leave-out', parameters: {}, selector: { by: 'picked', keys: [key] } } as Step;
    const { reports, scene } = evaluateNow(base, 'k', [step], () => undefined);
    expect(reports[0]).toMatchObject({ lost: [] });
    expect(scene.nodes.some((node) => node.key === key)).toBe(false);
  });

  it('says which picked parts are gone', () => {
    const { reports } = evaluateNow(
      base,
      'k',
      [{ ...RENAME, selector: { by: 'picked', keys: ['s:/Unit/Gone'] } }],
      () => undefined,
    );
    expect(reports[0]).toMatchObject({ matched: 0, changed: 0, lost: ['s:/Unit/Gone'] });
  });
});

describe('what somebody waits for', () => {
  const many = async () => {
    const step = new StepText();
    const rack = step.product('Rack');
    for (let i = 1; i <= 6; i++)
      step.place(rack, step.product(`Plate ${i}`, [step.tetrahedron(i * 10).solid]), step.axis([i * 100, 0, 0]));
    const store = new MemoryBlobs();
    const scene = await (await readSource({ name: 'r.stp', bytes: step.bytes() }, 's')).build(store);
    return { scene: mergeScenes([scene]), store };
  };

  it('is done before the rest, also where the wish comes while others are under way', async () => {
    const { scene, store } = await many();
    const keys = evaluateNow(scene, 'k', [TESSELLATE], () => undefined).missing.map((work) => work.key);
    const order: string[] = [];
    const { around } = counting({
      blobs: store,
      finished: (key) => order.push(key),
      // The wish is there once two pieces are done.
      wanted: async () => (order.length < 2 ? [] : [keys[5], keys[0], keys[4]]),
    });
    await evaluate(scene, 'k', [TESSELLATE], around);
    expect(order).toEqual([keys[0], keys[1], keys[5], keys[4], keys[2], keys[3]]);
  });

  it('may be work that is done already or not known at all', async () => {
    const { scene, store } = await many();
    const { around, tasks } = counting({ blobs: store, wanted: async () => ['nothing of ours'] });
    const { counts } = await evaluate(scene, 'k', [TESSELLATE], around);
    expect(counts.worked).toBe(6);
    expect(tasks).toHaveLength(6);
  });
});
