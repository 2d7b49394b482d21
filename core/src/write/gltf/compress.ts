/**
 * Packs the numbers of a document. Draco (KHR_draco_mesh_compression) rounds and packs by itself, sequentially, so that triangles and corners
 * keep their order. For meshopt they are made short, so that it packs them well (EXT_meshopt_compression): positions on a grid of each part's own
 * size, normals in bytes, colours in sixteen bits. No row is left with a scale that only makes up for it, as a grid of whole numbers would
 * need: a grid whose steps are powers of two has zeros in the last bits of its floats.
 */
import type { Accessor, Document } from '@gltf-transform/core';
import type { Compression } from '../writer.ts';

/** Steps of the grid for how far a part reaches from its origin; of texture coordinates, in widths of a picture. */
export const GRID = 2 ** -16;
const UV_STEP = 2 ** -14;
/** Values of a byte from -1 to 1. */
const BYTE = 127;

/** Bits of draco: positions of the reach of a part, normals on an octahedron, texture coordinates of all widths of a picture together. */
const BITS = { POSITION: 17, NORMAL: 12, TEX_COORD: 18, COLOR: 16, GENERIC: 16 };
/** Of ten: packs better the less. */
const SPEED = 3;

/** What of a value may differ afterwards. */
export const TOLERANCE = { positions: GRID, normals: 0.6 / BYTE, uvs: UV_STEP, colours: 1 / 65535 };

type Extensions = typeof import('@gltf-transform/extensions');

/** @returns what the file is written with */
export function pack(document: Document, extensions: Extensions, how: Compression): Promise<Record<string, unknown>> {
  return how === 'draco' ? packDraco(document, extensions) : packMeshopt(document, extensions);
}

async function packDraco(document: Document, { KHRDracoMeshCompression: Draco }: Extensions) {
  const { default: draco } = await import('draco3dgltf');
  document
    .createExtension(Draco)
    .setRequired(true)
    .setEncoderOptions({ method: Draco.EncoderMethod.SEQUENTIAL, encodeSpeed: SPEED, decodeSpeed: SPEED, quantizationBits: BITS, quantizationVolume: 'mesh' }); // prettier-ignore
  return { 'draco3d.encoder': await draco.createEncoderModule() };
}

async function packMeshopt(document: Document, extensions: Extensions) {
  const { MeshoptEncoder } = await import('meshoptimizer/encoder');
  await MeshoptEncoder.ready;
  const done = new Set<Accessor>();
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives())
      for (const semantic of primitive.listSemantics()) {
        const accessor = primitive.getAttribute(semantic);
        if (!accessor || done.has(accessor)) continue;
        done.add(accessor);
        shorten(accessor, semantic);
      }
  document.createExtension(extensions.KHRMeshQuantization).setRequired(true);
  document
    .createExtension(extensions.EXTMeshoptCompression)
    .setRequired(true)
    // Nothing is rounded but what was rounded here: keys of movements stay as they are.
    .setEncoderOptions({ method: extensions.EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  return { 'meshopt.encoder': MeshoptEncoder };
} // prettier-ignore

function shorten(accessor: Accessor, semantic: string): void {
  const values = accessor.getArray() as Float32Array;
  if (semantic === 'POSITION') accessor.setArray(onGrid(values, stepFor(values)));
  else if (semantic.startsWith('TEXCOORD')) accessor.setArray(onGrid(values, UV_STEP));
  else if (semantic === 'NORMAL')
    accessor.setArray(Int8Array.from(values, (value) => Math.round(value * BYTE)) as never).setNormalized(true);
  else if (semantic.startsWith('COLOR'))
    accessor.setArray(Uint16Array.from(values, (value) => Math.round(Math.min(1, value) * 65535)) as never).setNormalized(true); // prettier-ignore
}

/** A power of two, so that what is on the grid is exact in single precision. */
function stepFor(values: Float32Array): number {
  let reach = 0;
  for (const value of values) reach = Math.max(reach, Math.abs(value));
  return reach > 0 ? 2 ** Math.floor(Math.log2(reach)) * GRID : GRID;
}

const onGrid = (values: Float32Array, step: number) => values.map((value) => Math.round(value / step) * step);
