/** Frames of a browser that a test draws itself, and clocks that it sets. */
import { afterEach, beforeEach, vi } from 'vitest';

/** For all tests of a file. */
export function fakeFrames(): {
  /** Draws: whatever was asked for until now is done. */
  frame(): void;
  /** How many are asked for. */
  waiting(): number;
} {
  let due: (() => void)[] = [];
  beforeEach(() => {
    due = [];
    vi.useFakeTimers();
    vi.stubGlobal('requestAnimationFrame', (callback: () => void) => due.push(callback));
    vi.stubGlobal('cancelAnimationFrame', () => (due = []));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  return { frame: () => due.splice(0).forEach((callback) => callback()), waiting: () => due.length };
}
