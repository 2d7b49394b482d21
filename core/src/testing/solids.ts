/** Exact solids for tests, made by the kernel and written as STEP text; millimetres. */
import { draw, drawCircle, makeBaseBox, makeCylinder, makeSphere, setOC } from 'replicad';
import type { Shape3D } from 'replicad';
import { provideKernel } from '../solid/kernel.ts';
import type { KernelLoader } from '../solid/kernel.ts';

/** Loads the kernel for this test file, both for making solids and for tessellating them. */
export async function startKernel(load: KernelLoader): Promise<void> {
  const instance = await load();
  setOC(instance as never);
  provideKernel(async () => instance);
}

export const sphere = (radius: number): Shape3D => makeSphere(radius);
export const cylinder = (radius: number, height: number): Shape3D => makeCylinder(radius, height);
export const box = (x: number, y: number, z: number): Shape3D => makeBaseBox(x, y, z);

/** A torus about z: tube radius `small` on a circle of radius `large`. */
export function torus(large: number, small: number): Shape3D {
  return drawCircle(small).translate(large, 0).sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
}

/** The upper half of a sphere, its flat face on z = 0. */
export function hemisphere(radius: number): Shape3D {
  return makeSphere(radius).cut(
    makeBaseBox(4 * radius, 4 * radius, 2 * radius).translate([0, 0, -2 * radius]),
  ) as Shape3D;
}

export async function stepOf(shape: Shape3D): Promise<Uint8Array> {
  return new Uint8Array(await shape.blobSTEP().arrayBuffer());
}

/** A cone that stands on z = 0, its apex at the height. */
export function cone(radius: number, height: number): Shape3D {
  return draw([0, 0]).lineTo([radius, 0]).lineTo([0, height]).close().sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
}

/** A cone that is cut off at the upper radius. */
export function frustum(lower: number, upper: number, height: number): Shape3D {
  return draw([0, 0])
    .lineTo([lower, 0])
    .lineTo([upper, height])
    .lineTo([0, height])
    .close()
    .sketchOnPlane('XZ')
    .revolve([0, 0, 1]) as Shape3D;
}
