// IGES (ANSI/US PRO IPO-100): open files from Debian's package occt-misc, sizes from their own texts.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { fileOf, modelOf, models, readAll } from '../testing/reading.ts';
import { igesReader } from './iges.ts';
import { readSource } from './readSource.ts';

describe('IGES', () => {
  it('reads unit and producer of an IGES file from its global section', async () => {
    // Before the kernel has translated anything.
    const { survey } = await readSource(modelOf('bearing.iges'), 's');
    const global = readFileSync(join(models, 'bearing.iges'), 'latin1')
      .split('\n')
      .filter((line) => line[72] === 'G')
      .join('');
    expect(global).toContain('2HMM');
    expect(survey.sources[0]).toMatchObject({ format: 'IGES', unit: { name: 'mm', metres: 0.001, declared: true } });
    expect(survey.sources[0].notRead?.join()).toContain('STEP');
  });

  it('makes the bodies in metres', async () => {
    const hammer = await readAll(modelOf('hammer.iges'));
    expect(Object.values(hammer.scene.meshes)[0].triangles).toBeGreaterThan(1000);
    // The text has numbers up to 24 717 and says millimetres: 24.7 m it is, however little that suits a hammer.
    expect(Object.values(hammer.scene.meshes)[0].bounds.max[2]).toBeCloseTo(24.717, 2);
  });

  it('is recognised by content', () => {
    const hammer = new Uint8Array(readFileSync(join(models, 'hammer.iges')));
    expect(igesReader.recognises(fileOf('x.dat', hammer))).toBe(true);
    expect(igesReader.recognises(fileOf('x.igs', 'solid x'))).toBe(false);
  });

  it('says so when the kernel cannot translate a file', async () => {
    await expect(readAll(fileOf('tiny.igs', 'x'))).rejects.toMatchObject({ code: 'not-readable' });
  });
});
