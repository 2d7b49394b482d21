/** The pieces of a mesh that do not touch, each in slots of its own: one mesh still, of which each piece can have its own material. */
import { PrismError } from '../errors.ts';
import type { MeshFigures } from '../scene/types.ts';
import { figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { slotOfTriangles, sortedBySlot } from './slots.ts';
import { connected } from './split.ts';

export interface PiecesInput {
  /** Packed mesh. */
  mesh: Uint8Array;
}

export interface PiecesOutput {
  blob: Uint8Array;
  figures: MeshFigures;
  /** Slot that there was, and the piece, of each slot; pieces in the order of their first triangle. */
  slots: { from: number; piece: number }[];
}

/** Pieces of one mesh at most: each is drawn by itself. */
const MOST = 500;

/** @throws PrismError `solid-failed` where it falls into too many pieces */
export async function pieces({ mesh: packed }: PiecesInput): Promise<PiecesOutput> {
  const { mesh, slots } = pieced(unpackMesh(packed));
  const blob = packMesh(mesh);
  return { blob, figures: figuresOf(mesh, blob.length), slots };
}

export function pieced(mesh: Mesh): { mesh: Mesh; slots: PiecesOutput['slots'] } {
  const lists = connected(mesh);
  if (lists.length > MOST)
    throw new PrismError('solid-failed', `It falls into ${lists.length} pieces that do not touch; at most ${MOST} get materials of their own.`); // prettier-ignore
  const from = slotOfTriangles(mesh);
  const numbers = new Map<string, number>();
  const slots: PiecesOutput['slots'] = [];
  const slotOf = new Int32Array(from.length);
  for (const [piece, triangles] of lists.entries())
    for (const triangle of triangles) {
      const key = `${piece} ${from[triangle]}`;
      let slot = numbers.get(key);
      if (slot === undefined) numbers.set(key, (slot = slots.push({ from: from[triangle], piece }) - 1));
      slotOf[triangle] = slot;
    }
  return { mesh: { ...mesh, ...sortedBySlot(mesh, slotOf, slots.length) }, slots };
}
