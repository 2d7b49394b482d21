/** The camera of the view: how it is turned, framed, kept and looked through; and where points of the world stand on the screen. */
import CameraControls from 'camera-controls';
import * as THREE from 'three';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import type { Box, SceneNode } from '@noble-prism/core/scene/types';
import type { Standpoint } from '@noble-prism/wire/job';
import { standpoint } from './framing.ts';

CameraControls.install({ THREE });

/** Seen from the front right and above, as machines are drawn. */
const START = new THREE.Vector3(0.62, 0.42, 0.9).normalize();

/** Angle of the lens, upright, degrees. */
const LENS = 36;

/** Heights that the title block and the row of looks take from the view, pixels. */
const TITLE_BLOCK = 84;
const LOOKS_BAR = 30;

export class CameraWork {
  readonly camera = new THREE.PerspectiveCamera(LENS, 1, 0.01, 1000);
  readonly controls: CameraControls;
  /** The camera was taken in hand, or sent somewhere: no framing by itself any more. */
  isTaken = false;
  #lastFrame = 0;

  constructor(
    readonly canvas: HTMLCanvasElement,
    /** Drawn by the processor: nothing glides. */
    economy: boolean,
    readonly invalidate: () => void,
  ) {
    this.controls = new CameraControls(this.camera, canvas);
    this.controls.dollyToCursor = true;
    this.controls.minDistance = 0;
    this.controls.infinityDolly = false;
    this.controls.smoothTime = window.matchMedia('(prefers-reduced-motion: reduce)').matches || economy ? 0 : 0.12;
    this.controls.draggingSmoothTime = economy ? 0 : 0.06;
    this.controls.mouseButtons.right = CameraControls.ACTION.TRUCK;
    this.controls.mouseButtons.middle = CameraControls.ACTION.TRUCK;
    for (const event of ['control', 'transitionstart', 'wake'] as const)
      this.controls.addEventListener(event, invalidate);
  }

  /** The camera was taken in hand: no framing by itself any more. */
  take(): void {
    this.isTaken = true;
  }

  /** Goes on to this moment. Returns whether it moves. */
  update(): boolean {
    const now = performance.now();
    // After a rest the camera must not jump by the time that has passed.
    const moving = this.controls.update(Math.min(0.1, (now - this.#lastFrame) / 1000));
    this.#lastFrame = now;
    return moving;
  }

  /** Turns to a box: gliding there where the camera was taken in hand and something may glide. */
  turnTo(box: Box): void {
    this.frame(box, this.isTaken && this.controls.smoothTime > 0);
  }

  /** Looks through a camera of the scene; upright, whatever its roll. */
  lookThrough(node: SceneNode, worlds: Float64Array, centre: THREE.Vector3): void {
    if (!node.camera) return;
    const place = new THREE.Matrix4().fromArray(matrixAt(worlds, node.id * STRIDE));
    const from = new THREE.Vector3().setFromMatrixPosition(place);
    const ahead = new THREE.Vector3(0, 0, -1).transformDirection(place);
    const away = Math.max(0.1, centre.clone().sub(from).dot(ahead));
    const target = from.clone().addScaledVector(ahead, away);
    if (node.camera.type === 'perspective') this.#setLens(THREE.MathUtils.radToDeg(node.camera.fov));
    this.isTaken = true;
    void this.controls.setLookAt(...from.toArray(), ...target.toArray(), false);
    this.invalidate();
  }

  #setLens(degrees: number): void {
    this.camera.fov = THREE.MathUtils.clamp(degrees, 1, 150);
    this.camera.updateProjectionMatrix();
  }

  /** Moves the camera back or forth, in the direction it has, until the box fills the free part of the picture. */
  frame(box: Box, smoothly: boolean): void {
    this.#setLens(LENS);
    const centre = new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
    this.setPlanes(box);
    const back = this.isTaken
      ? this.controls.getPosition(new THREE.Vector3()).sub(this.controls.getTarget(new THREE.Vector3())).normalize()
      : START.clone();
    const { clientHeight } = this.canvas;
    const free = Math.max(0.4, (clientHeight - TITLE_BLOCK - LOOKS_BAR) / clientHeight) * 0.97;
    const from = standpoint(box, back, { degrees: LENS, aspect: this.camera.aspect * (0.94 / free), free });
    void this.controls.setLookAt(from.x, from.y, from.z, centre.x, centre.y, centre.z, smoothly);
    this.invalidate();
  }

  /** What can be seen from near and from far, around a box. */
  setPlanes(box: Box): void {
    const centre = new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
    const radius = Math.max(centre.distanceTo(new THREE.Vector3(...box.max)), 1e-4);
    this.camera.near = radius / 200;
    this.camera.far = radius * 1000;
    this.camera.updateProjectionMatrix();
  }

  /** Where the view is looked at from; metres. */
  get standpoint(): Standpoint {
    const vector = ({ x, y, z }: THREE.Vector3): [number, number, number] => [x, y, z];
    return {
      from: vector(this.controls.getPosition(new THREE.Vector3())),
      to: vector(this.controls.getTarget(new THREE.Vector3())),
      lens: this.camera.fov,
    };
  }

  /** Stands there, and frames nothing by itself any more. */
  standAt({ from, to, lens }: Standpoint): void {
    this.isTaken = true;
    this.#setLens(lens);
    void this.controls.setLookAt(...from, ...to, false);
    this.invalidate();
  }

  /** Distance of a point of the world from a point of the canvas, pixels. */
  onScreen(point: THREE.Vector3, x: number, y: number): number {
    const { clientWidth, clientHeight } = this.canvas;
    const flat = point.clone().project(this.camera);
    if (flat.z > 1) return Infinity;
    return Math.hypot(((flat.x + 1) / 2) * clientWidth - x, ((1 - flat.y) / 2) * clientHeight - y);
  }

  /**
   * How far along an axis the pointer has gone, metres: it was moved by so many pixels, beginning at a point of the world. None where the
   * axis points straight into the picture.
   */
  alongAxis(from: THREE.Vector3, axis: THREE.Vector3, dx: number, dy: number): number {
    const { clientWidth, clientHeight } = this.canvas;
    // A step that is neither lost to rounding nor bent by the perspective.
    const step = this.metresPerPixel(from) || 1e-6;
    const flat = (point: THREE.Vector3) => {
      const { x, y } = point.project(this.camera);
      return new THREE.Vector2((x * clientWidth) / 2, (-y * clientHeight) / 2);
    };
    const way = flat(from.clone().addScaledVector(axis, step)).sub(flat(from.clone()));
    const square = way.lengthSq();
    return square < 1e-4 ? 0 : ((dx * way.x + dy * way.y) / square) * step;
  }

  /** Metres that a pixel stands for at a point of the world. */
  metresPerPixel(point: THREE.Vector3): number {
    const away = point.clone().sub(this.camera.position).dot(this.camera.getWorldDirection(new THREE.Vector3()));
    const height = 2 * Math.max(away, 0) * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2));
    return height / this.canvas.clientHeight;
  }

  ray(x: number, y: number): THREE.Ray {
    const { clientWidth, clientHeight } = this.canvas;
    const pointer = new THREE.Vector2((x / clientWidth) * 2 - 1, 1 - (y / clientHeight) * 2);
    const caster = new THREE.Raycaster();
    caster.setFromCamera(pointer, this.camera);
    return caster.ray;
  }

  orbit(azimuth: number, polar: number): void {
    void this.controls.rotate(azimuth, polar, true);
    this.invalidate();
  }

  zoom(factor: number): void {
    void this.controls.dollyTo(this.controls.distance * factor, true);
    this.invalidate();
  }

  /** Fits the picture into so many pixels. */
  resize(clientWidth: number, clientHeight: number): void {
    this.camera.aspect = clientWidth / clientHeight;
    // The title block covers the lower edge: the middle of the picture lies a little higher.
    this.camera.setViewOffset(
      clientWidth,
      clientHeight,
      0,
      Math.min(TITLE_BLOCK - LOOKS_BAR, clientHeight / 4) / 2,
      clientWidth,
      clientHeight,
    );
    this.camera.updateProjectionMatrix();
  }
}
