/** The scene that the view shows, as it stands: which rows are drawn, where they are at a moment, what has moved, and the box of all of it. */
import { factsOf } from '@noble-prism/core/scene/facts';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { GONE } from '@noble-prism/core/scene/nodes';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { worldBoxInTurns } from '@noble-prism/core/scene/tree';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene } from '@noble-prism/core/scene/types';
import type { Moved } from '../evaluation/client.ts';
import type { Standing } from './drawnParts.ts';
import type { GeometryStore } from './geometry.ts';
import { posedWorlds } from './pose.ts';
import { largestFirst } from './rowsOfView.ts';

/** What is different from the scene before, as far as it concerns the picture. */
export type Difference = 'nothing' | 'look' | 'shapes';

/** Columns that say what is drawn and where; names and the like are nothing to be drawn. */
const DRAWN = ['mesh', 'materials', 'kind', 'place', 'parent', 'offset', 'layer', 'extras'] as const;

export class StandingModel {
  scene: Scene = EMPTY_SCENE;
  /** Places in the world, twelve numbers for each row. */
  worlds: Float64Array = new Float64Array();
  #hidden: RowSet = NO_ROWS;
  /** Rows that are drawn: those with geometry that are not hidden. */
  #shown: Rows | undefined;
  /** Distinct meshes of the scene. */
  #shapes = 0;
  /** Where an animation has nodes, in their parents. */
  #places: ReadonlyMap<number, Matrix> | undefined;
  /** Number of the scene that was given last. */
  #number = NaN;
  /** Rows that have moved since they were drawn; all may have where there is no set. */
  #moved: Set<number> | undefined;
  #box: { of: unknown[]; box: Box | undefined } = { of: [], box: undefined };

  constructor(readonly geometry: GeometryStore) {}

  /** @param moved what stands elsewhere than in the scene before; everything where that is not known */
  take(scene: Scene, moved: Moved | undefined): Difference {
    const before = this.scene;
    const [old, now] = [before.nodes.columns, scene.nodes.columns];
    const isLook = before.materials !== scene.materials || before.textures !== scene.textures;
    this.scene = scene;
    this.#remember(moved);
    this.worlds = this.#places ? posedWorlds(scene, this.#places) : factsOf(scene).worlds;
    if (old.mesh !== now.mesh || old.kind !== now.kind) {
      this.#shown = undefined;
      const meshes = largestFirst(scene);
      this.#shapes = meshes.length;
      this.geometry.want(meshes);
      return 'shapes';
    }
    return isLook || DRAWN.some((name) => old[name] !== now[name]) ? 'look' : 'nothing';
  }

  /** Gathers what has moved until it is drawn. */
  #remember(moved: Moved | undefined): void {
    // A scene between this one and the last may have been passed over.
    const isNext = moved?.number === this.#number + 1;
    this.#number = moved?.number ?? NaN;
    if (!moved || !isNext || moved.rows === 'all') this.#moved = undefined;
    else if (moved.rows !== 'none') for (const row of moved.rows) this.#moved?.add(row);
  }

  /** All is drawn where it stands: what moves from now on is gathered. */
  drawn(): void {
    this.#moved = new Set();
  }

  /** Puts nodes where they are at a moment, or at rest. @returns false where all were at rest and are */
  pose(places: ReadonlyMap<number, Matrix> | undefined): boolean {
    if (!places && !this.#places) return false;
    this.#places = places;
    // What an animation had moved is back, or somewhere else.
    this.#moved = undefined;
    this.worlds = places ? posedWorlds(this.scene, places) : factsOf(this.scene).worlds;
    return true;
  }

  get hidden(): RowSet {
    return this.#hidden;
  }

  /** @returns false where nothing was hidden and nothing is */
  hide(rows: RowSet): boolean {
    if (rows.size === 0 && this.#hidden.size === 0) return false;
    this.#hidden = rows;
    this.#shown = undefined;
    return true;
  }

  get shown(): Rows {
    if (this.#shown) return this.#shown;
    const { mesh, kind } = this.scene.nodes.columns;
    const mask = new Uint8Array(mesh.length);
    for (let row = 0; row < mask.length; row++)
      mask[row] = mesh[row] > 0 && kind[row] !== GONE && !this.#hidden.has(row) ? 1 : 0;
    return (this.#shown = new Rows(mask));
  }

  /** What is to be drawn of it, and what of that has moved. */
  get standing(): Standing {
    const { scene, worlds, shown } = this;
    return {
      scene,
      worlds,
      shown,
      shapes: this.#shapes,
      ...(this.#moved && !this.#places ? { moved: this.#moved } : {}),
    };
  }

  /** Box of everything as it was found last, metres. */
  get knownBox(): Box | undefined {
    return this.#box.box;
  }

  /** Box of everything, metres: the same until places, shapes or the geometry that is at hand are others. */
  get box(): Box | undefined {
    const work = this.findBox();
    while (!work.next().done);
    return this.#box.box;
  }

  /** The same, for those who let others have their turn. */
  *findBox(): Generator<void> {
    const { mesh, kind, offset } = this.scene.nodes.columns;
    const of = [this.worlds, mesh, kind, offset, this.geometry.arrivals];
    if (of.every((one, i) => one === this.#box.of[i])) return;
    const box = yield* worldBoxInTurns(this.scene, undefined, this.geometry.positionsOf, this.worlds);
    this.#box = { of, box };
  }
}
