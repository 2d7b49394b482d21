/** Work that comes again and again, and may take only a share of the time: the dearer it is, the longer it waits for more of it. */

/** Of the time, where others have to be answered too. */
const SHARE = 0.025;

export class Share {
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** From when on the share allows for more, milliseconds. */
  #free = 0;

  /** Does it when the share allows; once, however often it is asked for until then. */
  soon(work: () => void): void {
    this.#timer ??= setTimeout(
      () => {
        this.#timer = undefined;
        const began = performance.now();
        work();
        this.charge(performance.now() - began);
      },
      Math.max(0, this.#free - performance.now()),
    );
  }

  /** Counts what something else took because of it. */
  charge(milliseconds: number): void {
    this.#free = Math.max(this.#free, performance.now()) + milliseconds / SHARE;
  }

  stop(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
  }
}
