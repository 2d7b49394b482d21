/**
 * The nodes of a glTF file, read from its text: the library makes an object with listeners of each, which takes ten times as long and
 * five times the memory at 100,000 nodes. It gets those alone that something of its own refers to.
 */
import type { GLTF, JSONDocument } from '@gltf-transform/core';
import { composed } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';

type Json = JSONDocument['json'];

export interface Tree {
  nodes: readonly GLTF.INode[];
  /** Numbers of the nodes that hang under none, of the scene that the file opens with. */
  roots: readonly number[];
  /** Scenes of the file. */
  scenes: number;
  /** Numbers of the nodes that the library reads too, in its order. */
  known: readonly number[];
}

/** Takes the tree out of a file: what is left in it for the library are the nodes of movements, skins and lists of places. */
export function takeTree(json: Json): Tree {
  const { nodes = [], scenes = [] } = json;
  const listed: unknown = scenes[json.scene ?? 0]?.nodes;
  const roots = Array.isArray(listed) ? [...new Set(listed as number[])].filter((i) => i in nodes) : rootsOf(nodes);
  const wanted = new Set<number>();
  for (const { channels } of json.animations ?? [])
    for (const { target } of channels) if (target?.node !== undefined) wanted.add(target.node);
  for (const { joints, skeleton } of json.skins ?? [])
    for (const joint of [...joints, skeleton]) if (joint !== undefined) wanted.add(joint);
  nodes.forEach((node, i) => {
    if (node.extensions?.EXT_mesh_gpu_instancing) wanted.add(i);
  });
  const known = [...wanted].filter((i) => i in nodes);
  const numbers = new Map(known.map((node, number) => [node, number]));
  json.nodes = known.map((i) => {
    const list = nodes[i].extensions?.EXT_mesh_gpu_instancing;
    return list ? { extensions: { EXT_mesh_gpu_instancing: list } } : {};
  });
  delete json.scenes;
  delete json.scene;
  // What refers to a node that is not there moves nothing.
  const renumber = (node: number | undefined) => (node === undefined ? undefined : numbers.get(node));
  for (const animation of json.animations ?? [])
    animation.channels = animation.channels.flatMap((channel) => {
      const node = renumber(channel.target?.node);
      return node === undefined ? [] : [{ ...channel, target: { ...channel.target, node } }];
    });
  for (const skin of json.skins ?? []) {
    skin.joints = skin.joints.flatMap((joint) => renumber(joint) ?? []);
    skin.skeleton = renumber(skin.skeleton);
  }
  return { nodes, roots, known, scenes: scenes.length };
}

/** Nodes that are nobody's children. */
function rootsOf(nodes: readonly GLTF.INode[]): number[] {
  const isChild = new Uint8Array(nodes.length);
  for (const { children } of nodes) for (const child of children ?? []) isChild[child] = 1;
  return [...nodes.keys()].filter((i) => isChild[i] === 0);
}

/** Place of a node: its matrix, or what its move, turn and scale come to (glTF 2.0, 3.5.3). */
export function placeOf({ matrix, translation, rotation, scale }: GLTF.INode): Matrix {
  if (isNumbers(matrix, 16)) return matrix;
  if (rotation === undefined && scale === undefined && isNumbers(translation, 3))
    return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, translation[0], translation[1], translation[2], 1];
  return composed(
    isNumbers(translation, 3) ? translation : NO_MOVE,
    isNumbers(rotation, 4) ? rotation : NO_TURN,
    isNumbers(scale, 3) ? scale : NO_SCALE,
  );
}

const NO_MOVE = [0, 0, 0];
const NO_TURN = [0, 0, 0, 1];
const NO_SCALE = [1, 1, 1];

const isNumbers = (value: unknown, count: number): value is number[] =>
  Array.isArray(value) && value.length === count && value.every(Number.isFinite);
