// BREP: bodies that the kernel wrote, with the volumes of their formulas; an open file from Debian's package occt-misc.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { cast, makeBox, makeCompound, makeCylinder, makeSphere, setOC } from 'replicad';
import type { AnyShape, Shape3D } from 'replicad';
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { worldTransforms } from '../scene/tree.ts';
import { kernel, provideKernel } from '../solid/kernel.ts';
import type { Kernel } from '../solid/kernel.ts';
import { bytesOf, fileOf, modelOf, models, readAll, warningsOf } from '../testing/reading.ts';
import type { ReadFile } from '../testing/reading.ts';
import { brepReader } from './brep.ts';

let oc: Kernel;
beforeAll(async () => {
  provideKernel(loadKernel);
  oc = await kernel();
  setOC(oc as never);
});

const textOf = (shape: AnyShape) => bytesOf(oc.BRepToolsWrapper.Write(shape.wrapped as never));

/** The same body in another place, not a copy of it. */
function moved(shape: Shape3D, x: number): Shape3D {
  const move = new oc.gp_Trsf();
  move.SetTranslation(new oc.gp_Vec(x, 0, 0));
  return cast(
    (shape.wrapped as unknown as TopoDS_Shape).Moved(new oc.TopLoc_Location(move), false) as never,
  ) as Shape3D;
}

async function tessellated({ scene, blobs }: ReadFile, chord: number) {
  const step = {
    ...{ id: 't', kind: 'tessellate', on: true, selector: { by: 'all' as const } },
    parameters: { chord, angle: 0.5, preset: 'own' },
  };
  return evaluate(scene, `brep ${Math.random()}`, [step], memorySurroundings({ blobs }));
}

describe('BREP', () => {
  it('keeps bodies exact, within limits of one’s own, with the deviation measured', async () => {
    const read = await readAll(fileOf('ball.brep', textOf(makeSphere(20))));
    expect(read.scene.nodes.map(({ name, kind }) => [name, kind])).toEqual([['ball', 'part']]);
    const [coarse, fine] = [await tessellated(read, 0.001), await tessellated(read, 0.00005)].map(
      ({ scene }) => scene.meshes[scene.nodes.at(0)!.mesh ?? ''],
    );
    expect(fine.triangles).toBeGreaterThan(coarse.triangles * 5);
    // Millimetres: a ball of 20 mm, 4/3 π r³.
    expect(fine.volume / ((4 / 3) * Math.PI * 0.02 ** 3)).toBeCloseTo(1, 2);
    expect(coarse.exact?.chord).toBe(0.001);
    expect(coarse.exact?.max).toBeGreaterThan(0.0002);
    expect(coarse.exact?.max).toBeLessThanOrEqual(0.001);
  });

  it('makes one body of what is placed twice', async () => {
    const pin = makeCylinder(5, 30);
    const pair = makeCompound([pin, moved(pin, 100), makeBox([0, 0, 0], [10, 20, 30])]);
    const read = await readAll(fileOf('pair.brep', textOf(pair)));
    expect(read.scene.nodes.map(({ name, parent }) => [name, parent])).toEqual([
      ['pair', null],
      ['Solid 1', 0],
      ['Solid 2', 0],
      ['Solid 3', 0],
    ]);
    const [, first, second, third] = read.scene.nodes;
    expect(second.solid).toBe(first.solid);
    expect(third.solid).not.toBe(first.solid);
    const place = worldTransforms(read.scene).get(second.id);
    expect(place?.slice(12, 15).map((value) => Math.round(value * 1e9) / 1e9)).toEqual([0.1, 0, 0]);
    const { scene } = await tessellated(read, 0.0001);
    expect(scene.meshes[scene.nodes.at(3)!.mesh ?? ''].volume).toBeCloseTo(0.01 * 0.02 * 0.03, 12);
  });

  it('reads an open file', async () => {
    const bottle = await readAll(modelOf('bottle.brep'));
    expect(warningsOf(bottle.scene)).toEqual([]);
    const { scene } = await tessellated(bottle, 0.0005);
    const [figures] = Object.values(scene.meshes);
    // Its text moves something by 50 of its units, millimetres by the kernel's convention: a bottle of some centimetres.
    const tall = Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis]));
    expect(tall).toBeGreaterThan(0.05);
    expect(tall).toBeLessThan(0.2);
    expect(figures.exact?.max).toBeLessThanOrEqual(0.0005);
  });

  it('is recognised by content, and says so when the kernel cannot read it', async () => {
    const whole = new Uint8Array(readFileSync(join(models, 'bottle.brep')));
    expect(brepReader.recognises(fileOf('x.dat', whole))).toBe(true);
    expect(brepReader.recognises(fileOf('x.brep', 'solid x'))).toBe(false);
    await expect(readAll(fileOf('cut.brep', whole.subarray(0, 3000)))).rejects.toMatchObject({
      code: 'not-readable',
      message: expect.stringContaining('cut.brep') as string,
    });
    await expect(readAll(fileOf('tiny.brep', 'x'))).rejects.toMatchObject({ code: 'not-readable' });
    // An edge alone bounds no face.
    const edge = makeBox([0, 0, 0], [1, 1, 1]).edges[0];
    await expect(readAll(fileOf('edge.brep', textOf(edge)))).rejects.toMatchObject({ code: 'no-geometry' });
  });
});
