// Unwrapping as a step: instances are kept, the second set goes out beside the first, what cannot be is said.
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { projected } from '../mesh/project.ts';
import { uvFigures } from '../mesh/uvFigures.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { translation } from '../scene/matrix.ts';
import { select } from '../select/select.ts';
import { boxMesh } from '../testing/meshes.ts';
import { readBackGlb } from '../testing/readBack.ts';
import { fileOf, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import { glbBytes } from '../testing/glbBytes.ts';
import { checkSteps, placeFor, stepKind } from './kinds.ts';
import type { UnwrapParameters } from './unwrap.ts';

const FRAME = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
const laid = projected(boxMesh(2, 1, 1), {
  projection: 'box',
  frame: FRAME,
  from: 'z',
  turn: 0,
  offset: [0, 0],
  scale: 1,
});
const kind = stepKind('unwrap');
const tree = () =>
  sceneWith([
    { name: 'Wall 1', mesh: laid },
    { name: 'Wall 2', mesh: laid, transform: translation([3, 0, 0]) },
    { name: 'Post', mesh: boxMesh(0.1, 2, 0.1) },
  ]);

async function applied(given: Partial<UnwrapParameters> = {}) {
  const { scene, blobs } = await tree();
  const parameters = { ...(kind.defaults as UnwrapParameters), ...given };
  const steps = checkSteps([{ id: 'u', kind: 'unwrap', on: true, selector: { by: 'all' }, parameters }]);
  const told: string[] = [];
  const around = { ...memorySurroundings({ blobs }), progress: ({ what }: { what: string }) => void told.push(what) };
  const { scene: after, reports } = await evaluate(scene, 'k', steps, around);
  return { after, blobs, parts: [...after.nodes], report: reports[0], told };
}

describe('the step', () => {
  it('makes a second set for each shape once: parts of one shape stay one, and the first set stays', async () => {
    const { parts, after, blobs, report, told } = await applied();
    expect(parts[0].mesh).toBe(parts[1].mesh);
    expect(after.meshes[parts[0].mesh!]).toMatchObject({ uvs: 2, trueSize: true, triangles: 12 });
    expect([report.pending, report.problems]).toEqual([0, []]);
    expect(report.notes?.[1]).toBe('1 shape had no texture coordinates: the sheet is their first set too.');
    expect(told).toContain('Unwrap Wall 1');
    const figures = uvFigures(unpackMesh(await blobs.get(parts[0].mesh!)), 1)!;
    expect(figures).toMatchObject({ outside: 0, mirrored: 0 });
    expect(figures.overlap).toBeLessThan(0.005);
    // Both sets arrive.
    const file = { bytes: await glbBytes(after, blobs, 'x') };
    expect((await readBackGlb(file.bytes, after, blobs)).holds).toBe(true);
    const { scene: again } = await readAll(fileOf('again.glb', file.bytes));
    expect(Object.values(again.meshes).map(({ uvs }) => uvs)).toEqual([2, 2]);
  });

  it('puts a sheet in place of the first set where that is asked for, which is no length any more', async () => {
    const { parts, after } = await applied({ set: 'first' });
    expect(after.meshes[parts[0].mesh!]).toMatchObject({ uvs: 1 });
    expect(after.meshes[parts[0].mesh!].trueSize).toBeUndefined();
  });

  it('says beforehand which shapes become two, since other parts keep them as they are', async () => {
    const { scene } = await tree();
    const said = (...keys: string[]) => kind.beforehand?.(scene, select(scene, { by: 'picked', keys }), kind.defaults);
    expect(said('/Wall 1', '/Post')).toEqual([
      '1 shape is shared with parts that it does not concern: it becomes two.',
    ]);
    expect(said('/Wall 1', '/Wall 2')).toEqual([]);
  });

  it('stands before the materials, and refuses a gap that leaves nothing of the sheet', () => {
    const list = ['tessellate', 'turn', 'finishes'].map((one) => ({ kind: one, id: one, on: true, selector: { by: 'all' as const }, parameters: {} })); // prettier-ignore
    expect(placeFor('unwrap', list)).toBe(2);
    const check = (padding: number, pixels: string) => () => kind.schema.validateSync({ set: 'second', pixels, padding }, { strict: true }); // prettier-ignore
    expect(check(20, '256')).toThrow('A gap of 20 px is too wide for a sheet of 256 px.');
    expect(check(4, '100')).toThrow();
    expect(check(8, '256')).not.toThrow();
  });
});
