/** Our reduction (seams closed, sorted, edges found anew) against the bare library's call on the same meshes; measuring apart. */
import { readFileSync } from 'node:fs';
import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import { MemoryBlobs, memorySurroundings } from '@noble-prism/core/memoryStores';
import { unpackMesh } from '@noble-prism/core/mesh/mesh';
import type { Mesh } from '@noble-prism/core/mesh/mesh';
import { measureDeviation } from '@noble-prism/core/mesh/deviation';
import { reduceToShare } from '@noble-prism/core/mesh/reduce';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { readSource } from '@noble-prism/core/read/readSource';
import { provideKernel } from '@noble-prism/core/solid/kernel';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { denseDeviation } from '@noble-prism/core/testing/denseDeviation';
import { modelOf } from '@noble-prism/core/testing/reading';
import { ballMesh } from '@noble-prism/core/testing/meshes';
import { demoFile } from './files.ts';
import { print, seconds } from './report.ts';

provideKernel(loadKernel);
await MeshoptSimplifier.ready;
const blobs = new MemoryBlobs();
const drive = { name: 'drive-unit.stp', bytes: readFileSync(await demoFile('drive-unit.stp')) };
const base = await (await readSource(drive, 's')).build(blobs);
const { scene } = await evaluate(
  base,
  'bench',
  defaultSteps({ chord: 0.00002, angle: 0.1 }),
  memorySurroundings({ blobs }),
);
const demo = await Promise.all(Object.keys(scene.meshes).map(async (hash) => unpackMesh(await blobs.get(hash))));

function bare(mesh: Mesh): void {
  MeshoptSimplifier.simplifyWithAttributes(
    mesh.indices,
    mesh.positions,
    3,
    mesh.normals,
    3,
    [0.5, 0.5, 0.5],
    null,
    Math.floor(mesh.indices.length / 6) * 3,
    1,
  );
}

const sets: [string, Mesh[]][] = [
  ['the demo’s solids, fine', demo],
  ['a ball of 640 000 triangles', [ballMesh(1, 400)]],
];
for (const [name, meshes] of sets) {
  const triangles = meshes.reduce((sum, mesh) => sum + mesh.indices.length / 3, 0);
  const library = await seconds(3, () => meshes.forEach(bare));
  const own = await seconds(3, () => meshes.forEach((mesh) => reduceToShare(mesh, 0.5)));
  print({
    name: `Reduce ${name}`,
    value: own / library,
    unit: 'times the bare library',
    aim: { most: 1.3 },
    note: `${triangles} triangles to half, ${own.toFixed(2)} s and ${library.toFixed(2)} s`,
  });
}
const [heaviest] = [...demo].sort((a, b) => b.indices.length - a.indices.length);
const reduced = reduceToShare(heaviest, 0.5).mesh ?? heaviest;
const measuring = await seconds(2, () => measureDeviation(heaviest, reduced, { samples: 20_000 }));
print({ name: 'Measuring the deviation of the heaviest, 20 000 samples each way', value: measuring, unit: 's' });

// What is stated, against what somebody else would measure with ten times as many points.
for (const path of ['STL/Spider_binary.stl', 'STL/Wuson.stl', 'PLY/Wuson.ply', 'OBJ/spider.obj', 'OBJ/WusonOBJ.obj']) {
  const open = await (await readSource(modelOf(path), 's')).build(blobs);
  const [largest] = Object.entries(open.meshes).sort(([, a], [, b]) => b.triangles - a.triangles);
  const mesh = unpackMesh(await blobs.get(largest[0]));
  for (const share of [0.5, 0.1]) {
    const left = reduceToShare(mesh, share).mesh ?? mesh;
    const stated = measureDeviation(mesh, left).max;
    const independent = denseDeviation(mesh, left, 25_000);
    print({
      name: `Deviation of ${path} to ${share * 100} %`,
      value: independent / stated,
      unit: 'times what is stated, measured independently',
      aim: { most: 1.05 },
      note: `stated ${(stated * 1000).toPrecision(4)} mm, independent ${(independent * 1000).toPrecision(4)} mm, ${left.indices.length / 3} of ${mesh.indices.length / 3} triangles`,
    });
  }
}
