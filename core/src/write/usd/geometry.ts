/** Geometry of a part as USD has it: a mesh with subsets of faces for its materials, curves, or points. Metres, in the frame of the pivot. */
import type { Mesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { uvName } from './materials.ts';
import { decimalsFor } from '../pieces.ts';
import type { UsdText } from './text.ts';

/** Name of the prim that shows what a row shows, where that has others below it, or is an instance. */
export const GEOMETRY = 'Geometry';

export interface GeometryLook {
  /** Seen from both sides. */
  doubleSided: boolean;
  /**
   * Path of the material of all, or paths by slot. With `elsewhere` the slots stand there without any; nothing where what stands above
   * has the material.
   */
  materials?: string | readonly string[] | 'elsewhere';
}

/** Type of the prim that shows a mesh. */
export function bodyType(mesh: Mesh): 'Mesh' | 'Points' | 'BasisCurves' {
  if (mesh.indices.length > 0) return 'Mesh';
  return mesh.positions.length > 0 ? 'Points' : 'BasisCurves';
}

/** A prim that shows a mesh, below what has its place. */
export function writeBelow(text: UsdText, mesh: Mesh, offset: Matrix, look: GeometryLook): void {
  text.block(`def ${bodyType(mesh)} "${GEOMETRY}"`, bindingOf(mesh, look) ? [BINDS] : [], () =>
    writeBody(text, mesh, offset, look),
  );
}

/** Path of the material of all of it, where there is one: lines and points have no slots. */
export function bindingOf(mesh: Mesh, { materials }: GeometryLook): string | undefined {
  if (materials === undefined || materials === 'elsewhere') return undefined;
  if (typeof materials === 'string') return materials;
  return mesh.indices.length > 0 ? undefined : materials[0];
}

/** What stands in a prim that shows a mesh. */
export function writeBody(text: UsdText, mesh: Mesh, offset: Matrix, look: GeometryLook): void {
  const { doubleSided, materials } = look;
  const all = bindingOf(mesh, look);
  if (all) text.line(`rel material:binding = <${all}>`);
  const { positions, normals, indices, edges } = placedMesh(mesh, offset);
  if (bodyType(mesh) === 'BasisCurves') return writeLines(text, edges);
  writeExtent(text, positions);
  list(text, 'point3f[] points', positions, 3);
  // Colours of points and vertices; their opacity beside them.
  if (mesh.colours) writeColours(text, mesh.colours);
  mesh.uvs?.forEach((set, i) => {
    // Coordinates begin lower left here.
    const turned = Float32Array.from(set, (value, k) => (k % 2 ? 1 - value : value));
    list(text, `texCoord2f[] primvars:${uvName(i)}`, turned, 2, VERTEX);
  });
  if (mesh.indices.length === 0) return;
  text.line(`uniform bool doubleSided = ${doubleSided ? 1 : 0}`);
  text.line('uniform token subdivisionScheme = "none"');
  text.list('int[] faceVertexCounts', new Uint8Array(mesh.indices.length / 3).fill(3), 1, 0);
  text.endList();
  text.list('int[] faceVertexIndices', indices, 1, 0);
  text.endList();
  list(text, 'normal3f[] normals', normals, 3, VERTEX);
  if (materials !== undefined && all === undefined) writeSubsets(text, mesh, materials === 'elsewhere' ? [] : [...materials]);
} // prettier-ignore

/** What has a material of its own says so. */
export const BINDS = 'prepend apiSchemas = ["MaterialBindingAPI"]';
const VERTEX = ' (interpolation = "vertex")';

function list(text: UsdText, head: string, values: ArrayLike<number>, width: number, metadata = ''): void {
  text.list(head, values, width, decimalsOf(values));
  text.endList(metadata);
}

function writeColours(text: UsdText, colours: Float32Array): void {
  const [rgb, opacity] = [new Float32Array((colours.length / 4) * 3), new Float32Array(colours.length / 4)];
  for (let i = 0; i < opacity.length; i++) {
    rgb.set(colours.subarray(i * 4, i * 4 + 3), i * 3);
    opacity[i] = colours[i * 4 + 3];
  }
  list(text, 'color3f[] primvars:displayColor', rgb, 3, VERTEX);
  if (opacity.some((value) => value !== 1)) list(text, 'float[] primvars:displayOpacity', opacity, 1, VERTEX);
}

/** Two ends for each line. */
function writeLines(text: UsdText, points: ArrayLike<number>): void {
  writeExtent(text, points);
  text.line('uniform token type = "linear"');
  text.line('uniform token wrap = "nonperiodic"');
  text.list('int[] curveVertexCounts', new Uint8Array(points.length / 6).fill(2), 1, 0);
  text.endList();
  list(text, 'point3f[] points', points, 3);
}

function writeExtent(text: UsdText, points: ArrayLike<number>): void {
  const [min, max] = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]]; // prettier-ignore
  for (let i = 0; i < points.length; i++) {
    min[i % 3] = Math.min(min[i % 3], points[i]);
    max[i % 3] = Math.max(max[i % 3], points[i]);
  }
  if (points.length > 0) list(text, 'float3[] extent', [...min, ...max], 3);
}

function writeSubsets(text: UsdText, { groups }: Mesh, materials: readonly string[]): void {
  text.line('uniform token subsetFamily:materialBind:familyType = "nonOverlapping"');
  for (const { slot, start, count } of groups) {
    if (count === 0) continue;
    const path = materials[slot];
    text.begin(`def GeomSubset "${subsetName(slot)}"`, path ? [BINDS] : []);
    text.line('uniform token elementType = "face"');
    text.line('uniform token familyName = "materialBind"');
    text.list(
      'int[] indices',
      Uint32Array.from({ length: count / 3 }, (_, i) => start / 3 + i),
      1,
      0,
    );
    text.endList();
    if (path) text.line(`rel material:binding = <${path}>`);
    text.end();
  }
}

/** Name of the prim of the faces of a slot. */
export const subsetName = (slot: number) => `Slot${slot}`;

/** As many as tell every number from its neighbours in single precision, at the largest of them. */
function decimalsOf(values: ArrayLike<number>): number {
  let reach = 0;
  for (let i = 0; i < values.length; i++) reach = Math.max(reach, Math.abs(values[i]));
  return Math.min(18, decimalsFor(reach) + 1);
}
