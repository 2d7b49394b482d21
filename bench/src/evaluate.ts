/** Ten steps that need only the manifest, on 100 000 and 1 000 000 placed parts: evaluated warm, packed, sent and taken in. */
import { evaluateNow, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import { SceneFacts } from '@noble-prism/core/scene/facts';
import { packScene, unpackScene } from '@noble-prism/core/scene/sceneFile';
import { updateBetween } from '@noble-prism/core/scene/wire';
import type { Step } from '@noble-prism/core/steps/kinds';
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import { plantOf } from './boxes.ts';
import { print, seconds } from './report.ts';

const step = (kind: string, parameters: object, selector: Step['selector'] = { by: 'all' }): Step => ({
  id: `${kind} ${JSON.stringify(parameters)}`,
  kind,
  on: true,
  selector,
  parameters,
});
const FINISH = (which: Step['selector'], material: string) => ({ rules: [{ which, material }] });

/** As a job of a building has them: all parts, layers, classes, names, a thousand picked by a pattern. */
const steps = (run: number): Step[] => [
  step('leave-out', {}, { by: 'name', pattern: 'Zone 7' }),
  step('up', { axis: 'z' }),
  step('turn', { direction: 'z-to-y' }),
  step('finishes', FINISH({ by: 'layer', layers: ['Structure'] }, 'lib:galvanised')),
  step('finishes', FINISH({ by: 'layer', layers: ['Pipes'] }, 'lib:stainless'), {
    by: 'class',
    classes: ['IfcPipeSegment'],
  }),
  step('finishes', FINISH({ by: 'name', pattern: 'Part 9*' }, 'lib:glass')),
  step('rename', { name: `{name}, run ${run}`, of: 'parts' }),
  step('rename', { name: 'Zone {n}', of: 'assemblies' }, { by: 'name', pattern: 'Zone *' }),
  step('pivot', { place: 'base-centre', of: 'parts' }, { by: 'name', pattern: 'Part 1???,*' }),
  step('rename', { name: 'Fixing {n}', of: 'parts' }, { by: 'layer', layers: ['Fixings'] }),
];

for (const [parts, most] of [
  [100_000, 150],
  [1_000_000, 1500],
]) {
  const stored = await plantOf(parts, new MemoryBlobs());
  const base = mergeSlots([{ slot: 'plant', scene: stored }]);
  let run = 0;
  const fresh = () => {
    const { reports } = evaluateNow(base, 'bench', steps(++run), () => undefined, new SceneMemo());
    const idle = reports.filter(({ matched }) => matched === 0);
    if (idle.length > 0) throw new Error(`Steps that concern nothing: ${idle.map(({ kind }) => kind).join(', ')}`);
  };
  fresh();
  print({ name: `Ten manifest steps on ${parts} parts`, value: (await seconds(10, fresh)) * 1000, unit: 'ms', aim: { most } }); // prettier-ignore
  const memo = new SceneMemo();
  const { scene } = evaluateNow(base, 'bench', steps(0).slice(0, 6), () => undefined, memo);
  const facts = await seconds(3, () => {
    const made = new SceneFacts(scene, scene.nodes);
    return [made.worlds, made.takeOff, made.triangles, made.children, made.likeness];
  });
  print({ name: `Worlds, take-off, sums, children, likeness at ${parts}`, value: facts * 1000, unit: 'ms' });
  const { scene: other } = evaluateNow(base, 'bench', steps(0).slice(0, 5), () => undefined, memo);
  print({ name: `What is different of one step at ${parts}`, value: (await seconds(3, () => updateBetween(other, scene))) * 1000, unit: 'ms' }); // prettier-ignore
  let packed = new Uint8Array();
  const pack = await seconds(1, async () => (packed = (await packScene(stored)) as Uint8Array<ArrayBuffer>));
  const unpack = await seconds(2, () => unpackScene(packed));
  print({ name: `A stored scene of ${parts} parts`, value: packed.length / 1e6, unit: 'MB', ...(parts === 100_000 ? { aim: { most: 1 } } : {}), note: `packed in ${pack.toFixed(2)} s, read in ${unpack.toFixed(2)} s` }); // prettier-ignore
}
