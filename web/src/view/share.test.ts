// Work that comes again and again takes no more than its share of the time.
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Share } from './share.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Works for some time each time that it is done, for a minute in which it is asked for all the time. */
function minute(took: number): { done: number; busy: number } {
  const share = new Share();
  let done = 0;
  const work = () => {
    done++;
    vi.setSystemTime(Date.now() + took);
    vi.advanceTimersByTime(0);
  };
  const now = vi.spyOn(performance, 'now').mockImplementation(() => Date.now());
  const end = Date.now() + 60_000;
  while (Date.now() < end) {
    share.soon(work);
    vi.advanceTimersByTime(5);
  }
  share.stop();
  now.mockRestore();
  return { done, busy: done * took };
}

it('is done at once, and again soon where it is cheap', () => {
  expect(minute(0.0001).done).toBeGreaterThan(5000);
});

it('takes a twentieth of the time at most where it is dear', () => {
  const { done, busy } = minute(100);
  expect(done).toBeGreaterThan(5);
  expect(busy).toBeLessThan(3000);
});

it('does not wait for minutes where it is very dear: parts would be missing all that time', () => {
  expect(minute(5000).done).toBeGreaterThanOrEqual(8);
});
