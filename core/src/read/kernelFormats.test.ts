// IGES (ANSI/US PRO IPO-100) and BREP: open files from Debian's package occt-misc, sizes from their own texts.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { fileOf, modelOf, models, readAll } from '../testing/reading.ts';
import { brepReader, igesReader } from './kernelFormats.ts';

describe('IGES and BREP', () => {
  it('reads unit and producer of an IGES file from its global section', async () => {
    const { survey } = await readAll(modelOf('bearing.iges'));
    const global = readFileSync(join(models, 'bearing.iges'), 'latin1')
      .split('\n')
      .filter((line) => line[72] === 'G')
      .join('');
    expect(global).toContain('2HMM');
    expect(survey.sources[0]).toMatchObject({ format: 'IGES', unit: { name: 'mm', metres: 0.001, declared: true } });
    expect(survey.sources[0].notRead?.join()).toContain('STEP');
  });

  it('makes the bodies of both formats in metres', async () => {
    const bottle = await readAll(modelOf('bottle.brep'));
    const [figures] = Object.values(bottle.scene.meshes);
    expect(figures.triangles).toBeGreaterThan(1000);
    // Millimetres by the kernel's convention: a few centimetres to a few decimetres, not metres.
    const tall = Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis]));
    expect(tall).toBeGreaterThan(0.02);
    expect(tall).toBeLessThan(1);
    const hammer = await readAll(modelOf('hammer.iges'));
    expect(Object.values(hammer.scene.meshes)[0].triangles).toBeGreaterThan(1000);
    // The text has numbers up to 24 717 and says millimetres: 24.7 m it is, however little that suits a hammer.
    expect(Object.values(hammer.scene.meshes)[0].bounds.max[2]).toBeCloseTo(24.717, 2);
  });

  it('recognises both by content', () => {
    expect(igesReader.recognises(fileOf('x.dat', new Uint8Array(readFileSync(join(models, 'hammer.iges')))))).toBe(
      true,
    );
    expect(brepReader.recognises(fileOf('x.dat', new Uint8Array(readFileSync(join(models, 'bottle.brep')))))).toBe(
      true,
    );
    expect(igesReader.recognises(fileOf('x.igs', 'solid x'))).toBe(false);
  });

  it('says so when the kernel cannot translate a file', async () => {
    const whole = readFileSync(join(models, 'bottle.brep'));
    await expect(readAll(fileOf('cut.brep', new Uint8Array(whole.subarray(0, 3000))))).rejects.toMatchObject({
      code: 'not-readable',
      message: expect.stringContaining('cut.brep') as string,
    });
    await expect(readAll(fileOf('tiny.igs', 'x'))).rejects.toMatchObject({ code: 'not-readable' });
  });
});
