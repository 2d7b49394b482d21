/**
 * The sets of texture coordinates of each geometry. How a picture lies has no place in the format, so it is written into the coordinates:
 * what lies in one way on a set takes its place, which readers of one set alone understand too; what lies otherwise has a further set.
 */
import type { SceneNode, TextureUse } from '../../scene/types.ts';
import { isPlacing, placedUvs } from '../placedUvs.ts';

/** Uses of pictures by material. */
export type UsesOf = (material: string) => readonly TextureUse[];

const keyOf = ({ uv, offset = [0, 0], scale = [1, 1], rotation = 0 }: TextureUse) => [uv, ...offset, ...scale, rotation].join(' '); // prettier-ignore

export class ColladaSets {
  /** By geometry: how pictures lie, each once, in the order in which they are met. */
  readonly #uses = new Map<string, Map<string, TextureUse>>();

  /** @param geometryOf key of the geometry of a row */
  constructor(nodes: readonly SceneNode[], geometryOf: (node: SceneNode) => string, usesOf: UsesOf) {
    for (const node of nodes) {
      if (!node.mesh) continue;
      for (const id of node.materials)
        for (const use of usesOf(id)) {
          const key = geometryOf(node);
          let known = this.#uses.get(key);
          if (!known) this.#uses.set(key, (known = new Map()));
          if (!known.has(keyOf(use))) known.set(keyOf(use), use);
        }
    }
  }

  /** The sets as they are written. @param uvs as the mesh has them */
  written(geometry: string, uvs: readonly Float32Array[]): Float32Array[] {
    const out = [...uvs];
    for (const [key, set] of this.#numbers(geometry, uvs.length)) {
      const use = this.#uses.get(geometry)!.get(key)!;
      out[set] = isPlacing(use) ? placedUvs(uvs[use.uv], use) : uvs[use.uv];
    }
    return out;
  }

  /** The set that a picture lies on. @param count of sets of the mesh */
  setOf(geometry: string, use: TextureUse, count: number): number {
    return this.#numbers(geometry, count).get(keyOf(use)) ?? use.uv;
  }

  #numbers(geometry: string, count: number): Map<string, number> {
    const numbers = new Map<string, number>();
    const taken = new Set<number>();
    let next = count;
    for (const [key, { uv }] of this.#uses.get(geometry) ?? []) {
      if (uv >= count) continue;
      numbers.set(key, taken.has(uv) ? next++ : uv);
      taken.add(uv);
    }
    return numbers;
  }
}
