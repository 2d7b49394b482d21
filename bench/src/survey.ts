/** How fast a STEP text is surveyed, beside the bare decoding of its bytes into a string. */
import { readFileSync, statSync } from 'node:fs';
import { basename } from 'node:path';
import { readSource } from '@noble-prism/core/read/readSource';
import { demoFile, repeated } from './files.ts';
import { print, seconds } from './report.ts';

for (const path of [repeated('linkrods.step', 30), repeated('as1-tu-203.stp', 200), await demoFile('drive-unit.stp')]) {
  const bytes = new Uint8Array(readFileSync(path));
  const megabytes = statSync(path).size / 1e6;
  const ours = await seconds(5, async () => (await readSource({ name: 'x.stp', bytes }, 's')).survey);
  const bare = await seconds(5, () => new TextDecoder('latin1').decode(bytes).length);
  const note = `${megabytes.toFixed(1)} MB, ${(ours / bare).toFixed(0)} times the bare decoding`;
  print({ name: `Survey of ${basename(path)}`, value: megabytes / ours, unit: 'MB/s', aim: { least: 20 }, note });
}
