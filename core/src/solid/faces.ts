/** What the kernel made of each face of a shape: vertices, parameters and triangles, beside the exact surface they stand for. */
import type { BRepAdaptor_Surface, ReplicadMeshData, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { exactSurface } from './exactSurface.ts';
import type { ExactSurface } from './exactSurface.ts';
import type { Kernel, Own } from './kernel.ts';

export interface ExactFace {
  face: TopoDS_Face;
  surface: ExactSurface;
}

/** Vertices and triangles of all faces in one list; millimetres. */
export interface FacesMesh {
  /** x, y, z per vertex. */
  positions: Float32Array;
  /** x, y, z per vertex, of any length. */
  normals: Float32Array;
  /** u, v of the face's own surface per vertex; absent where the kernel does not say. */
  parameters?: Float64Array;
  triangles: Uint32Array;
  /** First vertex of each face, and the end of the last. */
  firstVertex: Uint32Array;
  /** First entry in `triangles` of each face, and the end of the last. */
  firstIndex: Uint32Array;
}

/** The faces of a shape in the order in which the kernel meshes them. */
export function exactFaces(oc: Kernel, shape: TopoDS_Shape, own: Own): ExactFace[] {
  const faces: ExactFace[] = [];
  const explorer = own(new oc.TopExp_Explorer(shape, FACE, ANY));
  for (; explorer.More(); explorer.Next()) {
    const face = own(oc.TopoDS.Face(own(explorer.Current())));
    const adaptor: BRepAdaptor_Surface = own(new oc.BRepAdaptor_Surface(face, false));
    faces.push({ face, surface: exactSurface(adaptor) });
  }
  return faces;
}
const FACE = 'TopAbs_FACE';
const ANY = 'TopAbs_SHAPE';

/** Copies a mesh out of the kernel's memory, with the parameters of its vertices. */
export function facesMesh(oc: Kernel, raw: ReplicadMeshData, faces: readonly ExactFace[], own: Own): FacesMesh {
  const heap = oc.wasmMemory.buffer;
  const positions = new Float32Array(heap, raw.getVerticesPtr(), raw.getVerticesSize()).slice();
  const normals = new Float32Array(heap, raw.getNormalsPtr(), raw.getNormalsSize()).slice();
  const triangles = new Uint32Array(heap, raw.getTrianglesPtr(), raw.getTrianglesSize()).slice();
  const groups = new Int32Array(heap, raw.getFaceGroupsPtr(), raw.getFaceGroupsSize()).slice();
  const count = groups.length / 3;
  const firstIndex = new Uint32Array(count + 1);
  for (let f = 0; f < count; f++) firstIndex[f] = groups[f * 3];
  firstIndex[count] = triangles.length;
  const read = count === faces.length ? parametersOf(oc, faces, positions, own) : undefined;
  return {
    positions,
    normals,
    triangles,
    firstIndex,
    ...(read ?? { firstVertex: Uint32Array.of(0, positions.length / 3) }),
  };
}

/** Parameters per vertex; undefined where the kernel's lists do not agree with each other. */
function parametersOf(
  oc: Kernel,
  faces: readonly ExactFace[],
  positions: Float32Array,
  own: Own,
): Pick<FacesMesh, 'parameters' | 'firstVertex'> | undefined {
  const vertices = positions.length / 3;
  const parameters = new Float64Array(vertices * 2);
  const firstVertex = new Uint32Array(faces.length + 1);
  const location = own(new oc.TopLoc_Location());
  let at = 0;
  for (let f = 0; f < faces.length; f++) {
    firstVertex[f] = at;
    const { face, surface } = faces[f];
    const made = oc.BRep_Tool.Triangulation(face, location, 0);
    // A face that could not be meshed has none.
    if (!made) continue;
    const nodes = made.NbNodes();
    if (at + nodes > vertices) return undefined;
    for (let i = 0; i < nodes; i++) {
      const vertex = at + i;
      if (surface.parameters) {
        const [x, y, z] = [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]];
        parameters.set(surface.parameters(x, y, z), vertex * 2);
      } else if (made.HasUVNodes()) {
        const node = made.UVNode(i + 1);
        parameters[vertex * 2] = node.X();
        parameters[vertex * 2 + 1] = node.Y();
        node.delete();
      } else return undefined;
    }
    at += nodes;
    made.delete();
  }
  firstVertex[faces.length] = at;
  return at === vertices ? { parameters, firstVertex } : undefined;
}

/** Range of the parameters of one face. */
export function rangesOf(mesh: FacesMesh, face: number): { u: [number, number]; v: [number, number] } {
  const { parameters = new Float64Array(0), firstVertex } = mesh;
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let vertex = firstVertex[face]; vertex < firstVertex[face + 1]; vertex++) {
    const [u, v] = [parameters[vertex * 2], parameters[vertex * 2 + 1]];
    if (u < u0) u0 = u;
    if (u > u1) u1 = u;
    if (v < v0) v0 = v;
    if (v > v1) v1 = v;
  }
  return { u: [u0, u1], v: [v0, v1] };
}
