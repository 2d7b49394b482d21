// What is only looked at: asked for once it has rested, the latest alone, and given up when it is no longer meant.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Step } from '@noble-prism/core/steps/kinds';
import { Trying } from './trying.ts';

const calls: string[] = [];
let answer = (task: string) => Promise.resolve({ task });
vi.mock('../api/client.ts', () => ({
  api: {
    tryOut: (_job: string, [step]: Step[]) => {
      calls.push(`try ${step.id}`);
      return answer(`task of ${step.id}`);
    },
    cancel: (task: string) => {
      calls.push(`cancel ${task}`);
      return Promise.resolve();
    },
  },
}));

const steps = (id: string) => async () => [{ id } as Step];
const failed = vi.fn();
let trying: Trying;
beforeEach(() => {
  vi.useFakeTimers();
  calls.length = 0;
  failed.mockClear();
  trying = new Trying();
});
afterEach(() => vi.useRealTimers());
const rest = () => vi.advanceTimersByTimeAsync(1000);

describe('work for what is only tried', () => {
  it('is asked for once, and of quick changes only for the last', async () => {
    const [a, b] = [{}, {}];
    trying.ask(a, 'j', steps('a'), failed);
    trying.ask(b, 'j', steps('b'), failed);
    trying.ask(b, 'j', steps('b'), failed);
    await rest();
    expect(calls).toEqual(['try b']);
  });

  it('is given up with what it was for, also where it was still on its way', async () => {
    trying.ask({}, 'j', steps('a'), failed);
    await rest();
    trying.end();
    expect(calls).toEqual(['try a', 'cancel task of a']);
    let arrive = (_: { task: string }) => {};
    answer = () => new Promise((resolve) => (arrive = resolve));
    trying.ask({}, 'j', steps('b'), failed);
    await rest();
    trying.end();
    arrive({ task: 'late' });
    await rest();
    expect(calls.slice(2)).toEqual(['try b', 'cancel late']);
    answer = (task) => Promise.resolve({ task });
  });

  it('is not asked for where it is no longer meant, and says what went wrong where it is', async () => {
    trying.ask({}, 'j', async () => undefined, failed);
    await rest();
    expect(calls).toEqual([]);
    answer = () => Promise.reject(new Error('lost'));
    trying.ask({}, 'j', steps('a'), failed);
    await rest();
    expect(failed).toHaveBeenCalledOnce();
    answer = (task) => Promise.resolve({ task });
  });
});
