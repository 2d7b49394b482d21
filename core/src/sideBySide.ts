/** Runs work on many items, some side by side, results in the order of the items. */

/**
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
  const lane = async () => {
    while (next < items.length) {
      const index = next++;
      try {
        out[index] = await work(items[index], index);
      } catch (error) {
        next = items.length;
        throw error;
      }
    }
  };
  await Promise.all(Array.from({ length: Math.min(width, items.length) }, lane));
  return out;
}
