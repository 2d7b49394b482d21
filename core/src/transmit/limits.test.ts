// Limits of a target: what is over is told and sent all the same. A box has 12 triangles; balls have more the finer they are.
import { describe, expect, it } from 'vitest';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { sentTo } from '../testing/sent.ts';
import { formatCount } from '../units.ts';
import { writerFor } from '../write/formats.ts';
import { overLimits } from './limits.ts';
import { sentOf } from './targets/leftOut.ts';
import { settingsFrom } from './targets/target.ts';

const hall = () =>
  sceneWith([
    { name: 'Fine', layer: 'A', mesh: ballMesh(1, 8) },
    { name: 'Coarse', layer: 'A', mesh: boxMesh(1, 1, 1) },
    { name: 'Finest', layer: 'B', mesh: ballMesh(1, 16) },
    { name: 'Finest', layer: 'B', mesh: ballMesh(1, 16) },
  ]);

describe('limits of a target', () => {
  it('name the parts over that of a part, those with the most first, and count what is drawn in all', async () => {
    const { scene } = await hall();
    const own = scene.nodes.map(({ mesh }) => scene.meshes[mesh as string].triangles);
    const total = own.reduce((sum, triangles) => sum + triangles, 0);
    const { parts, words } = overLimits(scene, settingsFrom({ mostOfPart: own[1], mostTriangles: total - 1 }));
    expect(parts).toEqual([2, 3, 0]);
    expect(words[0]).toBe(`${formatCount(total)} triangles are drawn, ${formatCount(total - 1)} are the most for it.`);
    expect(words[1]).toBe(`3 parts with more than ${own[1]} triangles: Finest (${formatCount(own[2])}), Finest (${formatCount(own[3])}), Fine (${formatCount(own[0])})`); // prettier-ignore
    // What is exactly as many as may be is not over.
    expect(overLimits(scene, settingsFrom({ mostOfPart: own[2], mostTriangles: total })).words).toEqual([]);
    expect(overLimits(scene, settingsFrom({})).words).toEqual([]);
  });

  it('do not concern what the target leaves out', async () => {
    const { scene } = await hall();
    const settings = settingsFrom({ mostOfPart: 12, without: { by: 'layer', layers: ['B'] } });
    const { parts } = overLimits(sentOf(scene, settings, writerFor('glb')!), settings);
    expect(parts.map((row) => scene.nodes.text('name', row))).not.toContain('Finest');
  });

  it('are told with what was written, which holds all the same', async () => {
    const { scene, blobs } = await hall();
    const { output, manifest } = await sentTo(scene, blobs, { mostOfPart: 20 });
    expect(output.readBack?.holds).toBe(true);
    expect(manifest.outputs[0].overLimits).toEqual(output.overLimits);
    expect(output.overLimits?.[0]).toMatch(/^3 parts with more than 20 triangles: Finest/);
  });

  it('are whole numbers from one', () => {
    expect(() => settingsFrom({ mostOfPart: 2.5 })).toThrow('The limit of triangles of a part must be a whole number.');
    expect(() => settingsFrom({ mostTriangles: 0 })).toThrow('must be at least 1');
  });
});
