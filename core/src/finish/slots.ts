/** The slots of a scene's rows: how many there are, which of them show, and their triangles. */
import { coordinatesOf } from './library/given.ts';
import type { Coordinates } from './library/given.ts';
import type { NodeTable } from '../scene/nodes.ts';
import type { Scene } from '../scene/types.ts';

const NO_TRIANGLES: readonly number[] = [];

export class Slots {
  readonly nodes: NodeTable;
  /** Triangles by slot, by the number of the mesh. */
  readonly #triangles: (readonly number[])[] = [];
  /** Which slots show, by the number of the mesh, as a number that is the same for meshes that show the same; -1 while it was not asked for. */
  readonly #pattern: Int32Array;
  readonly #patterns = new Map<string, number>();

  constructor(readonly scene: Scene) {
    this.nodes = scene.nodes;
    this.#pattern = new Int32Array(scene.nodes.tables.words.length).fill(-1);
  }

  /** As many as materials are listed; a part without any has those of its mesh. */
  count(row: number): number {
    const { length } = this.nodes.tables.lists.get(this.nodes.columns.materials[row]);
    return length > 0 ? length : this.triangles(row).length;
  }

  /** False for a slot that no triangle has: a rule about its material finds nothing there. */
  isShown(row: number, slot: number): boolean {
    const triangles = this.triangles(row);
    return triangles.length === 0 || (triangles[slot] ?? 0) > 0;
  }

  /** Triangles by slot; none as long as there is no mesh. */
  triangles(row: number): readonly number[] {
    const mesh = this.nodes.columns.mesh[row];
    if (mesh === 0) return NO_TRIANGLES;
    return (this.#triangles[mesh] ??= this.scene.meshes[this.nodes.tables.words.get(mesh)]?.slots ?? NO_TRIANGLES);
  }

  /** How the texture coordinates of a row are. */
  coordinates(row: number): Coordinates {
    return coordinatesOf(this.scene, row);
  }

  /** A number that is the same for rows whose meshes show the same slots and have coordinates of the same kind. */
  pattern(row: number): number {
    const mesh = this.nodes.columns.mesh[row];
    const known = this.#pattern[mesh];
    if (known >= 0) return known;
    const coordinates = this.coordinates(row);
    const slots = this.triangles(row).map((count) => (count > 0 ? 1 : 0));
    const shown = `${coordinates} ${slots.join('')}`;
    const pattern = this.#patterns.get(shown) ?? this.#patterns.size;
    this.#patterns.set(shown, pattern);
    // Lengths on a mesh are others where it stands larger: that is asked of each row.
    if (!coordinates.startsWith('metres')) this.#pattern[mesh] = pattern;
    return pattern;
  }
}
