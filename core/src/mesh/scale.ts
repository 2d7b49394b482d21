/** Makes a mesh larger or smaller by one factor. */
import type { MeshFigures } from '../scene/types.ts';
import { figuresOf, packMesh, unpackMesh } from './mesh.ts';

export interface ScaleInput {
  /** Packed mesh. */
  mesh: Uint8Array;
  factor: number;
}

export interface ScaleOutput {
  blob: Uint8Array;
  figures: MeshFigures;
}

export async function scale({ mesh, factor }: ScaleInput): Promise<ScaleOutput> {
  const unpacked = unpackMesh(mesh);
  const scaled = {
    ...unpacked,
    positions: times(unpacked.positions, factor),
    edges: times(unpacked.edges, factor),
    ...(unpacked.trueSize && unpacked.uvs ? { uvs: unpacked.uvs.map((set) => times(set, factor)) } : {}),
  };
  const blob = packMesh(scaled);
  return { blob, figures: figuresOf(scaled, blob.length) };
}

function times(values: Float32Array, factor: number): Float32Array {
  return values.map((value) => value * factor);
}
