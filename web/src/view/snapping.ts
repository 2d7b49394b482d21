/** What of the parts in the view is meant by the pointer. Centres of circles are offered from when their rim was pointed at, as they lie over nothing. */
import { Vector3 } from 'three';
import { centresNear, REACH, snapAt } from '@noble-prism/core/measure/snap';
import type { Aim, Snap } from '@noble-prism/core/measure/snap';
import type { CameraWork } from './cameraWork.ts';
import type { ExactOf } from './faceLayer.ts';
import type { GeometryStore } from './geometry.ts';
import type { Picker } from './picking.ts';

/** Centres that are offered at a time: the circles pointed at last. */
const OFFERED = 4;

export class Snapping {
  #offered: Snap[] = [];

  constructor(
    readonly picker: Picker,
    readonly geometry: GeometryStore,
    readonly eye: CameraWork,
    readonly isDrawn: (point: Vector3) => boolean,
    readonly exactOf: ExactOf,
  ) {}

  /** Nothing is offered any more: what was may stand elsewhere. */
  forget(): void {
    this.#offered = [];
  }

  /** Centres that are offered now, world, metres. */
  get offered(): readonly Snap[] {
    return this.#offered;
  }

  /** @param x, y pixels from the upper left corner of the canvas. Undefined where nothing is there */
  at(x: number, y: number): Snap | undefined {
    const pixels = (point: readonly [number, number, number]) => this.eye.onScreen(new Vector3(...point), x, y);
    const hit = this.picker.pick(this.eye.ray(x, y));
    const features = hit && this.geometry.featuresOf(hit.mesh);
    const point = hit && (hit.point.toArray() as [number, number, number]);
    const aim: Aim | undefined = hit &&
      point &&
      features && {
        row: hit.node.id,
        features,
        exact: this.exactOf(hit.node.solid),
        world: hit.world.toArray(),
        point,
        pixels,
        metresPerPixel: this.eye.metresPerPixel(hit.point),
      };
    if (aim) this.#offer(centresNear(aim));
    const meant = aim ? snapAt(aim) : undefined;
    // What the section cuts away is not taken, though an edge on its way out is near.
    const found = meant && this.isDrawn(new Vector3(...meant.point)) ? meant : undefined;
    if (found?.kind === 'corner') return found;
    const centre = this.#offered.find((snap) => pixels(snap.point) <= REACH.centre);
    return centre ?? found ?? (hit && point ? { kind: 'face', point, row: hit.node.id } : undefined);
  }

  #offer(found: readonly Snap[]): void {
    const isNew = (snap: Snap) =>
      !this.#offered.some(({ point }) => Math.hypot(...point.map((value, i) => value - snap.point[i])) < 1e-9);
    const fresh = found.filter(isNew);
    if (fresh.length > 0) this.#offered = [...fresh, ...this.#offered].slice(0, OFFERED);
  }
}
