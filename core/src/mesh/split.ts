/** Splits a mesh into its connected pieces, or by its slots. */
import { PrismError } from '../errors.ts';
import type { MeshFigures } from '../scene/types.ts';
import { boundsOf, figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { submesh } from './submesh.ts';
import { SNAP_SHARE, snapPositions } from './weld.ts';

export interface SplitInput {
  /** Packed mesh. */
  mesh: Uint8Array;
  by: 'pieces' | 'material';
}

export interface SplitPiece {
  blob: Uint8Array;
  figures: MeshFigures;
  /** Slot of the whole for each slot of the piece. */
  slots: number[];
}

export interface SplitOutput {
  /** In the order of their first triangle or slot; one where there is nothing to be split. */
  pieces: SplitPiece[];
}

/** Pieces of one mesh at most: more is a cloud of loose triangles, which nobody wants as parts. */
const MOST = 5000;

/** @throws PrismError `solid-failed` where it falls into too many pieces */
export async function split({ mesh: packed, by }: SplitInput): Promise<SplitOutput> {
  const mesh = unpackMesh(packed);
  const lists = by === 'pieces' ? connected(mesh) : bySlot(mesh);
  if (lists.length > MOST)
    throw new PrismError(
      'solid-failed',
      `It falls into ${lists.length} pieces that do not touch; at most ${MOST} are made.`,
    );
  return {
    pieces: lists.map((triangles) => {
      const { mesh: piece, slots } = submesh(mesh, triangles);
      const blob = packMesh(piece);
      return { blob, figures: figuresOf(piece, blob.length), slots };
    }),
  };
}

/** Triangles that hang together, by corners that lie on one point. */
export function connected({ positions, indices }: Mesh): number[][] {
  const { min, max } = boundsOf(positions);
  const diagonal = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const { point } = snapPositions(positions, diagonal * SNAP_SHARE);
  // Disjoint sets with halved paths (Tarjan and van Leeuwen 1984).
  const parent = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  const rootOf = (vertex: number) => {
    let at = vertex;
    while (parent[at] !== at) at = parent[at] = parent[parent[at]];
    return at;
  };
  for (let i = 0; i < indices.length; i += 3) {
    const first = rootOf(point[indices[i]]);
    for (let k = 1; k < 3; k++) parent[rootOf(point[indices[i + k]])] = first;
  }
  const lists = new Map<number, number[]>();
  for (let triangle = 0; triangle < indices.length / 3; triangle++) {
    const root = rootOf(point[indices[triangle * 3]]);
    const list = lists.get(root);
    if (list) list.push(triangle);
    else lists.set(root, [triangle]);
  }
  return [...lists.values()];
}

function bySlot({ groups }: Mesh): number[][] {
  const lists = new Map<number, number[]>();
  for (const { slot, start, count } of [...groups].sort((a, b) => a.start - b.start)) {
    const list = lists.get(slot) ?? [];
    for (let i = start / 3; i < (start + count) / 3; i++) list.push(i);
    lists.set(slot, list);
  }
  return [...lists].sort(([a], [b]) => a - b).map(([, list]) => list);
}
