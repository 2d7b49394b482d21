/** Finds the part under the pointer: spheres around the parts first, then the search tree of each mesh, nearest first. */
import { DoubleSide, Matrix4, Ray, Vector3 } from 'three';
import type { Intersection } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import { GONE } from '@noble-prism/core/scene/nodes';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { geometryTransform } from '@noble-prism/core/scene/tree';
import type { GeometryStore, ViewGeometry } from './geometry.ts';

export interface Hit {
  node: SceneNode;
  /** World, metres. */
  point: Vector3;
  mesh: string;
  /** Place of the geometry in the world. */
  world: Matrix4;
  /** The triangle that was hit, its normal and the point in the frame of the geometry. */
  triangle: number;
  normal: Vector3;
  local: Vector3;
}

/** Where a ray meets a mesh. */
interface Met {
  /** World. */
  point: Vector3;
  triangle: number;
  normal: Vector3;
  local: Vector3;
}

/** Parts that stand one after the other in the tree, and mostly near each other: looked at only where the ray meets all of them. */
const BLOCK = 32;

/** Parts that can be picked: centre and square of the radius of the sphere around each, and its geometry. */
interface Around {
  rows: readonly number[];
  spheres: Float64Array;
  /** The same around each block of them. */
  blocks: Float64Array;
  geometries: readonly ViewGeometry[];
  /** Geometries that were there when these were made. */
  arrivals: number;
}

export class Picker {
  #scene: Scene = EMPTY_SCENE;
  #rows: RowSet = NO_ROWS;
  #worlds: Float64Array = new Float64Array();
  #around: Around | undefined;

  /** @param isDrawn false for points of the world that are cut away */
  constructor(
    readonly geometry: GeometryStore,
    readonly isDrawn: (point: Vector3) => boolean = () => true,
  ) {}

  get scene(): Scene {
    return this.#scene;
  }

  /** Nothing is made of these before somebody picks. */
  setParts(scene: Scene, rows: RowSet, worlds: Float64Array): void {
    this.#scene = scene;
    this.#rows = rows;
    this.#worlds = worlds;
    this.#around = undefined;
  }

  /** Parts whose sphere the ray goes through, nearest first, with the distance at which it enters. */
  #candidates({ origin, direction }: Ray): { row: number; geometry: ViewGeometry; distance: number }[] {
    // What has arrived since can be picked too.
    if (this.#around?.arrivals !== this.geometry.arrivals) this.#around = undefined;
    const { rows, spheres, blocks, geometries } = (this.#around ??= this.#spheresOfAll());
    const out: { row: number; geometry: ViewGeometry; distance: number }[] = [];
    for (let block = 0; block * BLOCK < rows.length; block++) {
      if (entered(blocks, block * 4, origin, direction) === undefined) continue;
      for (let i = block * BLOCK; i < rows.length && i < (block + 1) * BLOCK; i++) {
        const distance = entered(spheres, i * 4, origin, direction);
        if (distance !== undefined) out.push({ row: rows[i], geometry: geometries[i], distance });
      }
    }
    return out.sort((a, b) => a.distance - b.distance);
  }

  /** Spheres around all parts that can be picked, in the world: made once for many looks. */
  #spheresOfAll(): Around {
    const { nodes } = this.#scene;
    const { mesh, kind } = nodes.columns;
    const known: (ViewGeometry | null)[] = [];
    const rows: number[] = [];
    const spheres: number[] = [];
    const geometries: ViewGeometry[] = [];
    for (let row = 0; row < nodes.rows; row++) {
      const word = mesh[row];
      if (word === 0 || kind[row] === GONE || !this.#rows.has(row)) continue;
      const geometry = (known[word] ??= this.geometry.get(nodes.tables.words.get(word)) ?? null);
      const sphere = geometry?.surface.boundingSphere;
      if (!geometry || !sphere) continue;
      const w = this.#worlds;
      const at = row * STRIDE;
      const { values: v, at: o } = nodes.tables.places.locate(nodes.columns.offset[row]);
      const { x: sx, y: sy, z: sz } = sphere.center;
      const x = v[o] * sx + v[o + 3] * sy + v[o + 6] * sz + v[o + 9];
      const y = v[o + 1] * sx + v[o + 4] * sy + v[o + 7] * sz + v[o + 10];
      const z = v[o + 2] * sx + v[o + 5] * sy + v[o + 8] * sz + v[o + 11];
      // No length grows by more than the root of the sum of all squares.
      let squares = 0;
      for (let i = 0; i < 9; i++) squares += w[at + i] * w[at + i];
      spheres.push(
        w[at] * x + w[at + 3] * y + w[at + 6] * z + w[at + 9],
        w[at + 1] * x + w[at + 4] * y + w[at + 7] * z + w[at + 10],
        w[at + 2] * x + w[at + 5] * y + w[at + 8] * z + w[at + 11],
        sphere.radius * sphere.radius * squares,
      );
      rows.push(row);
      geometries.push(geometry);
    }
    const own = Float64Array.from(spheres);
    return { rows, spheres: own, blocks: blocksOf(own), geometries, arrivals: this.geometry.arrivals };
  }

  /** The nearest part along a world ray, and where it was hit, metres. */
  pick(ray: Ray): Hit | undefined {
    let best: Hit | undefined;
    let nearest = Infinity;
    const local = new Ray();
    const matrix = new Matrix4();
    for (const { row, geometry, distance } of this.#candidates(ray)) {
      // Spheres that begin behind the nearest hit can hold nothing nearer.
      if (distance > nearest) break;
      if (!geometry.tree) continue;
      const node = this.#scene.nodes.row(row);
      matrix.fromArray(geometryTransform(node, matrixAt(this.#worlds, row * STRIDE)));
      local.copy(ray).applyMatrix4(matrix.clone().invert());
      const met = this.#firstDrawn(geometry.tree, local, matrix);
      const away = met?.point.distanceTo(ray.origin) ?? Infinity;
      if (!met || away >= nearest) continue;
      nearest = away;
      best = { node, ...met, mesh: node.mesh ?? '', world: matrix.clone() };
    }
    return best;
  }

  /** Rows that a ray meets before it meets one of those that are wanted; none where it meets none of them. */
  inFrontOf(wanted: RowSet, ray: Ray): number[] {
    const met: { row: number; away: number }[] = [];
    let goal = Infinity;
    const local = new Ray();
    const matrix = new Matrix4();
    for (const { row, geometry, distance } of this.#candidates(ray)) {
      if (distance > goal) break;
      if (!geometry.tree) continue;
      matrix.fromArray(geometryTransform(this.#scene.nodes.row(row), matrixAt(this.#worlds, row * STRIDE)));
      local.copy(ray).applyMatrix4(matrix.clone().invert());
      const away = this.#firstDrawn(geometry.tree, local, matrix)?.point.distanceTo(ray.origin);
      if (away === undefined) continue;
      if (wanted.has(row)) goal = Math.min(goal, away);
      else met.push({ row, away });
    }
    return goal === Infinity ? [] : met.filter(({ away }) => away < goal).map(({ row }) => row);
  }

  /** Where a ray first meets what is drawn of a mesh, world; what is cut away in front of it is passed over. */
  #firstDrawn(tree: MeshBVH, local: Ray, matrix: Matrix4): Met | undefined {
    const metAt = ({ point, faceIndex, face }: Intersection): Met => ({
      point: point.clone().applyMatrix4(matrix),
      local: point.clone(),
      triangle: faceIndex ?? 0,
      normal: face?.normal.clone() ?? new Vector3(),
    });
    const found = tree.raycastFirst(local, DoubleSide);
    const first = found && metAt(found);
    if (!first || this.isDrawn(first.point)) return first ?? undefined;
    return tree
      .raycast(local, DoubleSide)
      .sort((a, b) => a.distance - b.distance)
      .map(metAt)
      .find(({ point }) => this.isDrawn(point));
  }
}

/** Distance at which a ray enters a sphere, of which it begins at most inside; undefined where it passes by. */
function entered(spheres: Float64Array, at: number, origin: Vector3, direction: Vector3): number | undefined {
  const [cx, cy, cz] = [spheres[at] - origin.x, spheres[at + 1] - origin.y, spheres[at + 2] - origin.z];
  const reach = spheres[at + 3];
  const along = cx * direction.x + cy * direction.y + cz * direction.z;
  const off = cx * cx + cy * cy + cz * cz - along * along;
  if (off > reach || along < -Math.sqrt(reach)) return undefined;
  return along - Math.sqrt(reach - Math.max(0, off));
}

/** Spheres that hold those of each block: about the middle of the box of their centres. */
function blocksOf(spheres: Float64Array): Float64Array {
  const out = new Float64Array(Math.ceil(spheres.length / (4 * BLOCK)) * 4);
  for (let block = 0; block < out.length / 4; block++) {
    const [from, to] = [block * BLOCK * 4, Math.min(spheres.length, (block + 1) * BLOCK * 4)];
    const min = [Infinity, Infinity, Infinity];
    const max = [-Infinity, -Infinity, -Infinity];
    for (let at = from; at < to; at += 4)
      for (let axis = 0; axis < 3; axis++) {
        min[axis] = Math.min(min[axis], spheres[at + axis]);
        max[axis] = Math.max(max[axis], spheres[at + axis]);
      }
    const [x, y, z] = min.map((low, axis) => (low + max[axis]) / 2);
    let reach = 0;
    for (let at = from; at < to; at += 4) {
      const away = Math.hypot(spheres[at] - x, spheres[at + 1] - y, spheres[at + 2] - z);
      reach = Math.max(reach, away + Math.sqrt(spheres[at + 3]));
    }
    // A little larger than it must be: what is rounded away may cost nobody the part that is pointed at.
    out.set([x, y, z, reach * reach * (1 + 1e-9)], block * 4);
  }
  return out;
}
