/**
 * Paces the frames by the graphics card: the next one is begun when the last one is drawn. Where the processor draws, a frame of a large
 * model takes seconds; begun one over the other they would make the page wait for all of them.
 */

export class Pace {
  #fence: WebGLSync | null = null;
  #begun = 0;
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** How long the last frame took to be drawn, milliseconds; 0 while none was. */
  cost = 0;

  constructor(readonly gl: WebGL2RenderingContext) {}

  /** To be called when everything of a frame was asked for. */
  begun(): void {
    this.#end();
    this.#begun = performance.now();
    this.#fence = this.gl.fenceSync(this.gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    this.gl.flush();
    this.#watch(2);
  }

  /** True where the last frame is drawn. */
  get isFree(): boolean {
    return this.#fence === null;
  }

  stop(): void {
    clearTimeout(this.#timer);
    this.#end();
  }

  /** Asks again and again, ever less often, without waiting: what is known of a fence changes between turns of the page only. */
  #watch(wait: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      if (!this.#fence) return;
      // A context that was lost draws nothing any more.
      const isDone =
        this.gl.isContextLost() || this.gl.getSyncParameter(this.#fence, this.gl.SYNC_STATUS) === this.gl.SIGNALED;
      if (!isDone) return this.#watch(Math.min(30, wait * 1.5));
      this.cost = performance.now() - this.#begun;
      this.#end();
    }, wait);
  }

  #end(): void {
    if (this.#fence) this.gl.deleteSync(this.#fence);
    this.#fence = null;
  }
}
