/** Work that is done in turns, a frame's share at a time, so that the page answers in between. */

/** Milliseconds of a turn. */
const SHARE = 12;

export class Turns {
  /** By what it is about, in the order in which it was begun. */
  readonly #work = new Map<string, Generator<void>>();
  #frame = 0;

  get isBusy(): boolean {
    return this.#work.size > 0;
  }

  /** Begins some work in the place of what is under way about the same. */
  start(what: string, work: Generator<void>): void {
    this.#work.delete(what);
    this.#work.set(what, work);
    this.#frame ||= requestAnimationFrame(this.#turn);
  }

  stop(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
    this.#work.clear();
  }

  readonly #turn = (): void => {
    this.#frame = 0;
    const end = performance.now() + SHARE;
    for (const [what, work] of this.#work) {
      let isDone = false;
      while (!isDone && performance.now() < end) isDone = work.next().done === true;
      if (!isDone) break;
      // The work itself may have begun the next.
      if (this.#work.get(what) === work) this.#work.delete(what);
    }
    if (this.isBusy) this.#frame ||= requestAnimationFrame(this.#turn);
  };
}
