/** The selection in the view: filled, outlined, and faintly outlined where it lies behind other parts. */
import { Color, DoubleSide, Group, InstancedMesh, LineBasicMaterial, MeshBasicMaterial, PointsMaterial } from 'three';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import { batchWork, placeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';
import { edgeMaterial } from './materials.ts';

const WHITE = new Color(0xffffff);

export class Outline {
  readonly group = new Group();
  readonly #front = new Group();
  readonly #back = new Group();
  /** What is drawn in front and behind. */
  readonly parts = [this.#front, this.#back] as const;
  /** Also for what is selected and drawn by others. */
  readonly line = edgeMaterial();
  readonly #behind = new LineBasicMaterial({ depthTest: false, transparent: true, opacity: 0.16, toneMapped: false });
  // In one pass: both sides have one colour, and three.js would look for its program anew with each pass of each object.
  readonly #fill = new MeshBasicMaterial({ transparent: true, opacity: 0.2, depthWrite: false, side: DoubleSide, forceSinglePass: true }); // prettier-ignore
  readonly #points = new PointsMaterial({ size: 4, sizeAttenuation: false });
  readonly #nothing = new MeshBasicMaterial({ visible: false });

  setColour(colour: Color): void {
    for (const material of [this.line, this.#behind, this.#fill, this.#points]) material.color = colour;
  }

  /** @param mostLines segments that are drawn as outlines; a selection with more is filled only */
  constructor(private readonly mostLines: number) {
    this.group.add(this.#front, this.#back);
  }

  /** False where what is marked has to be seen in its own colour: it is outlined only. */
  set isFilled(on: boolean) {
    this.#fill.visible = this.#points.visible = on;
  }

  *draw(input: Pick<BatchInput, 'scene' | 'rows' | 'worlds' | 'geometry'>): Generator<void> {
    const outlined = this.#segments(input) <= this.mostLines;
    const common = { ...input, tint: () => WHITE, points: () => this.#points, shadows: false };
    yield* batchWork(
      { ...common, materialFor: () => this.#fill, edges: outlined ? this.line : undefined },
      this.#front,
    );
    const behind = { materialFor: () => this.#nothing, edges: this.#behind };
    yield* batchWork({ ...common, ...(outlined ? {} : { rows: NO_ROWS }), ...behind }, this.#back);
    for (const part of this.parts) for (const child of part.children) child.renderOrder = 1;
    // Only the lines of what lies behind are drawn.
    for (const child of this.#back.children) child.visible = !(child instanceof InstancedMesh);
  }

  #segments({ scene: { nodes }, rows, geometry }: Pick<BatchInput, 'scene' | 'rows' | 'geometry'>): number {
    const { mesh } = nodes.columns;
    const known: number[] = [];
    let sum = 0;
    for (const row of rows) {
      if (mesh[row] === 0) continue;
      known[mesh[row]] ??=
        (geometry.get(nodes.tables.words.get(mesh[row]))?.edges.getAttribute('position').count ?? 0) / 2;
      sum += known[mesh[row]];
      if (sum > this.mostLines) break;
    }
    return sum;
  }

  /** Moves what was drawn to other places. */
  place(input: Pick<BatchInput, 'scene' | 'worlds'>): void {
    placeBatches(this.#front, input);
    placeBatches(this.#back, input);
  }
}
