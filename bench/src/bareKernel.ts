/** The bare kernel in a process of its own: reads a whole STEP file and meshes it in one thread, its own loading counted. Prints seconds and triangles. */
import { readFileSync } from 'node:fs';
import { loadKernel } from '@noble-prism/node/loadKernel';

const [path, chord, angle] = process.argv.slice(2);
const start = performance.now();
const oc = await loadKernel();
oc.FS.writeFile('/whole.stp', readFileSync(path));
const reader = new oc.STEPControl_Reader();
reader.ReadFile('/whole.stp');
reader.TransferRoots();
const mesh = oc.ReplicadMeshExtractor.extract(reader.OneShape(), Number(chord), Number(angle), false);
process.stdout.write(
  JSON.stringify({ seconds: (performance.now() - start) / 1000, triangles: mesh.getTrianglesSize() / 3 }),
);
