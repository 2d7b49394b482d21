// Steps that are given to another job: what was decided of one of several parts of one name is done to that part, or to none.
import { describe, expect, it } from 'vitest';
import { MemoryBlobs } from '../memoryStores.ts';
import { translation } from '../scene/matrix.ts';
import { checkSteps } from '../steps/kinds.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { settledSteps, signedSteps, signing } from './equals.ts';
import { evaluateNow } from './evaluate.ts';
import { mergeSlots } from './slots.ts';
import { stepsFor } from './template.ts';

const bolt = (length: number, at = length): PartSpec => ({ name: 'Bolt', mesh: boxMesh(0.1, 0.1, length), transform: translation([at, 0, 0]) }); // prettier-ignore
const FOUR = [bolt(1), bolt(2), bolt(3), bolt(4)];
const blobs = new MemoryBlobs();
const jobOf = async (slot: string, ...bolts: PartSpec[]) => mergeSlots([{ slot, scene: (await sceneWith([{ name: 'Plate', children: bolts }], blobs)).scene }]); // prettier-ignore

/** The second renamed, the third moved, the fourth left out. */
const decided = (slot: string) =>
  checkSteps([
    { id: 'a', kind: 'rename', on: true, selector: { by: 'picked', keys: [`${slot}:/Plate/Bolt#2`] }, parameters: { name: 'Second', of: 'parts' } },
    { id: 'b', kind: 'rename', on: true, selector: { by: 'picked', keys: [`${slot}:/Plate/Bolt#3`] }, parameters: { name: 'Third', of: 'parts' } },
    { id: 'c', kind: 'leave-out', on: true, selector: { by: 'picked', keys: [`${slot}:/Plate/Bolt#4`] }, parameters: {} },
  ]); // prettier-ignore

async function given(...bolts: PartSpec[]) {
  const steps = signedSteps(await jobOf('one', ...FOUR), decided('one'));
  const there = await jobOf('two', ...bolts);
  const { scene, reports } = evaluateNow(there, 'k', stepsFor(steps, [{ id: 'one', name: 'f' }], [{ id: 'two', name: 'f' }]), () => undefined); // prettier-ignore
  const lengths = scene.nodes.flatMap(({ kind, name, mesh }) => (kind === 'part' && mesh ? [`${name} ${scene.meshes[mesh].bounds.max[2] * 2}`] : [])); // prettier-ignore
  return { lengths, lost: reports.map(({ lost }) => lost.length) };
}

describe('parts of one name in another job', () => {
  it.each([
    ['the same', FOUR, ['Bolt 1', 'Second 2', 'Third 3'], [0, 0, 0]],
    ['in another order', FOUR.toReversed(), ['Third 3', 'Second 2', 'Bolt 1'], [0, 0, 0]],
    ['one less', FOUR.slice(1), ['Second 2', 'Third 3'], [0, 0, 0]],
    ['moved, told by their shape', [bolt(1, 7), bolt(4, 8), bolt(3, 9), bolt(2, 6)], ['Bolt 1', 'Third 3', 'Second 2'], [0, 0, 0]],
    ['of another shape, told by where one stands', [bolt(1), bolt(6, 2), bolt(3), bolt(4)], ['Bolt 1', 'Second 6', 'Third 3'], [0, 0, 0]],
    ['one is gone: its step says so, and no other is taken for it', [bolt(1), bolt(3), bolt(4)], ['Bolt 1', 'Third 3'], [1, 0, 0]],
    ['none is to be told', [bolt(5, 11), bolt(6, 12), bolt(7, 13)], ['Bolt 5', 'Bolt 6', 'Bolt 7'], [1, 1, 1]],
  ])('%s', async (_, bolts, lengths, lost) => expect(await given(...bolts)).toEqual({ lengths, lost })); // prettier-ignore

  it('of one shape each are told by their order, where they stand otherwise', async () => {
    const [three, moved] = [[1, 2, 3].map((at) => bolt(1, at)), [1, 2, 3].map((at) => bolt(1, at + 10))];
    const key = signing(await jobOf('s', ...three))('s:/Plate/Bolt#3');
    const step = { id: 'a', kind: 'leave-out', on: true, selector: { by: 'picked' as const, keys: [key] }, parameters: {} }; // prettier-ignore
    const [settled] = settledSteps(await jobOf('s', ...moved), [step]);
    expect(settled.selector).toEqual({ by: 'picked', keys: ['s:/Plate/Bolt#3'] });
  });

  it('are told at every level of their path; what has a name of its own goes as it is', async () => {
    const rack = (z: number, ...bolts: PartSpec[]) => ({ name: 'Rack', children: bolts, transform: translation([0, 0, z]) }); // prettier-ignore
    const of = async (...tree: PartSpec[]) => mergeSlots([{ slot: 's', scene: (await sceneWith(tree, blobs)).scene }]);
    const before = await of(rack(0, bolt(1), bolt(2)), rack(5, bolt(1), bolt(3)), { name: 'Beam #2', mesh: boxMesh(1, 1, 1) }); // prettier-ignore
    const sign = signing(before);
    expect([sign('s:/Beam #2'), sign('s:/nowhere')]).toEqual(['s:/Beam #2', 's:/nowhere']);
    const keys = [sign('s:/Rack#2/Bolt#2'), sign('s:/Rack/Bolt#2'), 's:/Beam #2'];
    const step = { id: 'a', kind: 'leave-out', on: true, selector: { by: 'picked' as const, keys }, parameters: {} };
    const after = await of({ name: 'Beam #2', mesh: boxMesh(1, 1, 1) }, rack(5, bolt(3), bolt(1)), rack(0, bolt(2), bolt(1))); // prettier-ignore
    const [settled] = settledSteps(after, [step]);
    expect(settled.selector).toEqual({ by: 'picked', keys: ['s:/Rack/Bolt', 's:/Rack#2/Bolt', 's:/Beam #2'] });
    // Steps that came from nowhere are the very same.
    const plain = [step];
    expect(settledSteps(after, settledSteps(after, plain))).toBe(settledSteps(after, plain));
  });
});
