/** Bodies that a STEP file holds as triangles already (ISO 10303-42, tessellated geometry; AP242). */
import type { BareMesh } from '../../mesh/normals.ts';
import { NumberList } from '../../mesh/numberList.ts';
import type { MeshGroup } from '../../mesh/mesh.ts';
import type { Entities } from './entities.ts';
import type { Value } from './values.ts';

/** Items of a representation that become parts, where there is no exact shape. */
export const TESSELLATED_TYPES = [
  'TESSELLATED_SOLID',
  'TESSELLATED_SHELL',
  'TRIANGULATED_SURFACE_SET',
  'COMPLEX_TRIANGULATED_SURFACE_SET',
] as const;

/** Where each kind of face has its lists. */
const FACES: Record<string, { numbers: number; triangles?: number; strips?: number; fans?: number }> = {
  TRIANGULATED_FACE: { numbers: 5, triangles: 6 },
  COMPLEX_TRIANGULATED_FACE: { numbers: 5, strips: 6, fans: 7 },
  TRIANGULATED_SURFACE_SET: { numbers: 4, triangles: 5 },
  COMPLEX_TRIANGULATED_SURFACE_SET: { numbers: 4, strips: 5, fans: 6 },
};

/** Indices of the faces of a tessellated item: those of a solid or shell, or the item itself. */
export function tessellatedFaces(entities: Entities, item: number): number[] {
  const { file } = entities;
  if (!file.is(item, 'TESSELLATED_SOLID') && !file.is(item, 'TESSELLATED_SHELL')) return [item];
  const list = entities.args(item)[1];
  return (Array.isArray(list) ? list : [])
    .map((face) => entities.follow(face, item))
    .filter((face) => face >= 0 && file.typeOf(face) in FACES);
}

/**
 * The mesh of a tessellated item, in the unit of its representation.
 * @param slotOf slot of each face, in the order of {@link tessellatedFaces}
 */
export function tessellatedMesh(entities: Entities, item: number, slotOf: readonly number[]): BareMesh {
  const positions = new NumberList(Float64Array);
  const normals = new NumberList(Float32Array);
  const bySlot: NumberList<Uint32Array>[] = [];
  let hasNormals = true;
  let lost = 0;
  tessellatedFaces(entities, item).forEach((face, i) => {
    const list = (bySlot[slotOf[i] ?? 0] ??= new NumberList(Uint32Array));
    const made = readFace(entities, face, positions, normals, list);
    hasNormals &&= made.hasNormals;
    lost += made.lost;
  });
  if (lost > 0)
    entities.warn('bad-indices', `${lost} triangles refer to points that are not there; they are left out.`, item);
  const indices = new Uint32Array(bySlot.reduce((sum, list) => sum + (list?.length ?? 0), 0));
  const groups: MeshGroup[] = [];
  let at = 0;
  bySlot.forEach((list, slot) => {
    if (!list || list.length === 0) return;
    indices.set(list.values, at);
    groups.push({ slot, start: at, count: list.length });
    at += list.length;
  });
  return {
    positions: positions.values.slice(),
    indices,
    groups,
    ...(hasNormals && positions.length > 0 ? { normals: normals.values.slice() } : {}),
  };
}

function readFace(
  entities: Entities,
  face: number,
  positions: NumberList<Float64Array>,
  normals: NumberList<Float32Array>,
  indices: NumberList<Uint32Array>,
): { hasNormals: boolean; lost: number } {
  const where = FACES[entities.file.typeOf(face)];
  const args = entities.args(face);
  const coordinates = entities.follow(args[1], face);
  const points = coordinates < 0 ? [] : rowsOf(entities.args(coordinates)[2]);
  const directions = rowsOf(args[3]);
  const numbers = numbersOf(args[where.numbers]);
  // Without a list of numbers the points are used as they stand.
  const used = numbers.length > 0 ? numbers : points.map((_, i) => i + 1);
  const first = positions.length / 3;
  for (const [i, number] of used.entries()) {
    const [x = NaN, y = NaN, z = NaN] = points[number - 1] ?? [];
    positions.push3(x, y, z);
    const [nx = 0, ny = 0, nz = 0] = directions[directions.length === 1 ? 0 : i] ?? [];
    normals.push3(nx, ny, nz);
  }
  let lost = 0;
  const triangle = (a: number, b: number, c: number) => {
    if ([a, b, c].every((corner) => corner >= 1 && corner <= used.length))
      indices.push3(first + a - 1, first + b - 1, first + c - 1);
    else lost++;
  };
  for (const [a, b, c] of where.triangles === undefined ? [] : rowsOf(args[where.triangles])) triangle(a, b, c);
  for (const strip of where.strips === undefined ? [] : rowsOf(args[where.strips]))
    for (let i = 2; i < strip.length; i++)
      if (i % 2 === 0) triangle(strip[i - 2], strip[i - 1], strip[i]);
      else triangle(strip[i - 1], strip[i - 2], strip[i]);
  for (const fan of where.fans === undefined ? [] : rowsOf(args[where.fans]))
    for (let i = 2; i < fan.length; i++) triangle(fan[0], fan[i - 1], fan[i]);
  return { hasNormals: directions.length > 0, lost };
}

function numbersOf(value: Value | undefined): number[] {
  return Array.isArray(value) ? value.filter((entry): entry is number => typeof entry === 'number') : [];
}

function rowsOf(value: Value | undefined): number[][] {
  return Array.isArray(value) ? value.filter(Array.isArray).map((row) => numbersOf(row as Value)) : [];
}
