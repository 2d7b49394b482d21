/** Work that comes again and again, and may take only a share of the time: the dearer it is, the longer it waits for more of it. */

/** Of the time, where others have to be answered too. */
const SHARE = 0.025;
/** Nothing waits longer than this for the next of it, milliseconds: parts would be missing where the processor draws. */
const LONGEST = 2000;

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
    const now = performance.now();
    this.#free = Math.min(Math.max(this.#free, now) + milliseconds / SHARE, now + LONGEST);
  }

  stop(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
  }
}
