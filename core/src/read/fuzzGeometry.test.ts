// Hostile files, down to the geometry that a compiled library makes of them: damaged at random, seeded, 5 times here and 100 times at length.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { describe, it } from 'vitest';
import { provideKernel } from '../solid/kernel.ts';
import { atLength } from '../testing/atLength.ts';
import { survivesAll } from '../testing/fuzzing.ts';
import { models } from '../testing/reading.ts';

provideKernel(loadKernel);

const open = (path: string) => new Uint8Array(readFileSync(join(models, path)));

/** Files whose geometry a compiled library makes when they are built; enough to reach it, few enough to wait for. */
const COMPILED: Record<string, { name: string; bytes: Uint8Array }> = {
  IFC: { name: 'a.ifc', bytes: open('house.ifc').subarray(0, 40_000) },
  IGES: { name: 'a.igs', bytes: open('hammer.iges').subarray(0, 8_000) },
  BREP: { name: 'a.brep', bytes: open('bottle.brep') },
};

describe.each(Object.entries(COMPILED))('%s, down to its geometry', (_, { name, bytes }) => {
  it('survives 5 random damages', () => survivesAll(5, name, bytes, true));
  atLength('survives 100 random damages', () => survivesAll(100, name, bytes, true), 300_000);
});
