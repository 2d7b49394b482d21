/** Least and greatest of any number of values: as arguments of a call, some hundred thousand are too many. */
export function extremes(values: Iterable<number>): [least: number, most: number] | undefined {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return least <= most ? [least, most] : undefined;
}
