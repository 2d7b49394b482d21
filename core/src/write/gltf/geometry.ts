/** The geometry of a part as attributes and primitives of glTF: triangles per slot; points or lines for a part that has nothing else. */
import type { Accessor, Buffer, Document } from '@gltf-transform/core';
import type { PlacedMesh } from '../../mesh/placed.ts';

export type Attribute = [semantic: string, values: Float32Array, type: 'VEC2' | 'VEC3' | 'VEC4'];

/** What becomes of numbers. */
export interface GeometryMaker {
  /** Of the points of one mesh. */
  attributes(list: readonly Attribute[]): [semantic: string, accessor: Accessor][];
  indices(values: Uint16Array | Uint32Array): Accessor;
}

/** Numbers that are kept in the document, where they can be packed. */
export function keptGeometry(document: Document, buffer: Buffer): GeometryMaker {
  const accessor = (values: Float32Array | Uint16Array | Uint32Array, type: 'VEC3' | 'SCALAR') =>
    document
      .createAccessor()
      .setArray(values as never)
      .setType(type)
      .setBuffer(buffer);
  return {
    attributes: (list) => list.map(([semantic, values, type]) => [semantic, accessor(values, type as 'VEC3')]),
    indices: (values) => accessor(values, 'SCALAR'),
  };
}

export const [POINTS, LINES, TRIANGLES] = [0, 1, 4] as const;

export interface Geometry {
  attributes: [semantic: string, accessor: Accessor][];
  primitives: { slot: number; mode: typeof POINTS | typeof LINES | typeof TRIANGLES; indices?: Accessor }[];
}

/** Most points that indices of 16 bits can tell apart. */
const SMALL = 65535;

export function writeGeometry(mesh: PlacedMesh, make: GeometryMaker): Geometry {
  const single = (values: Float32Array | Float64Array) => values instanceof Float32Array ? values : Float32Array.from(values); // prettier-ignore
  if (mesh.positions.length === 0)
    return {
      attributes: make.attributes([['POSITION', single(mesh.edges), 'VEC3']]),
      primitives: [{ slot: 0, mode: LINES }],
    };
  const list: Attribute[] = [['POSITION', single(mesh.positions), 'VEC3']];
  if (mesh.indices.length > 0) list.push(['NORMAL', mesh.normals, 'VEC3']);
  mesh.uvs?.forEach((set, i) => list.push([`TEXCOORD_${i}`, set, 'VEC2']));
  if (mesh.colours) list.push(['COLOR_0', mesh.colours, 'VEC4']);
  const attributes = make.attributes(list);
  if (mesh.indices.length === 0) return { attributes, primitives: [{ slot: 0, mode: POINTS }] };
  const isSmall = mesh.positions.length / 3 <= SMALL;
  const primitives = mesh.groups.map(({ slot, start, count }) => {
    const part = mesh.indices.subarray(start, start + count);
    return { slot, mode: TRIANGLES, indices: make.indices(isSmall ? Uint16Array.from(part) : part.slice()) } as const;
  });
  return { attributes, primitives };
}
