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
