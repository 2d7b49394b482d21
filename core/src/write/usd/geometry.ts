/** Geometry of a part as USD has it: a mesh with subsets of faces for its materials, curves, or points. Metres, in the frame of the pivot. */
import type { Mesh } from '../../mesh/mesh.ts';
import { normalsAt, pointsAt } from '../../mesh/placed.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { uvName } from './materials.ts';
import { double, float } from './text.ts';
import type { UsdText } from './text.ts';

/** Name of the prim that holds what a row shows, below that of the row. */
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

export function writeGeometry(text: UsdText, mesh: Mesh, offset: Matrix, { doubleSided, materials }: GeometryLook): void {
  const isMesh = mesh.indices.length > 0;
  const type = isMesh ? 'Mesh' : mesh.positions.length > 0 ? 'Points' : 'BasisCurves';
  const isElsewhere = materials === 'elsewhere';
  // Lines and points have one material.
  const all = isElsewhere ? undefined : typeof materials === 'string' ? materials : isMesh ? undefined : materials?.[0];
  text.begin(`def ${type} "${GEOMETRY}"`, all ? [BINDS] : []);
  if (all) text.line(`rel material:binding = <${all}>`);
  if (type === 'BasisCurves') writeLines(text, pointsAt(mesh.edges, offset));
  else {
    const positions = pointsAt(mesh.positions, offset);
    writeExtent(text, positions);
    list(text, 'point3f[] points', positions, 3);
    // Colours of points and vertices; their opacity beside them.
    if (mesh.colours) writeColours(text, mesh.colours);
    mesh.uvs?.forEach((set, i) => {
      // Coordinates begin lower left here.
      const turned = Float32Array.from(set, (value, k) => (k % 2 ? 1 - value : value));
      list(text, `texCoord2f[] primvars:${uvName(i)}`, turned, 2, VERTEX);
    });
  }
  if (isMesh) {
    text.line(`uniform bool doubleSided = ${doubleSided ? 1 : 0}`);
    text.line('uniform token subdivisionScheme = "none"');
    text.list('int[] faceVertexCounts', new Uint8Array(mesh.indices.length / 3).fill(3), 1, double);
    text.endList();
    text.list('int[] faceVertexIndices', mesh.indices, 1, double);
    text.endList();
    list(text, 'normal3f[] normals', normalsAt(mesh.normals, offset), 3, VERTEX);
    if (isElsewhere || Array.isArray(materials)) writeSubsets(text, mesh, isElsewhere ? [] : (materials as readonly string[]));
  }
  text.end();
} // prettier-ignore

/** What has a material of its own says so. */
const BINDS = 'prepend apiSchemas = ["MaterialBindingAPI"]';
const VERTEX = ' (interpolation = "vertex")';

function list(text: UsdText, head: string, values: ArrayLike<number>, width: number, metadata = ''): void {
  text.list(head, values, width, float);
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
function writeLines(text: UsdText, points: Float32Array): void {
  writeExtent(text, points);
  text.line('uniform token type = "linear"');
  text.line('uniform token wrap = "nonperiodic"');
  text.list('int[] curveVertexCounts', new Uint8Array(points.length / 6).fill(2), 1, double);
  text.endList();
  list(text, 'point3f[] points', points, 3);
}

function writeExtent(text: UsdText, points: Float32Array): void {
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
      double,
    );
    text.endList();
    if (path) text.line(`rel material:binding = <${path}>`);
    text.end();
  }
}

/** Name of the prim of the faces of a slot. */
export const subsetName = (slot: number) => `Slot${slot}`;
