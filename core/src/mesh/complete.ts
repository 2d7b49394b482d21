/** Makes of what a reader found a mesh as the scene wants it: metres near its own origin, normals, feature edges, no unused vertices. */
import { featureEdges } from './edges.ts';
import type { Mesh } from './mesh.ts';
import { gather, withNormals } from './normals.ts';
import type { BareMesh } from './normals.ts';

/** Above this many triangles the feature edges would cost more memory than the mesh, and cover it with ink. */
const MAX_TRIANGLES_WITH_EDGES = 2_000_000;

/**
 * @param metres per unit of the positions
 * @param origin point that becomes the origin, unit of the positions
 * @returns undefined where nothing can be drawn
 */
export function completeMesh(made: BareMesh, metres: number, origin: readonly number[]): Mesh | undefined {
  const place = (values: Float32Array | Float64Array) => {
    const out = new Float32Array(values.length);
    for (let i = 0; i < values.length; i++) out[i] = (values[i] - origin[i % 3]) * metres;
    return out;
  };
  const lines = made.lines ? place(made.lines) : new Float32Array();
  if (made.positions.length === 0 && lines.length === 0) return undefined;
  const { indices, uvs, colours, smoothing } = made;
  const groups = made.groups.filter(({ count }) => count > 0);
  const placed = {
    positions: place(made.positions),
    indices,
    groups,
    ...(uvs ? { uvs } : {}),
    ...(colours ? { colours } : {}),
  };
  if (indices.length === 0) {
    const sound = soundPoints(placed.positions);
    if (sound.length === 0 && lines.length === 0) return undefined;
    return {
      positions: gather(placed.positions, 3, sound),
      normals: new Float32Array(sound.length * 3),
      indices,
      groups: [],
      edges: lines,
      ...(colours ? { colours: gather(colours, 4, sound) } : {}),
    };
  }
  const sound = soundTriangles(placed);
  if (sound.indices.length === 0 && lines.length === 0) return undefined;
  const mesh =
    made.normals?.length === placed.positions.length
      ? { ...withoutUnused({ ...sound, normals: unit(made.normals) }), edges: new Float32Array() }
      : withNormals({ ...sound, ...(smoothing && sound === placed ? { smoothing } : {}) });
  const features = indices.length / 3 <= MAX_TRIANGLES_WITH_EDGES ? featureEdges(mesh) : new Float32Array();
  if (lines.length === 0) return { ...mesh, edges: features };
  const edges = new Float32Array(features.length + lines.length);
  edges.set(features);
  edges.set(lines, features.length);
  return { ...mesh, edges };
}

/** Without triangles whose vertices are not there or lie nowhere. */
function soundTriangles<M extends Pick<Mesh, 'positions' | 'indices' | 'groups'>>(mesh: M): M {
  const { positions, indices, groups } = mesh;
  const count = positions.length / 3;
  const isSound = (i: number) => {
    const v = indices[i];
    return v < count && Number.isFinite(positions[v * 3] + positions[v * 3 + 1] + positions[v * 3 + 2]);
  };
  let first = 0;
  while (first < indices.length && isSound(first)) first++;
  if (first >= indices.length) return mesh;
  const kept: number[] = [];
  const newGroups = groups.map(({ slot, start, count: length }) => {
    const from = kept.length;
    for (let i = start; i + 2 < start + length; i += 3)
      if (isSound(i) && isSound(i + 1) && isSound(i + 2)) kept.push(indices[i], indices[i + 1], indices[i + 2]);
    return { slot, start: from, count: kept.length - from };
  });
  return { ...mesh, indices: Uint32Array.from(kept), groups: newGroups.filter((group) => group.count > 0) };
}

function soundPoints(positions: Float32Array): number[] {
  const out: number[] = [];
  for (let v = 0; v < positions.length / 3; v++)
    if (Number.isFinite(positions[v * 3] + positions[v * 3 + 1] + positions[v * 3 + 2])) out.push(v);
  return out;
}

/** Normals of length one; files round them, or leave zeros. */
function unit(normals: Float32Array): Float32Array {
  const out = normals.slice();
  for (let i = 0; i < out.length; i += 3) {
    const length = Math.sqrt(out[i] * out[i] + out[i + 1] * out[i + 1] + out[i + 2] * out[i + 2]);
    if (length > 0 && Number.isFinite(length)) {
      out[i] /= length;
      out[i + 1] /= length;
      out[i + 2] /= length;
    } else {
      out[i] = out[i + 2] = 0;
      out[i + 1] = 1;
    }
  }
  return out;
}

/** The mesh without vertices that no triangle uses: they would falsify its box. */
function withoutUnused(mesh: Omit<Mesh, 'edges'>): Omit<Mesh, 'edges'> {
  const count = mesh.positions.length / 3;
  const now = new Int32Array(count).fill(-1);
  const list = new Uint32Array(count);
  let used = 0;
  const indices = new Uint32Array(mesh.indices.length);
  for (let i = 0; i < indices.length; i++) {
    const vertex = mesh.indices[i];
    if (now[vertex] < 0) {
      list[used] = vertex;
      now[vertex] = used++;
    }
    indices[i] = now[vertex];
  }
  if (used === count) return mesh;
  const kept = list.subarray(0, used);
  return {
    ...mesh,
    indices,
    positions: gather(mesh.positions, 3, kept),
    normals: gather(mesh.normals, 3, kept),
    ...(mesh.uvs ? { uvs: mesh.uvs.map((set) => gather(set, 2, kept)) } : {}),
    ...(mesh.colours ? { colours: gather(mesh.colours, 4, kept) } : {}),
  };
}
