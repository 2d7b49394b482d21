/** Refuses a glTF file whose counts lie or whose tree is none, before the library sees it. */
import type { JSONDocument } from '@gltf-transform/core';
import type { PrismError } from '../../errors.ts';

/** Most numbers in all accessors together: a file that states more is not sound. */
const MAX_NUMBERS = 1_500_000_000;
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };

/** Lists of the file (glTF 2.0, 5.17), and what each of their entries has to have a list of. */
const LISTS: Record<string, string | undefined> = {
  accessors: undefined, animations: 'channels', buffers: undefined, bufferViews: undefined, cameras: undefined, images: undefined,
  materials: undefined, meshes: 'primitives', nodes: undefined, samplers: undefined, scenes: undefined, skins: 'joints', textures: undefined,
}; // prettier-ignore

/** Names the first list that is none. */
function checkLists(json: JSONDocument['json'], bad: (why: string) => PrismError): void {
  for (const [name, inner] of Object.entries(LISTS)) {
    const list = (json as unknown as Record<string, unknown>)[name];
    if (list === undefined) continue;
    if (!Array.isArray(list)) throw bad(`its ${name} are no list. Ask for it again.`);
    for (const [i, entry] of (list as unknown[]).entries()) {
      if (typeof entry !== 'object' || entry === null)
        throw bad(`entry ${i} of its ${name} holds nothing. Ask for it again.`);
      if (inner && !Array.isArray((entry as Record<string, unknown>)[inner]))
        throw bad(`entry ${i} of its ${name} has no list of ${inner}. Ask for it again.`);
    }
  }
}

/** Refuses what would make the library run for ever or take all memory, before it sees the file. */
export function check({ json, resources }: JSONDocument, bad: (why: string) => PrismError): void {
  if (!/^2\./.test(String(json.asset?.version ?? '2.0')))
    throw bad(`it is glTF ${json.asset.version}. Ask for version 2.0.`);
  checkLists(json, bad);
  const buffers = Object.values(resources).reduce((sum, bytes) => sum + bytes.length, 0);
  let numbers = 0;
  for (const [i, accessor] of (json.accessors ?? []).entries()) {
    const size = (COMPONENTS[accessor.type] ?? 1) * accessor.count;
    if (!Number.isSafeInteger(accessor.count) || accessor.count < 0) throw bad(`accessor ${i} has no sound count.`);
    numbers += size;
    const view = accessor.bufferView === undefined ? undefined : json.bufferViews?.[accessor.bufferView];
    const bytes = size * (BYTES[accessor.componentType] ?? 1);
    const isPacked = view?.extensions?.EXT_meshopt_compression !== undefined;
    if (view && !isPacked && bytes > view.byteLength + 4 && !view.byteStride)
      throw bad(`accessor ${i} states ${accessor.count} values and its buffer is shorter.`);
  }
  if (numbers > MAX_NUMBERS || (buffers > 0 && numbers > 1e7 && numbers > buffers * 400))
    throw bad(`it states ${numbers} numbers: more than can be taken.`);
  const nodes = json.nodes ?? [];
  const parents = new Int32Array(nodes.length).fill(-1);
  for (const [i, node] of nodes.entries()) {
    for (const child of node.children ?? []) {
      if (!(child in nodes)) throw bad(`node ${i} has a child ${child} that is not there.`);
      if (parents[child] >= 0) throw bad(`node ${child} hangs under two others.`);
      parents[child] = i;
    }
  }
  for (let i = 0; i < nodes.length; i++) {
    let steps = 0;
    for (let up = i; up >= 0; up = parents[up])
      if (++steps > 5000) throw bad(`node ${i} contains itself, or nests deeper than 5000.`);
  }
}
