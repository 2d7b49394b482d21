import { describe, expect, it } from 'vitest';
import { inLanes, sideBySide } from './sideBySide.ts';

const soon = () => new Promise((resolve) => setTimeout(resolve, 1));

describe('side by side', () => {
  it('keeps the order, and never has more under way than allowed', async () => {
    let open = 0;
    let most = 0;
    const out = await sideBySide([5, 4, 3, 2, 1], 2, async (item, index) => {
      most = Math.max(most, ++open);
      await soon();
      open--;
      return item * 10 + index;
    });
    expect(out).toEqual([50, 41, 32, 23, 14]);
    expect(most).toBe(2);
  });

  it('begins nothing more after a failure', async () => {
    const begun: number[] = [];
    const work = async (item: number) => {
      begun.push(item);
      await soon();
      if (item === 1) throw new Error('one');
    };
    await expect(sideBySide([0, 1, 2, 3, 4, 5, 6, 7], 2, work)).rejects.toThrow('one');
    await soon();
    expect(begun.length).toBeLessThan(5);
  });

  it('takes what is given out next, however it is chosen', async () => {
    const waiting = [1, 2, 3, 4, 5];
    const done: number[] = [];
    await inLanes(
      2,
      async () => waiting.pop(),
      async (item) => {
        await soon();
        done.push(item);
      },
    );
    expect(done.sort()).toEqual([1, 2, 3, 4, 5]);
  });

  it('has nothing to do for nothing', async () => {
    expect(await sideBySide([], 3, async () => 1)).toEqual([]);
  });
});
