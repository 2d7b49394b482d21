// The worker's end of the evaluation: what the preparation gives, and beside it what it gives without a step.
import { afterEach, expect, it, vi } from 'vitest';
import { packScene } from '@noble-prism/core/scene/sceneFile';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { updated } from '@noble-prism/core/scene/wire';
import type { SceneUpdate } from '@noble-prism/core/scene/wire';
import type { Step } from '@noble-prism/core/steps/kinds';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import type { Answer } from './messages.ts';
import { EvaluationService } from './service.ts';

afterEach(() => vi.unstubAllGlobals());

const step = (id: string, kind: string, selector: Step['selector'], parameters: object): Step => ({ id, kind, on: true, selector, parameters }); // prettier-ignore
const out = step('out', 'leave-out', { by: 'name', pattern: 'B' }, {});
const name = step('name', 'rename', { by: 'all' }, { name: '{name} new', of: 'parts' });
/** Meshes are entered in the record that the scene before has: it needs one of its own. */
const whole = ({ update }: { update: SceneUpdate }) => updated({ ...EMPTY_SCENE, meshes: {} }, update);
const names = (scene: Scene) => scene.nodes.map((node) => node.name);

it('tells what the preparation gives without a step, until it is asked for none', async () => {
  const { scene } = await sceneWith(['A', 'B', 'C'].map((text) => ({ name: text, mesh: boxMesh(1, 1, 1) })));
  const bytes = await packScene(scene);
  vi.stubGlobal('fetch', async () => new Response(bytes as Uint8Array<ArrayBuffer>));
  const answers: Answer[] = [];
  const service = new EvaluationService((answer) => answers.push(structuredClone(answer)));
  const compared = () => answers.flatMap((answer) => (answer.type === 'compared' ? [answer] : []));
  await service.hear({ type: 'open', job: 'j' });
  await service.hear({ type: 'sources', key: 'k', shown: [{ slot: 's', scene: 'h' }] });
  await service.hear({ type: 'steps', steps: [out, name] });
  expect(compared()).toEqual([]);

  await service.hear({ type: 'without', step: 'out' });
  expect(compared().map(({ step: without }) => without)).toEqual(['out']);
  // Whole by itself, with what the later steps make of it.
  expect(names(whole(compared()[0]))).toEqual(['A new', 'B new', 'C new']);

  // It follows what changes, and says nothing where its side is as it was.
  await service.hear({ type: 'steps', steps: [out, { ...name, parameters: { name: 'Part', of: 'parts' } }] });
  expect(names(whole(compared()[1]))).toEqual(['Part', 'Part', 'Part']);
  await service.hear({ type: 'steps', steps: [{ ...out, on: false }, { ...name, parameters: { name: 'Part', of: 'parts' } }] }); // prettier-ignore
  expect(compared()).toHaveLength(2);

  await service.hear({ type: 'without' });
  await service.hear({ type: 'steps', steps: [name] });
  expect(compared()).toHaveLength(2);
});

it('tells what a schedule takes hold of on the scene before it, and why a row has its material, as long as somebody looks', async () => {
  const { scene } = await sceneWith(
    ['A', 'B', 'C'].map((text) => ({ name: text, mesh: boxMesh(1, 1, 1), layer: 'WALLS', materials: ['white'] })),
  );
  const bytes = await packScene(scene);
  vi.stubGlobal('fetch', async () => new Response(bytes as Uint8Array<ArrayBuffer>));
  const answers: Answer[] = [];
  const service = new EvaluationService((answer) => answers.push(structuredClone(answer)));
  const scheduled = () => answers.flatMap((answer) => (answer.type === 'scheduled' ? [answer] : []));
  const rules = [
    { which: { by: 'layer', layers: ['WALLS'] }, material: 'lib:concrete' },
    { which: { by: 'name', pattern: 'B new' }, material: 'lib:glass' },
  ];
  await service.hear({ type: 'open', job: 'j' });
  await service.hear({ type: 'sources', key: 'k', shown: [{ slot: 's', scene: 'h' }] });
  await service.hear({ type: 'steps', steps: [name, step('f', 'finishes', { by: 'all' }, { rules })] });
  expect(scheduled()).toEqual([]);

  await service.hear({ type: 'schedule', watch: { step: 'f', row: 1 } });
  const [first] = scheduled();
  expect(first).toMatchObject({ unruled: 0, reasons: [{ rules: [0, 1], had: ['white'] }] });
  expect(first.lines.map(({ parts, won }) => [parts, won])).toEqual([
    [3, 2],
    [1, 1],
  ]);
  expect([...first.winners]).toEqual([0, 1, 0]);
  // The names before the schedule, the materials too.
  const base = answers.find((answer) => answer.type === 'base');
  const before = updated(whole(base!), first.update!);
  expect(before.nodes.map(({ name: text, materials }) => [text, materials[0]])).toEqual([['A new', 'white'], ['B new', 'white'], ['C new', 'white']]); // prettier-ignore

  // It follows what changes; the scene before it is told once.
  await service.hear({ type: 'steps', steps: [name, step('f', 'finishes', { by: 'all' }, { rules: rules.slice(1) })] });
  expect(scheduled()[1]).toMatchObject({ unruled: 2, reasons: [{ rules: [0] }] });
  expect(scheduled()[1].update).toBeUndefined();
  // Of a job without one: the place where it would stand.
  await service.hear({ type: 'schedule', watch: {} });
  expect(scheduled()[2]).toMatchObject({ unruled: 3, lines: [] });
  await service.hear({ type: 'schedule' });
  await service.hear({ type: 'steps', steps: [name] });
  expect(scheduled()).toHaveLength(3);
});
