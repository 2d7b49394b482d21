/** A part of a mesh as a mesh of its own: some of its triangles, with the vertices and feature edges that they need. */
import { featureEdges } from './edges.ts';
import type { Mesh, MeshGroup } from './mesh.ts';
import { gather } from './normals.ts';

export interface Submesh {
  mesh: Mesh;
  /** Slot of the whole for each slot of the part. */
  slots: number[];
}

/** @param triangles numbers of those to be taken, rising */
export function submesh(whole: Mesh, triangles: readonly number[]): Submesh {
  const { positions, normals, indices, groups, uvs, colours, trueSize } = whole;
  const number = new Int32Array(positions.length / 3).fill(-1);
  const vertices: number[] = [];
  const bySlot = new Map<number, number[]>();
  let group = 0;
  const sorted = [...groups].sort((a, b) => a.start - b.start);
  for (const triangle of triangles) {
    while (group + 1 < sorted.length && triangle * 3 >= sorted[group].start + sorted[group].count) group++;
    const slot = sorted[group]?.slot ?? 0;
    let list = bySlot.get(slot);
    if (!list) bySlot.set(slot, (list = []));
    for (let i = triangle * 3; i < triangle * 3 + 3; i++) {
      const vertex = indices[i];
      if (number[vertex] < 0) number[vertex] = vertices.push(vertex) - 1;
      list.push(number[vertex]);
    }
  }
  const slots = [...bySlot.keys()].sort((a, b) => a - b);
  const made = new Uint32Array(triangles.length * 3);
  const parts: MeshGroup[] = [];
  let at = 0;
  slots.forEach((slot, i) => {
    const list = bySlot.get(slot) ?? [];
    made.set(list, at);
    parts.push({ slot: i, start: at, count: list.length });
    at += list.length;
  });
  const bare = { positions: gather(positions, 3, vertices), indices: made, groups: parts };
  const mesh: Mesh = {
    ...bare,
    normals: gather(normals, 3, vertices),
    edges: edgesOf(whole, bare),
    ...(uvs ? { uvs: uvs.map((set) => gather(set, 2, vertices)) } : {}),
    ...(trueSize ? { trueSize } : {}),
    ...(colours ? { colours: gather(colours, 4, vertices) } : {}),
  };
  return { mesh, slots };
}

/** The feature edges of the whole that lie on the part: those whose ends are corners of it. Found anew where none is. */
function edgesOf({ edges }: Mesh, part: Pick<Mesh, 'positions' | 'indices' | 'groups'>): Float32Array {
  if (edges.length === 0) return new Float32Array();
  const { positions } = part;
  const corners = new Set<string>();
  for (let i = 0; i < positions.length; i += 3) corners.add(`${positions[i]} ${positions[i + 1]} ${positions[i + 2]}`);
  const isThere = (i: number) => corners.has(`${edges[i]} ${edges[i + 1]} ${edges[i + 2]}`);
  const out: number[] = [];
  for (let i = 0; i + 5 < edges.length; i += 6)
    if (isThere(i) && isThere(i + 3)) for (let k = i; k < i + 6; k++) out.push(edges[k]);
  return out.length > 0 ? Float32Array.from(out) : featureEdges(part);
}
