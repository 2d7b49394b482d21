/** Another scene beside the one that is drawn: it has the left part of the picture, up to a line. */
import { Group } from 'three';
import type { Camera, Object3D, Scene as ThreeScene, WebGLRenderer } from 'three';
import { factsOf } from '@noble-prism/core/scene/facts';
import { GONE } from '@noble-prism/core/scene/nodes';
import { Rows } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import { batchWork, disposeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';

export class Wipe {
  readonly group = new Group();
  scene: Scene | undefined;
  /** Share of the width that it has. */
  share = 0.5;

  constructor() {
    this.group.visible = false;
  }

  /** Draws its parts into the group. @param how they are drawn: as the others */
  *build(how: Omit<BatchInput, 'scene' | 'rows' | 'worlds' | 'moved' | 'only'>): Generator<void> {
    const { scene } = this;
    if (!scene) return disposeBatches(this.group);
    const { mesh, kind } = scene.nodes.columns;
    const rows = new Rows(Uint8Array.from(mesh, (word, row) => (word > 0 && kind[row] !== GONE ? 1 : 0)));
    yield* batchWork({ ...how, scene, rows, worlds: factsOf(scene).worlds }, this.group);
  }

  /**
   * Draws both, each in its part of the picture.
   * @param others what belongs to the scene on the right alone
   * @param renew called before each: shadows are those of what is drawn
   */
  render(
    renderer: WebGLRenderer,
    scene: ThreeScene,
    camera: Camera,
    others: readonly Object3D[],
    renew: () => void,
  ): void {
    const { width, height } = renderer.domElement;
    const ratio = renderer.getPixelRatio();
    const at = (width / ratio) * this.share;
    const were = others.map(({ visible }) => visible);
    renderer.setScissorTest(true);
    renderer.setScissor(0, 0, at, height / ratio);
    for (const other of others) other.visible = false;
    this.group.visible = true;
    renew();
    renderer.render(scene, camera);
    this.group.visible = false;
    others.forEach((other, i) => (other.visible = were[i]));
    renderer.setScissor(at, 0, width / ratio - at, height / ratio);
    renew();
    renderer.render(scene, camera);
    renderer.setScissorTest(false);
  }
}
