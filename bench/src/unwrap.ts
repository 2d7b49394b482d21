/** Unwrapping 100,000 triangles in a worker thread, with the gap that was asked for, beside watlas on the whole of a quarter of them. */
import { BoxGeometry, TorusKnotGeometry } from 'three';
import type { BufferGeometry } from 'three';
import { packMesh, unpackMesh } from '@noble-prism/core/mesh/mesh';
import { uvFigures } from '@noble-prism/core/mesh/uvFigures';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import { meshOf } from './meshOf.ts';
import { print } from './report.ts';

const workbench = new ThreadWorkbench({ width: 1 });
const options = { set: 1, pixels: 2048, padding: 4 } as const;
// The thread and the wasm are loaded before.
await workbench.run('unwrap', { mesh: packMesh(meshOf(new BoxGeometry())), ...options });
for (const [what, geometry] of [
  ['a knot', new TorusKnotGeometry(1, 0.3, 1000, 50)],
  ['a box with rough sides', rough(new BoxGeometry(2, 1, 1, 91, 91, 91))],
] as const) {
  const mesh = meshOf(geometry);
  let told = 0;
  const began = performance.now();
  const { blob, sheet } = await workbench.run('unwrap', { mesh: packMesh(mesh), ...options }, undefined, () => told++);
  const time = (performance.now() - began) / 1000;
  const { stretch, overlap, used } = uvFigures(unpackMesh(blob), 1)!;
  print({
    name: `Unwrapping ${what} of ${Math.round(mesh.indices.length / 3000)} k triangles`,
    value: time,
    unit: 's',
    aim: { most: 20 },
    note: `${sheet.charts} charts, stretch ${stretch.toFixed(3)}, overlap ${(overlap * 100).toFixed(2)} %, ${(used * 100).toFixed(0)} % of the sheet used, gap ${sheet.gap.toFixed(1)} px, progress told ${told} times`,
  });
}
await workbench.close();

/** Sides that are no planes: each vertex moved by up to a millimetre. */
function rough(geometry: BufferGeometry): BufferGeometry {
  const positions = geometry.getAttribute('position');
  let seed = 7;
  const random = () => ((seed = (seed * 48271) % 2147483647) / 2147483647 - 0.5) * 0.002;
  const moved = new Map<string, number[]>();
  for (let i = 0; i < positions.count; i++) {
    const at = [positions.getX(i), positions.getY(i), positions.getZ(i)];
    const key = at.map((value) => Math.round(value * 1e4)).join();
    if (!moved.has(key)) moved.set(key, at.map((value) => value + random())); // prettier-ignore
    positions.setXYZ(i, ...(moved.get(key) as [number, number, number]));
  }
  return geometry;
}
