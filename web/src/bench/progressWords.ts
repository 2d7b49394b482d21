/** How far long work is, in words: how many of how many, for how long, and how long it is likely to take. */
import type { Progress } from '@noble-prism/core/surroundings';

/** Nothing is foretold before so many seconds, or so small a share of the work. */
const EARLY = { seconds: 4, share: 0.03 };

/** `12 of 47 · 8 s, about 20 s left`. @param now milliseconds since 1970 */
export function progressWords({ done, total, unit, since }: Progress, now: number): string {
  const count = unit ? `${done} ${unit}` : total > 1 ? `${done} of ${total}` : '';
  if (since === undefined) return count;
  const passed = Math.max(0, (now - since) / 1000);
  if (passed < 1) return count;
  const share = total > 0 ? done / total : 0;
  const foretold = passed >= EARLY.seconds && share >= EARLY.share && share < 1;
  const left = foretold ? `, about ${duration((passed * (1 - share)) / share)} left` : '';
  return [count, `${duration(passed)}${left}`].filter(Boolean).join(' · ');
}

/** `8 s`, `3 min`, `1 h 20 min`: as exact as somebody who waits needs it. */
export function duration(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
