/** The prepared scene row by row, as plain data for other programs: where each stands, what it is made of, how large it is. */
import { unpackMesh } from '../mesh/mesh.ts';
import { transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { factsOf } from '../scene/facts.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import { emptyBox, geometryTransform, include } from '../scene/tree.ts';
import type { Box, NodeKind, Scene, SceneNode } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';

export interface TreeRow {
  /** Names from the top, parted by `/`; equal ones among siblings are told apart by `#2`, `#3` … */
  path: string;
  kind: NodeKind;
  name: string;
  layer: string | null;
  /** Name of the material of each slot of the mesh. */
  materials: string[];
  /** Place in the world: sixteen numbers, column-major, metres. */
  world: Matrix;
  /** The point that it is placed and turned by: world, metres. */
  pivot: [number, number, number];
  /** Extents in the world of it and everything below, metres; absent where nothing has geometry. */
  size?: [number, number, number];
  /** Drawn at and below it. */
  triangles: number;
  mesh?: string;
}

/** Parents before their children, in the order of the tree. */
export async function treeOf(scene: Scene, blobs: BlobStore): Promise<TreeRow[]> {
  const facts = factsOf(scene);
  const { nodes } = scene;
  const positions = new Map<string, Float32Array>();
  for (const mesh of facts.wordsIn('mesh')) positions.set(mesh, unpackMesh(await blobs.get(mesh)).positions);
  const boxes = boxesOf(scene, (mesh) => positions.get(mesh));
  const paths: string[] = [];
  const out: TreeRow[] = [];
  const visit = (row: number | null, above: string) => {
    const counts = new Map<string, number>();
    for (const child of facts.childrenOf(row)) {
      const name = nodes.text('name', child).replaceAll('/', '∕');
      const count = (counts.get(name) ?? 0) + 1;
      counts.set(name, count);
      paths[child] = `${above}/${name}${count > 1 ? `#${count}` : ''}`;
    }
  };
  visit(null, '');
  // A list of its own rather than calls in calls: a source may be a hundred thousand levels deep.
  const open = [...facts.childrenOf(null)].reverse();
  for (let row = open.pop(); row !== undefined; row = open.pop()) {
    visit(row, paths[row]);
    out.push(rowOf(scene, nodes.row(row), paths[row], boxes[row]));
    open.push(...[...facts.childrenOf(row)].reverse());
  }
  return out;
}

function rowOf(scene: Scene, node: SceneNode, path: string, box: Box | undefined): TreeRow {
  const facts = factsOf(scene);
  const world = facts.world(node.id);
  const slots = node.mesh ? scene.meshes[node.mesh].slots : [];
  return {
    path,
    kind: node.kind,
    name: node.name,
    layer: node.layer,
    materials: slots.map((_, slot) => scene.materials[materialOfSlot(node, slot)]?.name ?? 'none'),
    world,
    pivot: [world[12], world[13], world[14]],
    ...(box ? { size: box.max.map((high, axis) => high - box.min[axis]) as [number, number, number] } : {}),
    triangles: facts.triangles[node.id],
    ...(node.mesh ? { mesh: node.mesh } : {}),
  };
}

/** Boxes of all rows with what is below them, exact by their vertices: of parts first, then gathered upwards. */
function boxesOf(scene: Scene, positionsOf: (mesh: string) => Float32Array | undefined): (Box | undefined)[] {
  const facts = factsOf(scene);
  const { parent, mesh } = scene.nodes.columns;
  const out: (Box | undefined)[] = [];
  for (let i = facts.order.length - 1; i >= 0; i--) {
    const row = facts.order[i];
    if (mesh[row] > 0) {
      const node = scene.nodes.row(row);
      const positions = positionsOf(node.mesh as string) ?? new Float32Array();
      out[row] = joined(out[row], boxOf(positions, geometryTransform(node, facts.world(row))));
    }
    if (parent[row] >= 0) out[parent[row]] = joined(out[parent[row]], out[row]);
  }
  return out;
}

function boxOf(positions: Float32Array, place: Matrix): Box | undefined {
  const box = emptyBox();
  for (let i = 0; i < positions.length; i += 3)
    include(box, transformPoint(place, [positions[i], positions[i + 1], positions[i + 2]]));
  return positions.length > 0 ? box : undefined;
}

function joined(a: Box | undefined, b: Box | undefined): Box | undefined {
  if (!a || !b) return a ?? b;
  const of = (end: 'min' | 'max') =>
    a[end].map((value, axis) => Math[end](value, b[end][axis])) as unknown as [number, number, number];
  return { min: of('min'), max: of('max') };
}
