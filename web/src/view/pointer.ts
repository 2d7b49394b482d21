/** What is at a point of the canvas: a part, a corner or an edge of it, a face, an axis; and the marks of what would be taken. */
import type { Vector3 } from 'three';
import type { PickedFace } from '@noble-prism/core/measure/face';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import type { CameraWork } from './cameraWork.ts';
import { FaceLayer } from './faceLayer.ts';
import type { ExactOf } from './faceLayer.ts';
import { fittedAxis } from './fittedAxis.ts';
import type { GeometryStore } from './geometry.ts';
import { guided } from './guided.ts';
import type { Guide } from './guided.ts';
import { MeasureLine } from './measureLine.ts';
import type { OpticsLayer } from './optics.ts';
import { Picker } from './picking.ts';
import { Snapping } from './snapping.ts';

/** A click this near to a camera or a light means it. */
export const SNAP_PIXELS = 12;

export interface PointerParts {
  geometry: GeometryStore;
  eye: CameraWork;
  optics: OpticsLayer;
  /** False for points of the world that are cut away. */
  isDrawn(point: Vector3): boolean;
  exactOf: ExactOf;
  /** Asks for a frame. */
  invalidate(): void;
}

/** Points of the canvas are in pixels from its upper left corner, those of the world in metres. */
export class Pointer {
  readonly picker: Picker;
  readonly faces: FaceLayer;
  /** What is being measured, and what the pointer would take. */
  readonly line = new MeasureLine();
  readonly #snapping: Snapping;

  constructor(readonly parts: PointerParts) {
    const { geometry, eye, isDrawn, exactOf } = parts;
    this.picker = new Picker(geometry, isDrawn);
    this.faces = new FaceLayer(this.picker, geometry, exactOf);
    this.#snapping = new Snapping(this.picker, geometry, eye, isDrawn, exactOf);
  }

  /** The part there, or a camera or a light near it. */
  pick(x: number, y: number): SceneNode | undefined {
    const { eye, optics } = this.parts;
    const near = (point: Vector3) => eye.onScreen(point, x, y);
    return optics.pick(near, SNAP_PIXELS) ?? this.picker.pick(eye.ray(x, y))?.node;
  }

  /** What is meant there; shown with the centres that are offered. */
  snapAt(x: number, y: number, axes = false): Snap | undefined {
    const snap = this.#snapping.at(x, y, axes);
    // Nothing there, as before: nothing to be drawn.
    if (!snap && !this.line.isMarked) return undefined;
    this.line.mark(
      snap?.point,
      this.#snapping.offered.map(({ point }) => point),
    );
    this.parts.invalidate();
    return snap;
  }

  /** Nothing is pointed at any more. */
  endSnap(): void {
    this.#snapping.forget();
    this.line.mark(undefined, []);
    this.parts.invalidate();
  }

  /** The face there. @param angle see {@link FaceLayer.at} */
  faceAt(x: number, y: number, angle: number): PickedFace | undefined {
    return this.faces.at(this.parts.eye.ray(x, y), this.picker.scene, angle);
  }

  /** The axis of the hole or shaft there, fitted to the mesh where its solid is not known; unless an edge is meant. */
  axisAt(x: number, y: number, angle: number, wanted: boolean): Snap | undefined {
    const snap = wanted ? this.#snapping.at(x, y, true) : undefined;
    if (!snap || snap.kind !== 'face') return snap;
    const face = this.faceAt(x, y, angle);
    return face && fittedAxis(face, snap, this.picker.scene, this.parts.geometry);
  }

  /** Where the canvas meets some rows, or what of them is near: for rows that others are not picked with. */
  among(x: number, y: number, scene: Scene, rows: RowSet, worlds: Float64Array): Vector | undefined {
    const { geometry, eye, isDrawn, exactOf } = this.parts;
    const own = new Picker(geometry, isDrawn);
    own.setParts(scene, rows, worlds);
    return new Snapping(own, geometry, eye, isDrawn, exactOf).at(x, y)?.point;
  }

  /**
   * Where what is dragged is to be put: on what is under the pointer, else where the pointer meets the guide. A face has no point of its
   * own: where there is a guide, that is nearer to what is meant than some place on what is behind.
   * @param taken where it was taken. @param fixed point that stays; it is marked
   */
  targetAt(x: number, y: number, taken: Vector, guide?: Guide, fixed?: Vector): { point: Vector; snap?: Snap } {
    const found = this.#snapping.at(x, y);
    const snap = guide && found?.kind === 'face' ? undefined : found;
    this.line.mark(snap?.point, fixed ? [fixed] : []);
    return snap ? { point: snap.point, snap } : { point: guided(this.parts.eye, x, y, taken, guide) };
  }
}
