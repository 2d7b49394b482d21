/** A step that needs only the manifest, on 10 000 nodes: how long until the rows of the ledger are there. */
import { evaluate, evaluateNow, SceneMemo } from '@noble-prism/core/preparation/evaluate';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import type { Step } from '@noble-prism/core/steps/kinds';
import { readSource } from '@noble-prism/core/read/readSource';
import { StepText } from '@noble-prism/core/testing/stepText';
import { LedgerTree } from '@noble-prism/web/bench/rows';
import { MemoryBlobs, memorySurroundings } from '@noble-prism/core/memoryStores';
import { provideKernel } from '@noble-prism/core/solid/kernel';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { print, seconds } from './report.ts';

const step = new StepText();
const top = step.product('Top');
const parts = Array.from({ length: 20 }, (_, i) => step.product(`Part ${i}`, [step.tetrahedron(5 + i).solid]));
for (let group = 0; group < 100; group++) {
  const assembly = step.product(`Group ${group}`);
  step.place(top, assembly, step.axis([group * 100, 0, 0]));
  for (let i = 0; i < 99; i++) step.place(assembly, parts[(i * 7 + group) % 20], step.axis([0, i * 50, 0]));
}
provideKernel(loadKernel);
const blobs = new MemoryBlobs();
const base = await (await readSource({ name: 'large.stp', bytes: step.bytes() }, 's')).build(blobs);
const results = new Map<string, unknown>();
await evaluate(base, 'bench', defaultSteps(), {
  ...memorySurroundings({ blobs }),
  finished: (key, value) => results.set(key, value),
});
const lookup = (key: string) => results.get(key);
const expanded = new Set(base.nodes.map((node) => node.key));

for (const [kind, parameters] of [
  ['rename', { name: '{name} a', of: 'parts' }],
  ['turn', { direction: 'z-to-y' }],
  ['finishes', { rules: [{ which: { by: 'name', pattern: 'Part 1*' }, material: 'lib:glass' }] }],
] as const) {
  const memo = new SceneMemo();
  evaluateNow(base, 'bench', defaultSteps(), lookup, memo);
  let run = 0;
  const time = await seconds(7, () => {
    const added: Step = { id: `n${run++}`, kind, on: true, selector: { by: 'all' }, parameters };
    const { scene } = evaluateNow(base, 'bench', [...defaultSteps(), added], lookup, memo);
    new LedgerTree(scene).rows({ expanded, filter: '', sort: 'tree', descending: false });
  });
  print({
    name: `Step ${kind} on ${base.nodes.length} nodes until the ledger's rows`,
    value: time * 1000,
    unit: 'ms',
    aim: { most: 50 },
  });
}
