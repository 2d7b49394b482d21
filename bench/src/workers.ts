/** Twenty heavy distinct solids with one kernel thread and with two, both warm: how much faster two are. */
import { MemoryBlobs, memorySurroundings } from '@noble-prism/core/memoryStores';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { readSource } from '@noble-prism/core/read/readSource';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import { readFileSync } from 'node:fs';
import { repeated } from './files.ts';
import { print } from './report.ts';

const SOLIDS = 20;
const path = repeated('linkrods.step', SOLIDS);
const blobs = new MemoryBlobs();
const reading = await readSource({ name: 'rods.stp', bytes: new Uint8Array(readFileSync(path)) }, 's');
const scene = await reading.build(blobs);

async function run(width: number): Promise<{ seconds: number; worked: number }> {
  const workbench = new ThreadWorkbench({ width });
  // The first solids also wait for the compiler; a server has done that long ago.
  const once = (chord: number) =>
    evaluate(
      scene,
      'k',
      [
        {
          id: 't',
          kind: 'tessellate',
          on: true,
          selector: { by: 'all' },
          parameters: { chord, angle: 0.35, preset: 'own' },
        },
      ],
      memorySurroundings({ blobs, workbench }),
    );
  await once(0.0011);
  const start = performance.now();
  const { counts } = await once(0.0001);
  const seconds = (performance.now() - start) / 1000;
  await workbench.close();
  return { seconds, worked: counts.worked };
}

const one = await run(1);
const two = await run(2);
print({
  name: 'Two kernel threads',
  value: one.seconds / two.seconds,
  unit: 'times as fast as one',
  aim: { least: 1.6 },
  note: `${one.worked} solids in ${one.seconds.toFixed(2)} s and ${two.seconds.toFixed(2)} s, warm`,
});
