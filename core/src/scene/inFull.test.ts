// What was not read in full is a problem wherever something is sent: an open assembly that was cut off in the middle.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { checkSteps } from '../steps/kinds.ts';
import { boxMesh } from '../testing/meshes.ts';
import { fileOf, models, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import { DEFAULT_TARGET } from '../transmit/targets/target.ts';
import { reportOf } from '../transmit/report.ts';
import { deliver } from '../transmit/transmit.ts';
import { lossesOf, notInFull } from './inFull.ts';
import type { Scene } from './types.ts';

const as1 = readFileSync(join(models, 'as1-tu-203.stp'));
const withWarnings = ({ sources, ...scene }: Scene, warnings: Scene['sources'][0]['warnings']): Scene => ({ ...scene, sources: [{ ...sources[0], warnings }] }); // prettier-ignore

describe('a source that was not read in full', () => {
  it('is one that ends in the middle, and not one that is whole', async () => {
    const { scene: whole } = await readAll(fileOf('as1.stp', as1));
    expect(notInFull(whole)).toEqual([]);
    const { scene } = await readAll(fileOf('as1.stp', as1.subarray(0, 60_000)));
    expect(scene.nodes.filter(({ kind }) => kind === 'part').length).toBeLessThan(
      whole.nodes.filter(({ kind }) => kind === 'part').length,
    );
    const [words, ...more] = notInFull(scene);
    expect(more).toEqual([]);
    // That it is cut off comes before what follows from it.
    expect(words).toMatch(
      /^as1\.stp was not read in full: as1\.stp ends in the middle of entity #\d+\..* And \d+ more\.$/,
    );
    expect(lossesOf(scene.sources[0])[0].code).toBe('truncated');
  });

  it('is none where what was noticed costs nothing, or nothing of it is left', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Box', mesh: boxMesh(1, 1, 1) }]);
    expect(notInFull(withWarnings(scene, [{ code: 'unit', message: 'No unit.' }, { code: 'missing-texture', message: 'No picture.' }]))).toEqual([]); // prettier-ignore
    const cut = withWarnings(scene, [{ code: 'truncated', message: 'It ends early.' }]);
    expect(notInFull(cut)).toEqual(['test.stp was not read in full: It ends early.']);
    const out = [{ id: 'o', kind: 'leave-out', on: true, selector: { by: 'all' }, parameters: {} }];
    const { scene: rest } = await evaluate(cut, 'k', checkSteps(out), memorySurroundings({ blobs }));
    expect(notInFull(rest)).toEqual([]);
  });

  it('is told of every file that holds something of it, in manifest and report', async () => {
    const { scene, blobs } = await sceneWith([{ name: 'Box', mesh: boxMesh(1, 1, 1) }]);
    const cut = withWarnings(scene, [{ code: 'truncated', message: 'It ends <early>.', where: 'line 9' }]);
    const targets = ['glb', 'stl'].map((format) => ({ name: format, settings: { ...DEFAULT_TARGET, format } }));
    const about = { targets, name: 'box', title: 'Box', steps: [], made: '2026-01-01T00:00:00Z' };
    const { manifest } = await deliver(cut, blobs, about as never);
    const sentence = 'test.stp was not read in full: It ends <early>. (line 9)';
    expect(manifest.outputs.map((output) => [output.notInFull, output.readBack?.holds])).toEqual([[[sentence], true], [[sentence], true]]); // prettier-ignore
    const page = reportOf(manifest, { name: 'box' });
    expect(page.split('Not read in full')).toHaveLength(2);
    // Once for all targets, and as text.
    expect(page.split('It ends &lt;early&gt;.')).toHaveLength(2);
    const { manifest: whole } = await deliver(scene, blobs, about as never);
    expect(whole.outputs.map(({ notInFull: none }) => none)).toEqual([undefined, undefined]);
    expect(reportOf(whole, { name: 'box' })).not.toContain('Not read in full');
  });
});
