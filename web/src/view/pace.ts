/**
 * Paces the frames by the graphics card: the next one is begun when the last one is drawn. Where the processor draws, a frame of a large
 * model takes seconds; begun one over the other they would make the page wait for all of them.
 */

export class Pace {
  #fence: WebGLSync | null = null;
  #begun = 0;
  /** How long the last frame took to be drawn, milliseconds; 0 while none was. */
  cost = 0;

  constructor(readonly gl: WebGL2RenderingContext) {}

  /** To be called when everything of a frame was asked for. */
  begun(): void {
    this.#drop();
    this.#begun = performance.now();
    this.#fence = this.gl.fenceSync(this.gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    this.gl.flush();
  }

  /** True where the last frame is drawn. Asks without waiting. */
  get isFree(): boolean {
    if (!this.#fence) return true;
    // A context that was lost draws nothing any more.
    const isDone =
      this.gl.isContextLost() || this.gl.getSyncParameter(this.#fence, this.gl.SYNC_STATUS) === this.gl.SIGNALED;
    if (!isDone) return false;
    this.cost = performance.now() - this.#begun;
    this.#drop();
    return true;
  }

  #drop(): void {
    if (this.#fence) this.gl.deleteSync(this.#fence);
    this.#fence = null;
  }
}
