/** Lists of numbers of entities by what they have in common. */

export function push<K>(map: Map<K, number[]>, key: K, value: number): void {
  const known = map.get(key);
  if (known) known.push(value);
  else map.set(key, [value]);
}
