/** Meshes of glTF: primitives of triangles with a slot each, lines, points. */
import type { Accessor, Primitive } from '@gltf-transform/core';
import type { MeshGroup } from '../../mesh/mesh.ts';
import type { BareMesh } from '../../mesh/normals.ts';

/** All primitives of triangles as one mesh, a slot each; primitives that share their vertices go on sharing them. */
export function meshOf(faces: Primitive[], lines: Primitive[]): BareMesh {
  const bases = new Map<string, { base: number; primitive: Primitive; count: number }>();
  const ids = new Map<Accessor, number>();
  const idOf = (accessor: Accessor | null) =>
    accessor ? (ids.get(accessor) ?? (ids.set(accessor, ids.size), ids.size - 1)) : -1;
  let vertices = 0;
  const baseOf = faces.map((primitive) => {
    const key = primitive
      .listSemantics()
      .map((semantic) => `${semantic}${idOf(primitive.getAttribute(semantic))}`)
      .join();
    let entry = bases.get(key);
    if (!entry) {
      const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
      entry = { base: vertices, primitive, count };
      bases.set(key, entry);
      vertices += count;
    }
    return entry;
  });
  const has = (semantic: string) => faces.some((primitive) => primitive.getAttribute(semantic));
  const all = (semantic: string) => faces.length > 0 && faces.every((primitive) => primitive.getAttribute(semantic));
  const fill = (semantic: string, size: number, empty: number) => {
    // Nearly all meshes have one primitive: its numbers are taken as they are.
    const only = bases.size === 1 ? faces[0].getAttribute(semantic)?.getArray() : undefined;
    if (only instanceof Float32Array && only.length === vertices * size) return only;
    const out = new Float32Array(vertices * size).fill(empty);
    for (const { base, primitive, count } of bases.values()) {
      const accessor = primitive.getAttribute(semantic);
      if (accessor) copy(accessor, out, base * size, Math.min(count, accessor.getCount()), size);
    }
    return out;
  };
  const groups: MeshGroup[] = [];
  const lists = faces.map((primitive, slot) => {
    const list = trianglesOf(primitive, baseOf[slot].base);
    groups.push({ slot, start: groups.reduce((sum, group) => sum + group.count, 0), count: list.length });
    return list;
  });
  const indices = lists.length === 1 ? lists[0] : new Uint32Array(lists.reduce((sum, list) => sum + list.length, 0));
  if (lists.length !== 1) lists.forEach((list, i) => indices.set(list, groups[i].start));
  const sets = [0, 1, 2, 3].filter((set) => has(`TEXCOORD_${set}`)).length;
  return {
    positions: fill('POSITION', 3, 0),
    indices,
    groups,
    ...(all('NORMAL') ? { normals: fill('NORMAL', 3, 0) } : {}),
    ...(sets > 0 ? { uvs: Array.from({ length: sets }, (_, set) => fill(`TEXCOORD_${set}`, 2, 0)) } : {}),
    ...(has('COLOR_0') ? { colours: fill('COLOR_0', 4, 1) } : {}),
    ...(lines.length > 0 ? { lines: linesOf(lines) } : {}),
  };
}

function copy(accessor: Accessor, out: Float32Array, at: number, count: number, size: number): void {
  const array = accessor.getArray();
  const own = accessor.getElementSize();
  if (array instanceof Float32Array && own === size) {
    out.set(array.subarray(0, count * size), at);
    return;
  }
  const element: number[] = [];
  for (let i = 0; i < count; i++) {
    accessor.getElement(i, element);
    for (let k = 0; k < Math.min(own, size); k++) out[at + i * size + k] = element[k];
  }
}

/** Corners three by three, whatever the primitive hangs them together as. */
function trianglesOf(primitive: Primitive, base: number): Uint32Array {
  const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const array = primitive.getIndices()?.getArray();
  const at = array ? (i: number) => array[i] : (i: number) => i;
  const length = array ? array.length : count;
  const mode = primitive.getMode();
  if (mode === 4) {
    if (array instanceof Uint32Array && base === 0 && length % 3 === 0) return array;
    const out = new Uint32Array(Math.floor(length / 3) * 3);
    if (array) out.set(array.length === out.length ? array : array.subarray(0, out.length));
    else for (let i = 0; i < out.length; i++) out[i] = i;
    if (base > 0) for (let i = 0; i < out.length; i++) out[i] += base;
    return out;
  }
  const out = new Uint32Array(Math.max(0, length - 2) * 3);
  for (let i = 0; i + 2 < length; i++) {
    const corners =
      mode === 6
        ? [at(0), at(i + 1), at(i + 2)]
        : i % 2
          ? [at(i + 1), at(i), at(i + 2)]
          : [at(i), at(i + 1), at(i + 2)];
    out.set(
      corners.map((corner) => base + corner),
      i * 3,
    );
  }
  return out;
}

function linesOf(primitives: Primitive[]): Float32Array {
  const out: number[] = [];
  for (const primitive of primitives) {
    const accessor = primitive.getAttribute('POSITION');
    const array = primitive.getIndices()?.getArray();
    const length = array?.length ?? accessor?.getCount() ?? 0;
    const at = (i: number) => accessor?.getElement(array ? array[i % length] : i % length, []) ?? [];
    const mode = primitive.getMode();
    const step = mode === 1 ? 2 : 1;
    for (let i = 0; i < (mode === 2 ? length : length - 1); i += step)
      out.push(...at(i).slice(0, 3), ...at(i + 1).slice(0, 3));
  }
  return Float32Array.from(out);
}

export function cloudOf(primitives: Primitive[]): BareMesh {
  const count = primitives.reduce((sum, primitive) => sum + (primitive.getAttribute('POSITION')?.getCount() ?? 0), 0);
  const positions = new Float32Array(count * 3);
  const colours = primitives.some((primitive) => primitive.getAttribute('COLOR_0'))
    ? new Float32Array(count * 4).fill(1)
    : undefined;
  let at = 0;
  for (const primitive of primitives) {
    const position = primitive.getAttribute('POSITION');
    if (!position) continue;
    copy(position, positions, at * 3, position.getCount(), 3);
    const colour = primitive.getAttribute('COLOR_0');
    if (colour && colours) copy(colour, colours, at * 4, Math.min(colour.getCount(), position.getCount()), 4);
    at += position.getCount();
  }
  return { positions, indices: new Uint32Array(), groups: [], ...(colours ? { colours } : {}) };
}
