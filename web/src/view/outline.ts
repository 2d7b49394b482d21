/** The selection in the view: filled, outlined, and faintly outlined where it lies behind other parts. */
import { Color, DoubleSide, Group, InstancedMesh, LineBasicMaterial, MeshBasicMaterial, PointsMaterial } from 'three';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { makeBatches, placeBatches } from './batches.ts';
import { edgeMaterial } from './materials.ts';
import type { GeometryStore } from './geometry.ts';

const WHITE = new Color(0xffffff);

export class Outline {
  readonly group = new Group();
  readonly #front = new Group();
  readonly #back = new Group();
  /** Also for what is selected and drawn by others. */
  readonly line = edgeMaterial();
  readonly #behind = new LineBasicMaterial({ depthTest: false, transparent: true, opacity: 0.16, toneMapped: false });
  readonly #fill = new MeshBasicMaterial({ transparent: true, opacity: 0.2, depthWrite: false, side: DoubleSide });
  readonly #points = new PointsMaterial({ size: 4, sizeAttenuation: false });
  readonly #nothing = new MeshBasicMaterial({ visible: false });

  setColour(colour: Color): void {
    for (const material of [this.line, this.#behind, this.#fill, this.#points]) material.color = colour;
  }

  /** @param mostLines segments that are drawn as outlines; a selection with more is filled only */
  constructor(private readonly mostLines: number) {
    this.group.add(this.#front, this.#back);
  }

  draw(nodes: readonly SceneNode[], worlds: Map<number, Matrix>, geometry: GeometryStore): void {
    const outlined = this.#segments(nodes, geometry) <= this.mostLines;
    const common = { nodes, worlds, geometry, tint: () => WHITE, points: () => this.#points, shadows: false };
    makeBatches({ ...common, materialFor: () => this.#fill, edges: outlined ? this.line : undefined }, this.#front);
    makeBatches(
      { ...common, nodes: outlined ? nodes : [], materialFor: () => this.#nothing, edges: this.#behind },
      this.#back,
    );
    for (const part of [this.#front, this.#back]) for (const child of part.children) child.renderOrder = 1;
    // Only the lines of what lies behind are drawn.
    for (const child of this.#back.children) child.visible = !(child instanceof InstancedMesh);
  }

  #segments(nodes: readonly SceneNode[], geometry: GeometryStore): number {
    let sum = 0;
    for (const { mesh } of nodes) sum += mesh ? (geometry.get(mesh)?.edges.getAttribute('position').count ?? 0) / 2 : 0;
    return sum;
  }

  /** Moves what was drawn to other places. */
  place(worlds: Map<number, Matrix>): void {
    placeBatches(this.#front, worlds);
    placeBatches(this.#back, worlds);
  }
}
