/** Runs work on many items, some side by side. */

/**
 * Takes one item after the other, in whatever order they are given out, until there is none.
 * @param width items under way at a time
 * @throws whatever the first failing piece throws; no further one is begun after it
 */
export async function inLanes<T>(
  width: number,
  take: () => T | undefined | Promise<T | undefined>,
  work: (item: T) => Promise<void>,
): Promise<void> {
  let hasFailed = false;
  const lane = async () => {
    try {
      for (let item = await take(); item !== undefined && !hasFailed; item = await take()) await work(item);
    } catch (error) {
      hasFailed = true;
      throw error;
    }
  };
  await Promise.all(Array.from({ length: width }, lane));
}

/**
 * Results in the order of the items.
 * @param width items under way at a time
 * @throws whatever the first failing piece throws; no further one is begun after it
 */
export async function sideBySide<T, R>(
  items: readonly T[],
  width: number,
  work: (item: T, index: number) => Promise<R>,
): Promise<R[]> {
  const out = new Array<R>(items.length);
  let next = 0;
  await inLanes(
    Math.min(width, items.length),
    () => (next < items.length ? next++ : undefined),
    async (index) => {
      out[index] = await work(items[index], index);
    },
  );
  return out;
}
