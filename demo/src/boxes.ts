/** Boxes as a mesh of a glTF file. */
import type { Document, Material, Mesh } from '@gltf-transform/core';

export type Triple = [number, number, number];

/** Boxes with flat faces, as one mesh. */
export function boxes(
  document: Document,
  name: string,
  material: Material,
  list: { size: Triple; at: Triple }[],
): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  for (const { size, at } of list)
    for (const axis of [0, 1, 2])
      for (const sign of [1, -1]) {
        const [u, v] = sign > 0 ? [(axis + 1) % 3, (axis + 2) % 3] : [(axis + 2) % 3, (axis + 1) % 3];
        for (const [du, dv] of [[-1, -1], [1, -1], [1, 1], [-1, -1], [1, 1], [-1, 1]]) {
          const point = [...at];
          point[axis] += (sign * size[axis]) / 2;
          point[u] += (du * size[u]) / 2;
          point[v] += (dv * size[v]) / 2;
          positions.push(...point);
          normals.push(...[0, 1, 2].map((i) => (i === axis ? sign : 0)));
        }
      } // prettier-ignore
  const [buffer] = document.getRoot().listBuffers();
  const accessor = (values: number[]) =>
    document.createAccessor().setType('VEC3').setArray(Float32Array.from(values)).setBuffer(buffer);
  return document
    .createMesh(name)
    .addPrimitive(
      document
        .createPrimitive()
        .setAttribute('POSITION', accessor(positions))
        .setAttribute('NORMAL', accessor(normals))
        .setMaterial(material),
    );
}
