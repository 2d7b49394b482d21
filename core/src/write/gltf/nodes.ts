/**
 * The rows of a scene as nodes of glTF. The library keeps a graph of all that it writes, which at a hundred thousand nodes is most of the
 * work: only what it has to link (movements, cameras, lights, lists of places) is a node of its, all else of a node is written here.
 */
import type { Document, GLTF, Mesh, Node } from '@gltf-transform/core';
import { isIdentity } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { decomposed } from '../../scene/motion.ts';

export interface NodeText {
  name: string;
  extras: Record<string, unknown>;
  transform?: Matrix;
  mesh?: Mesh;
  /** What the library has to link it with. */
  linked?: Node;
}

interface Entry {
  text: GLTF.INode;
  mesh?: Mesh | undefined;
  linked?: Node | undefined;
}

export class GltfNodes {
  readonly #entries: Entry[] = [];
  readonly #numbers = new Map<number, number>();
  readonly #roots: number[] = [];

  /** @param row of the scene; those above it come first */
  add(row: number, above: number | null, { name, extras, transform, mesh, linked }: NodeText): void {
    const number = this.#entries.length;
    const text: GLTF.INode = { name, ...(transform ? placeOf(transform) : {}), extras };
    this.#entries.push({ text, mesh, linked });
    this.#numbers.set(row, number);
    const parent = above === null ? undefined : this.#numbers.get(above);
    if (parent === undefined) this.#roots.push(number);
    else (this.#entries[parent].text.children ??= []).push(number);
  }

  /** Enters them into what the library made of the document, in place of those that it links. */
  put(document: Document, json: GLTF.IGLTF): void {
    const root = document.getRoot();
    const meshes = new Map(root.listMeshes().map((mesh, i) => [mesh, i]));
    const linked = new Map(root.listNodes().map((node, i) => [node, i]));
    const numbers: number[] = [];
    const made = json.nodes ?? [];
    json.nodes = this.#entries.map(({ text, mesh, linked: node }, number) => {
      const entry = { ...text, ...(mesh ? { mesh: meshes.get(mesh) as number } : {}) };
      const i = node && linked.get(node);
      if (i === undefined) return entry;
      numbers[i] = number;
      return { ...made[i], ...entry };
    });
    for (const { channels } of json.animations ?? [])
      for (const { target } of channels) if (target.node !== undefined) target.node = numbers[target.node];
    if (this.#entries.length === 0) delete json.nodes;
    for (const scene of json.scenes ?? []) if (this.#roots.length > 0) scene.nodes = this.#roots;
  }
}

/** Move, turn and scale, where they are any. */
function placeOf(transform: Matrix): Pick<GLTF.INode, 'translation' | 'rotation' | 'scale'> {
  if (isIdentity(transform, 0)) return {};
  const { translation, rotation, scale } = decomposed(transform);
  return {
    ...(translation.some((value) => value !== 0) ? { translation } : {}),
    ...(rotation.slice(0, 3).some((value) => value !== 0) ? { rotation } : {}),
    ...(scale.some((value) => value !== 1) ? { scale } : {}),
  } as Pick<GLTF.INode, 'translation' | 'rotation' | 'scale'>;
}
