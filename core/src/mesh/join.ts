/** Joins meshes where they stand into one; each keeps the slots that it is told. */
import type { Matrix } from '../scene/matrix.ts';
import { determinant } from '../scene/matrix.ts';
import type { MeshFigures } from '../scene/types.ts';
import { figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh, MeshGroup } from './mesh.ts';
import { putNormals, putPoints } from './placed.ts';

export interface JoinPiece {
  /** Packed mesh. */
  mesh: Uint8Array;
  /** Where it stands in the frame of the whole. */
  place: Matrix;
  /** Slot of the whole for each of its own. */
  slots: readonly number[];
}

export interface JoinInput {
  pieces: readonly JoinPiece[];
}

export interface JoinOutput {
  blob: Uint8Array;
  figures: MeshFigures;
}

export async function join({ pieces }: JoinInput): Promise<JoinOutput> {
  const mesh = joined(pieces.map(({ mesh: packed, ...piece }) => ({ ...piece, mesh: unpackMesh(packed) })));
  const blob = packMesh(mesh);
  return { blob, figures: figuresOf(mesh, blob.length) };
}

/** Texture coordinates and colours stay where any has them: the others get a corner of the picture, and white. */
export function joined(pieces: readonly { mesh: Mesh; place: Matrix; slots: readonly number[] }[]): Mesh {
  const vertices = pieces.reduce((sum, { mesh }) => sum + mesh.positions.length / 3, 0);
  const corners = pieces.reduce((sum, { mesh }) => sum + mesh.indices.length, 0);
  const segments = pieces.reduce((sum, { mesh }) => sum + mesh.edges.length, 0);
  const sets = Math.max(0, ...pieces.map(({ mesh }) => mesh.uvs?.length ?? 0));
  const isColoured = pieces.some(({ mesh }) => mesh.colours);
  const positions = new Float32Array(vertices * 3);
  const normals = new Float32Array(vertices * 3);
  const edges = new Float32Array(segments);
  const uvs = Array.from({ length: sets }, () => new Float32Array(vertices * 2));
  const colours = isColoured ? new Float32Array(vertices * 4).fill(1) : undefined;
  const bySlot = new Map<number, Uint32Array[]>();
  let vertex = 0;
  let segment = 0;
  for (const { mesh, place, slots } of pieces) {
    putPoints(mesh.positions, place, positions, vertex * 3);
    putNormals(mesh.normals, place, normals, vertex * 3);
    putPoints(mesh.edges, place, edges, segment);
    segment += mesh.edges.length;
    mesh.uvs?.forEach((set, i) => uvs[i].set(set, vertex * 2));
    if (mesh.colours) colours?.set(mesh.colours, vertex * 4);
    // A mirror turns triangles inside out: their winding is turned back.
    const isMirrored = determinant(place) < 0;
    for (const { slot, start, count } of mesh.groups) {
      const list = mesh.indices.slice(start, start + count).map((index) => index + vertex);
      if (isMirrored) for (let i = 0; i < list.length; i += 3) [list[i + 1], list[i + 2]] = [list[i + 2], list[i + 1]];
      const to = slots[slot] ?? slots[0] ?? 0;
      const known = bySlot.get(to);
      if (known) known.push(list);
      else bySlot.set(to, [list]);
    }
    vertex += mesh.positions.length / 3;
  }
  const indices = new Uint32Array(corners);
  const groups: MeshGroup[] = [];
  let at = 0;
  for (const [slot, lists] of [...bySlot].sort(([a], [b]) => a - b)) {
    const start = at;
    for (const list of lists) {
      indices.set(list, at);
      at += list.length;
    }
    groups.push({ slot, start, count: at - start });
  }
  // Lengths on the surface are lengths still where nothing was stretched.
  const trueSize = sets > 0 && pieces.every(({ mesh, place }) => mesh.trueSize && isRigid(place));
  return {
    positions,
    normals,
    indices,
    groups,
    edges,
    ...(sets > 0 ? { uvs } : {}),
    ...(trueSize ? { trueSize } : {}),
    ...(colours ? { colours } : {}),
  };
}

function isRigid(m: Matrix): boolean {
  const lengths = [0, 4, 8].map((c) => Math.hypot(m[c], m[c + 1], m[c + 2]));
  return lengths.every((length) => Math.abs(length - 1) < 1e-6) && Math.abs(Math.abs(determinant(m)) - 1) < 1e-6;
}
