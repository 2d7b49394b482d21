/**
 * Files of 100,000 and 1,000,000 placed parts read: seconds and memory until the scene is there, each in a process of its own, beside the
 * bare decoding of the bytes into text (glTF: and its parsing as JSON).
 */
import { execFileSync } from 'node:child_process';
import { setTimeout as wait } from 'node:timers/promises';
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import { readSource } from '@noble-prism/core/read/readSource';
import { glbOf, ifcOf, stepOf } from './manyParts.ts';
import { watchedPeak } from './peak.ts';
import { print, seconds } from './report.ts';

const MB = 1e6;

const FORMATS = {
  glb: { make: glbOf, bare: (bytes: Uint8Array) => JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + new DataView(bytes.buffer).getUint32(12, true)))) as unknown }, // prettier-ignore
  ifc: { make: ifcOf, bare: decoded },
  step: { make: stepOf, bare: decoded },
};

/** Letters, in pieces that a string can hold. */
function decoded(bytes: Uint8Array): number {
  let letters = 0;
  for (let at = 0; at < bytes.length; at += 1e8)
    letters += new TextDecoder('latin1').decode(bytes.subarray(at, at + 1e8)).length;
  return letters;
}

async function measure(format: keyof typeof FORMATS, parts: number): Promise<void> {
  const { make, bare } = FORMATS[format];
  const warm = async (bytes: Uint8Array) =>
    (await readSource({ name: `plant.${format}`, bytes }, 's')).build(new MemoryBlobs());
  await warm(make(1000));
  const bytes = make(parts);
  const bareSeconds = await seconds(1, () => bare(bytes));
  global.gc?.();
  await wait(500);
  const peak = await watchedPeak();
  const began = performance.now();
  const reading = await readSource({ name: `plant.${format}`, bytes }, 's');
  const survey = (performance.now() - began) / 1000;
  const scene = await reading.build(new MemoryBlobs());
  const whole = (performance.now() - began) / 1000;
  const over = await peak();
  process.stdout.write(JSON.stringify({ survey, whole, bare: bareSeconds, over, bytes: bytes.length, rows: scene.nodes.length })); // prettier-ignore
}

const [, , only, count] = process.argv;
if (only) await measure(only as keyof typeof FORMATS, Number(count));
else
  for (const parts of [100_000, 1_000_000])
    for (const format of Object.keys(FORMATS)) {
      const args = ['--expose-gc', '--max-old-space-size=12000', import.meta.filename, format, String(parts)]; // prettier-ignore
      const { survey, whole, bare, over, bytes, rows } = JSON.parse(execFileSync(process.execPath, args, { encoding: 'utf8' })) as Record<string, number>; // prettier-ignore
      print({
        name: `Read ${format} of ${parts} parts`,
        value: whole,
        unit: 's',
        note: `${rows} rows, ${(bytes / MB).toFixed(0)} MB; structure after ${survey.toFixed(1)} s; ${(whole / bare).toFixed(1)} times the bare text; ${(over / MB).toFixed(0)} MB of memory`,
      });
    }
