/** Scenes for tests: parts with meshes that are really in a blob store. */
import { MemoryBlobs } from '../memoryStores.ts';
import { figuresOf, packMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { IDENTITY } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import { NodeTable } from '../scene/nodes.ts';
import { NodeWriter } from '../scene/nodeWriter.ts';
import type { NewRow } from '../scene/nodeWriter.ts';
import type { Scene } from '../scene/types.ts';

export interface PartSpec {
  name: string;
  mesh?: Mesh;
  layer?: string;
  class?: string;
  properties?: Record<string, string>;
  materials?: string[];
  transform?: Matrix;
  children?: PartSpec[];
}

/** Builds a scene from a tree of specifications; colours used as materials are entered. */
export async function sceneWith(
  tree: PartSpec[],
  blobs = new MemoryBlobs(),
): Promise<{ scene: Scene; blobs: MemoryBlobs }> {
  const scene: Scene = {
    sources: [
      {
        id: 's',
        name: 'test.stp',
        format: 'STEP',
        schema: 'AP214',
        producer: '',
        unit: { name: 'mm', metres: 0.001, declared: true },
        units: ['mm'],
        upAxis: { axis: 'z', by: 'convention' },
        up: 'z',
        bytes: 1,
        warnings: [],
      },
    ],
    nodes: NodeTable.EMPTY,
    meshes: {},
    solids: {},
    materials: { none: NO_MATERIAL },
    textures: {},
    layers: [],
    animations: {},
  };
  const rows = new NodeWriter('s');
  const add = async (spec: PartSpec, parent: number | null): Promise<void> => {
    const node: NewRow & { materials: string[] } = {
      parent,
      name: spec.name,
      kind: spec.children ? 'assembly' : 'part',
      transform: spec.transform ?? IDENTITY,
      materials: spec.materials ?? (spec.mesh ? ['none'] : []),
      layer: spec.layer ?? null,
      ...(spec.class ? { class: spec.class } : {}),
      ...(spec.properties ? { properties: spec.properties } : {}),
    };
    for (const id of node.materials) scene.materials[id] ??= { ...NO_MATERIAL, id, name: `Colour ${id}` };
    if (spec.layer && !scene.layers.some((layer) => layer.name === spec.layer))
      scene.layers.push({ name: spec.layer, source: 's' });
    if (spec.mesh) {
      const blob = packMesh(spec.mesh);
      node.mesh = await blobs.put(blob);
      scene.meshes[node.mesh] = figuresOf(spec.mesh, blob.length);
    }
    const id = rows.add(node);
    for (const child of spec.children ?? []) await add(child, id);
  };
  for (const spec of tree) await add(spec, null);
  scene.nodes = rows.table();
  return { scene, blobs };
}
