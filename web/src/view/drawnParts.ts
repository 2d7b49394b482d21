/**
 * The parts of the scene as they are drawn: as they look, as triangles over that, faded where they stand in front of something, and by
 * themselves where they are being dragged.
 */
import * as THREE from 'three';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { NO_ROWS, Rows } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Look } from '../stores/looks.ts';
import { batchWork, disposeBatches, lateCrowdsIn, placeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';
import { LEAST } from './crowds.ts';
import { dressing } from './dressing.ts';
import type { Hues } from './dressing.ts';
import { EdgeCount } from './edgeCount.ts';
import type { GeometryStore, ViewGeometry } from './geometry.ts';
import { Held } from './held.ts';
import { edgeMaterial, MaterialStore, sheetColour } from './materials.ts';
import { both } from './rowsOfView.ts';
import type { TextureStore } from './textures.ts';

/** What of a scene is drawn, and where it stands. */
export interface Standing {
  scene: Scene;
  worlds: Float64Array;
  /** Rows with geometry that are not hidden. */
  shown: Rows;
  /** Distinct meshes of the scene. */
  shapes: number;
  /** Rows that have moved since they were drawn last; all may have where nothing is said. */
  moved?: ReadonlySet<number>;
}

const NO_HUES: Hues = { of: new Int32Array(), colours: [] };

export class DrawnParts {
  readonly batches = new THREE.Group();
  /** Triangles as lines over the surfaces, where that is the look. */
  readonly wires = new THREE.Group();
  readonly ghosts = new THREE.Group();
  readonly held = new Held();
  readonly #materials: MaterialStore;
  readonly #edgeMaterial = edgeMaterial();
  readonly #wire = new THREE.MeshBasicMaterial({ wireframe: true, transparent: true, opacity: 0.5 });
  // In one pass: both sides have one colour, and three.js would look for its program anew with each pass of each object.
  readonly #ghost = new THREE.MeshBasicMaterial({ transparent: true, opacity: 0.1, depthWrite: false, side: THREE.DoubleSide, forceSinglePass: true }); // prettier-ignore
  readonly #edgeCount = new EdgeCount();
  faded: Rows = NO_ROWS;
  look: Look = 'finished';
  /** Set of texture coordinates that the checker shows. */
  uvSet: 0 | 1 = 0;
  /** Feature edges are wished for. */
  edges = true;
  hues: Hues = NO_HUES;

  /** @param economy edges are left out where they are too many to be drawn without a graphics card */
  constructor(
    readonly economy: boolean,
    readonly geometry: GeometryStore,
    textures: TextureStore,
  ) {
    this.#materials = new MaterialStore(economy, textures);
  }

  /** Groups that hold what is drawn. */
  get groups(): THREE.Group[] {
    return [this.batches, this.ghosts, this.held.group, this.wires];
  }

  /** Takes the colours of the sheet anew. */
  setSheet(): void {
    this.#edgeMaterial.color = sheetColour('--edge');
    this.#edgeMaterial.opacity = 0.6;
    this.#wire.color = sheetColour('--ink');
    this.#ghost.color = sheetColour('--ink-2');
  }

  /** Rows that are drawn, and neither faded nor held: those that can be picked. */
  solid(shown: Rows): Rows {
    if (this.faded.size === 0 && this.held.rows.size === 0) return shown;
    return new Rows(shown.mask.map((one, row) => (this.faded.has(row) || this.held.rows.has(row) ? 0 : one)));
  }

  /** Puts what is drawn where it stands. */
  place({ scene, worlds }: Pick<Standing, 'scene' | 'worlds'>): void {
    for (const group of this.groups) placeBatches(group, { scene, worlds });
  }

  /** True where so much arrived one by one that all is better drawn anew. */
  get isLate(): boolean {
    return lateCrowdsIn(this.batches) > MOST_LATE;
  }

  /** @param only meshes that have arrived, where the others are drawn already */
  *draw(standing: Standing, only?: ReadonlySet<string>): Generator<void> {
    const { scene, worlds, shown, moved } = standing;
    const common = {
      scene,
      rows: this.solid(shown),
      worlds,
      geometry: this.geometry,
      points: this.#points,
      crowds: this.#drawsCrowds(standing),
      ...(only ? { only } : {}),
      ...(moved ? { moved } : {}),
    };
    const edges = this.#edgesOf(scene, shown);
    const dressed = dressing(this.look, scene, this.#materials, this.hues, this.uvSet);
    yield* batchWork({ ...common, edges, ...dressed }, this.batches);
    const alone = (rows: RowSet) => ({ ...common, rows: both(rows, shown), crowds: false });
    const fill = (group: THREE.Group, input: BatchInput | undefined) =>
      input ? batchWork(input, group) : (disposeBatches(group), []);
    yield* fill(this.wires, this.look === 'triangles' ? { ...common, edges: undefined, materialFor: () => this.#wire } : undefined);
    yield* fill(this.ghosts, this.faded.size > 0 ? { ...alone(this.faded), edges: undefined, materialFor: () => this.#ghost, shadows: false } : undefined);
    yield* fill(this.held.group, this.held.rows.size > 0 ? { ...alone(this.held.rows), edges, ...dressed } : undefined);
  } // prettier-ignore

  /** How another scene is drawn beside the one that stands here: with edges where that one has them. */
  beside(
    other: Scene,
    scene: Scene,
    shown: Rows,
  ): Pick<BatchInput, 'geometry' | 'points' | 'edges' | 'materialFor' | 'tint'> {
    return {
      geometry: this.geometry,
      points: this.#points,
      edges: this.#edgesOf(scene, shown),
      ...dressing(this.look, other, this.#materials, NO_HUES, this.uvSet),
    };
  }

  readonly #points = ({ coloured }: ViewGeometry) => this.#materials.points(coloured);

  /** Parts are drawn together where there are many shapes, none needs a colour of its own, and nothing moves by itself. */
  #drawsCrowds({ scene, shapes }: Standing): boolean {
    const isPlain = this.look === 'finished' || this.look === 'triangles';
    return isPlain && shapes >= LEAST && Object.keys(scene.animations).length === 0;
  }

  #edgesOf(scene: Scene, shown: Rows): THREE.LineBasicMaterial | undefined {
    return this.edges && this.look !== 'triangles' && !this.leavesOutEdges(scene, shown)
      ? this.#edgeMaterial
      : undefined;
  }

  /** True where edges are wished for and there are too many of them to be drawn without a graphics card. */
  leavesOutEdges(scene: Scene, shown: Rows): boolean {
    return this.edges && this.economy && this.#edgeCount.areMany(scene, shown);
  }

  dispose(): void {
    this.#materials.dispose();
  }
}

/** Crowds of what arrived together, beside those of neighbours. */
const MOST_LATE = 120;
