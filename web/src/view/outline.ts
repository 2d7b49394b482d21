/** The selection in the view: filled, outlined, and faintly outlined where it lies behind other parts. */
import { Color, DoubleSide, Group, InstancedMesh, LineBasicMaterial, MeshBasicMaterial, PointsMaterial } from 'three';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { disposeBatches, makeBatches, placeBatches } from './batches.ts';
import type { GeometryStore } from './geometry.ts';

const WHITE = new Color(0xffffff);

export class Outline {
  readonly group = new Group();
  /** Also for what is selected and drawn by others. */
  readonly line = new LineBasicMaterial({ toneMapped: false });
  readonly #behind = new LineBasicMaterial({ depthTest: false, transparent: true, opacity: 0.16, toneMapped: false });
  readonly #fill = new MeshBasicMaterial({ transparent: true, opacity: 0.2, depthWrite: false, side: DoubleSide });
  readonly #points = new PointsMaterial({ size: 4, sizeAttenuation: false });
  readonly #nothing = new MeshBasicMaterial({ visible: false });

  setColour(colour: Color): void {
    for (const material of [this.line, this.#behind, this.#fill, this.#points]) material.color = colour;
  }

  draw(nodes: readonly SceneNode[], worlds: Map<number, Matrix>, geometry: GeometryStore): void {
    disposeBatches(this.group);
    const common = { nodes, worlds, geometry, tint: () => WHITE, points: () => this.#points };
    const before = makeBatches({ ...common, materialFor: () => this.#fill, edges: this.line });
    const behind = makeBatches({ ...common, materialFor: () => this.#nothing, edges: this.#behind });
    const lines = behind.children.filter((child) => !(child instanceof InstancedMesh));
    for (const child of [...before.children, ...lines]) {
      child.renderOrder = 1;
      this.group.add(child);
    }
  }

  /** Moves what was drawn to other places. */
  place(worlds: Map<number, Matrix>): void {
    placeBatches(this.group, worlds);
  }
}
