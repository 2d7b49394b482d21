/**
 * Has the heavy work done of what is only looked at: by the server, which forgets it again where it is not applied. What is tried next
 * takes the place of what is still being computed.
 */
import type { Step } from '@noble-prism/core/steps/kinds';
import { api } from '../api/client.ts';

/** A form that is being filled in changes often: asked for when it has rested, milliseconds. */
const REST = 350;

export class Trying {
  /** What was asked for last: the same object is not asked for twice. */
  #asked: unknown;
  #task: string | undefined;
  #timer: ReturnType<typeof setTimeout> | undefined;

  /**
   * @param what is tried, by identity
   * @param steps asked for when it is sent; nothing where it is no longer meant
   */
  ask(what: object, job: string, steps: () => Promise<Step[] | undefined>, failed: (thrown: unknown) => void): void {
    if (this.#asked === what) return;
    this.#asked = what;
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      void (async () => {
        try {
          const list = await steps();
          if (!list || this.#asked !== what) return;
          const { task } = await api.tryOut(job, list);
          // Given up while it was on its way.
          if (this.#asked === what) this.#task = task;
          else void api.cancel(task).catch(() => {});
        } catch (thrown) {
          if (this.#asked === what) failed(thrown);
        }
      })();
    }, REST);
  }

  /** Nothing is tried any more, or it is applied: then it is computed as part of the job. */
  end(): void {
    clearTimeout(this.#timer);
    this.#asked = undefined;
    if (this.#task !== undefined) void api.cancel(this.#task).catch(() => {});
    this.#task = undefined;
  }
}
