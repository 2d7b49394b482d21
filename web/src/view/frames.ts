/**
 * When frames are drawn: one for all that asked for it, when the graphics card has done the last one, and not while half of what is drawn
 * is old and half is new, or shaders are still being made.
 */
import type { Camera, Material, Object3D, Scene, WebGLRenderer } from 'three';
import { Pace } from './pace.ts';

export interface FrameWork {
  /** True while what is drawn is being made. */
  isBusy(): boolean;
  /** Draws. @returns true where another frame has to follow */
  draw(): boolean;
  /** What is drawn is another than before: shaders were made for it. */
  changed(): void;
}

/** Milliseconds. */
const QUICK = 700;

export class Frames {
  /** Of the frame that was asked for; 0 while none was, no number while what comes before one is done. */
  #wanted = 0;
  #before: (() => void) | undefined;
  readonly #pace: Pace;
  /** Shaders of new materials are being made. */
  #compiling = false;
  readonly #compiled = new WeakSet<Material>();
  #count = 0;

  constructor(
    readonly renderer: WebGLRenderer,
    readonly work: FrameWork,
  ) {
    this.#pace = new Pace(renderer.getContext() as WebGL2RenderingContext);
  }

  /** True where a frame is drawn so quickly that one more for a picture is not noticed. */
  get isQuick(): boolean {
    return this.#pace.isFree && !this.work.isBusy() && this.#pace.cost < QUICK;
  }

  /** Asks for a frame. @param before done just before it; what was to be done so far is not */
  ask(before?: () => void): void {
    if (before) this.#before = before;
    if (this.#wanted !== 0) return;
    this.#wanted = requestAnimationFrame(() => {
      this.#wanted = 0;
      // Half of the old and half of the new is nothing to be shown.
      if (!this.#pace.isFree || this.work.isBusy() || this.#compiling) return this.ask();
      const first = this.#before;
      this.#before = undefined;
      // What it changes is in this frame already.
      this.#wanted = NaN;
      first?.();
      this.#wanted = 0;
      const hasMore = this.work.draw();
      this.#pace.begun();
      this.renderer.domElement.dataset.frames = String(++this.#count);
      if (hasMore) this.work.changed();
    });
  }

  /** Has the shaders of new materials made before anything is drawn with them: the page does not wait for them. */
  compile(objects: readonly (Object3D & { material?: Material | Material[] })[], scene: Scene, camera: Camera): void {
    let isNew = false;
    for (const { material = [] } of objects)
      for (const one of Array.isArray(material) ? material : [material])
        if (!this.#compiled.has(one)) {
          this.#compiled.add(one);
          isNew = true;
        }
    if (!isNew) return;
    this.#compiling = true;
    const done = () => {
      this.#compiling = false;
      this.work.changed();
    };
    this.renderer.compileAsync(scene, camera).then(done, done);
  }

  stop(): void {
    cancelAnimationFrame(this.#wanted);
    this.#pace.stop();
  }
}
