/**
 * Parts beside each other that show the same, as one node with a list of places: the extension EXT_mesh_gpu_instancing. What each of
 * them is called, and all else that is said of it, is data of that node.
 */
import type { Buffer, Document, Node } from '@gltf-transform/core';
import { factsOf } from '../../scene/facts.ts';
import { composed } from '../../scene/matrix.ts';
import { decomposed } from '../../scene/motion.ts';
import { PART } from '../../scene/nodes.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import { geometryKey } from '../assets.ts';

type Extensions = typeof import('@gltf-transform/extensions');

/** Places in lists are in single precision: a part that this would move farther than a hundredth of a millimetre stays a node, metres. */
const MOST_MOVED = 1e-5;
/** Of a turn and a scale; what is skewed has no such place. */
const MOST_TURNED = 1e-6;

/** What a list says of each of its parts. */
export interface Instance {
  name: string;
  /** Its number among the rows beside it, from 0. */
  at: number;
}

interface Listed {
  row: number;
  at: number;
  place: ReturnType<typeof decomposed>;
}

/** The first row of each list with all of its rows, and the rows that stand in the list of another. */
export function instanceLists(scene: Scene): { lists: Map<number, Listed[]>; others: Set<number> } {
  const facts = factsOf(scene);
  const lists = new Map<number, Listed[]>();
  const others = new Set<number>();
  for (const parent of [null, ...facts.order]) {
    const byLook = new Map<string, Listed[]>();
    for (const [at, row] of facts.childrenOf(parent).entries()) {
      const node = scene.nodes.row(row);
      const place = scene.nodes.columns.kind[row] === PART && isPlain(node) && facts.childrenOf(row).length === 0 ? placeOf(node) : undefined; // prettier-ignore
      if (!place) continue;
      const key = JSON.stringify([geometryKey(node), node.materials, node.variants ?? null]);
      const known = byLook.get(key);
      if (known) known.push({ row, at, place });
      else byLook.set(key, [{ row, at, place }]);
    }
    for (const list of byLook.values()) {
      if (list.length < 2) continue;
      lists.set(list[0].row, list);
      for (const { row } of list.slice(1)) others.add(row);
    }
  }
  return { lists, others };
}

const isPlain = ({ mesh, motion, camera, light }: SceneNode) => mesh && !motion && !camera && !light;

/** Move, turn and scale; undefined where these, or single precision, do not hold it. */
function placeOf({ transform }: SceneNode): Listed['place'] | undefined {
  const place = decomposed(transform);
  if (place.translation.some((value) => Math.abs(Math.fround(value) - value) > MOST_MOVED)) return undefined;
  const again = composed(place.translation, place.rotation, place.scale);
  const reach = Math.max(...place.scale.map(Math.abs));
  const isHeld = transform.every((value, i) => i >= 12 || Math.abs(value - again[i]) <= reach * MOST_TURNED);
  return isHeld ? place : undefined;
}

/** Makes a node into a list of places. */
export function putList(
  document: Document,
  extensions: Extensions,
  buffer: Buffer,
  node: Node,
  list: readonly Listed[],
): void {
  const instanced = document.createExtension(extensions.EXTMeshGPUInstancing).setRequired(true).createInstancedMesh();
  for (const [semantic, path, type, usual] of ATTRIBUTES) {
    const values = list.flatMap(({ place }) => place[path]);
    if (semantic !== 'TRANSLATION' && values.every((value, i) => value === usual[i % usual.length])) continue;
    const accessor = document.createAccessor().setArray(Float32Array.from(values)).setType(type).setBuffer(buffer);
    instanced.setAttribute(semantic, accessor);
  }
  node.setExtension('EXT_mesh_gpu_instancing', instanced);
}

const ATTRIBUTES = [
  ['TRANSLATION', 'translation', 'VEC3', [0, 0, 0]],
  ['ROTATION', 'rotation', 'VEC4', [0, 0, 0, 1]],
  ['SCALE', 'scale', 'VEC3', [1, 1, 1]],
] as const;
