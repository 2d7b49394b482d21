/** Sending: how small a scene of many placements gets, how fast each writer writes, and a hundred thousand rows written and read back. */
import type { Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';
import { arrange } from '@noble-prism/core/transmit/targets/arrange';
import { DEFAULT_TARGET, wayOf } from '@noble-prism/core/transmit/targets/target';
import type { TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { readBack } from '@noble-prism/core/transmit/readback';
import { MESH_WRITERS, writerFor } from '@noble-prism/core/write/formats';
import { nodePacker } from '@noble-prism/node/packer';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer';
import { unzipSync } from 'fflate';
import { placed } from './placed.ts';
import { print } from './report.ts';

async function write({ scene, blobs }: { scene: Scene; blobs: BlobStore }, settings: Partial<TargetSettings>) {
  const full: TargetSettings = { ...DEFAULT_TARGET, ...settings };
  const writer = writerFor(full.format)!;
  const arranged = await arrange(scene, blobs, full, writer);
  const way = wayOf(full, writer);
  const began = performance.now();
  const files = await writer.write(arranged.written, blobs, 'x', { ...way, packer: nodePacker, ...(full.compression ? { compression: full.compression } : {}) }); // prettier-ignore
  const seconds = (performance.now() - began) / 1000;
  return { files, seconds, bytes: files.reduce((sum, file) => sum + file.content.length, 0), arranged, writer, way };
}

// First: what else stands in memory would be looked through again and again.
const rows = await placed(100_000, 20, 10);
const began = performance.now();
const { files, arranged, writer, way } = await write(rows, { format: 'glb' });
const wrote = (performance.now() - began) / 1000;
const { holds } = await readBack(writer, files, arranged.scene, rows.blobs, { told: way });
print({
  name: '100,000 rows as GLB, written and read back',
  value: (performance.now() - began) / 1000,
  unit: 's',
  aim: { most: 10 },
  note: `${wrote.toFixed(1)} s of it written; read-back ${holds ? 'holds' : 'differs'}`,
});

const many = await placed(1000, 20, 80);
const stl = await write(many, { format: 'stl' });
const glb = await write(many, { format: 'glb', metadata: 'left' });
const packed = await write(many, { format: 'glb', metadata: 'left', compression: 'meshopt' });
const io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
for (const [what, sent, aim] of [['GLB', glb, 40], ['GLB, packed', packed, 150]] as const) {
  const names = (await io.readBinary(sent.files[0].bytes)).getRoot().listNodes().filter((node) => node.getMesh());
  print({
    name: `1,000 placements of 20 parts as ${what}, beside one flat STL`,
    value: stl.bytes / sent.bytes,
    unit: 'times smaller',
    aim: { least: aim },
    note: `${(stl.bytes / 1e6).toFixed(1)} MB and ${(sent.bytes / 1e6).toFixed(3)} MB; another library finds ${new Set(names.map((node) => node.getName())).size} names`,
  });
} // prettier-ignore

// Distinct shapes, so that every byte has to be made.
const large = await placed(60, 60, 1500);
for (const { target } of MESH_WRITERS) {
  await write(large, { format: target });
  const { bytes: sent, files: own, seconds } = await write(large, { format: target });
  // What is packed was written before.
  const bytes = target === '3mf' ? Object.values(unzipSync(own[0].bytes)).reduce((sum, part) => sum + part.length, 0) : sent; // prettier-ignore
  print({
    name: `Writing ${target}`,
    value: bytes / 1e6 / seconds,
    unit: 'MB/s',
    aim: { least: target === 'glb' || target === 'gltf' ? 50 : 20 },
    note: `${(bytes / 1e6).toFixed(0)} MB in ${seconds.toFixed(2)} s${bytes === sent ? '' : `, packed to ${(sent / 1e6).toFixed(0)} MB`}`,
  });
}
