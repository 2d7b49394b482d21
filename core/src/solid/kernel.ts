/** Loads the B-rep kernel (wasm) behind a small interface, and keeps one instance for each thread. */
import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { PrismError } from '../errors.ts';

export type Kernel = OpenCascadeInstance;

/** How to make an instance: the surroundings know where the wasm file is. */
export type KernelLoader = () => Promise<Kernel>;

/** The kernel works in millimetres whatever a STEP text says, and converts on reading; the numbers of BREP are taken as they are. */
export const MILLIMETRE = 0.001;

let loader: KernelLoader | undefined;
let instance: Promise<Kernel> | undefined;

/** Tells this thread how to load the kernel. Loading itself waits until a solid needs it. */
export function provideKernel(load: KernelLoader): void {
  loader = load;
}

/** The kernel of this thread. @throws PrismError `internal` where none was provided */
export function kernel(): Promise<Kernel> {
  if (!loader) throw new PrismError('internal', 'No kernel for solids was provided in this thread.');
  instance ??= loader();
  return instance;
}

/** Keeps what the kernel made until the work is over. */
export type Own = <T extends { delete(): void }>(object: T) => T;

/** Does some work with the kernel, and frees all that it owned, last first, however it ends. */
export function owning<R>(work: (own: Own) => R): R {
  const garbage: { delete(): void }[] = [];
  try {
    return work((object) => {
      garbage.push(object);
      return object;
    });
  } finally {
    for (const object of garbage.reverse()) object.delete();
  }
}

/** Forgets the instance, after it crashed: the next call loads a fresh one. */
export function dropKernel(): void {
  instance = undefined;
}
