/** What of the parts in the view is meant by the pointer. Centres of circles are offered from when their rim was pointed at, as they lie over nothing. */
import { Vector3 } from 'three';
import { minus, plus } from '@noble-prism/core/measure/circle';
import { axisOf, faceAt } from '@noble-prism/core/measure/exactShape';
import { stretchOf } from '@noble-prism/core/measure/stretch';
import { dot, transformPoint } from '@noble-prism/core/scene/matrix';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { directionIn } from '@noble-prism/core/scene/spot';
import { centresNear, onFace, REACH, snapAt } from '@noble-prism/core/measure/snap';
import type { Aim, Snap } from '@noble-prism/core/measure/snap';
import type { CameraWork } from './cameraWork.ts';
import type { ExactOf } from './faceLayer.ts';
import type { GeometryStore } from './geometry.ts';
import type { Hit, Picker } from './picking.ts';

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
  at(x: number, y: number, axes = false): Snap | undefined {
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
    const meantOn = centre ?? found ?? (hit && point ? onFace(hit.node.id, point) : undefined);
    return axes && hit && meantOn?.kind === 'face' ? (this.#axisAt(hit) ?? meantOn) : meantOn;
  }

  /** The axis of the exact face that was hit, at the height of the hit. */
  #axisAt({ node, mesh, local, normal, world }: Hit): Snap | undefined {
    const exact = this.exactOf(node.solid);
    const { exact: off } = this.picker.scene.meshes[mesh] ?? {};
    const at = local.toArray() as Vector;
    const face = exact && faceAt(exact, at, normal.toArray() as unknown as Vector, (off?.max ?? 0) + 1e-6);
    const axis = face && axisOf(face);
    if (!axis) return undefined;
    const place = world.toArray();
    const along = dot(minus(at, axis.point), axis.direction);
    const { stretch, isEven } = stretchOf(place);
    return {
      kind: 'axis',
      point: transformPoint(place, plus(axis.point, axis.direction, along)),
      axis: directionIn(place, axis.direction),
      row: node.id,
      isExact: true,
      by: [{ at: transformPoint(place, at), of: 'face' }],
      ...(isEven && face.surface.kind === 'cylinder' ? { radius: axis.radius * stretch } : {}),
    };
  }

  #offer(found: readonly Snap[]): void {
    const isNew = (snap: Snap) =>
      !this.#offered.some(({ point }) => Math.hypot(...point.map((value, i) => value - snap.point[i])) < 1e-9);
    const fresh = found.filter(isNew);
    if (fresh.length > 0) this.#offered = [...fresh, ...this.#offered].slice(0, OFFERED);
  }
}
