/** Materials that are the same within a tolerance, in groups: the five copies of one finish that a model brings. */
import { srgbFromLinear } from './colour.ts';
import { STANDARD_IOR } from '../scene/types.ts';
import type { Material } from '../scene/types.ts';

/**
 * How far two materials are from each other: the largest difference of what can be set, where colours are compared as they are seen
 * (encoded sRGB). Infinite where they differ in kind: other pictures, seen from both sides or not, cut out or not.
 */
export function differenceBetween(a: Material, b: Material): number {
  if (kindOf(a) !== kindOf(b)) return Infinity;
  const seen = (colour: readonly number[] = [0, 0, 0]) => colour.map(srgbFromLinear);
  const pairs: [number, number][] = [
    [a.opacity, b.opacity],
    [a.metallic, b.metallic],
    [a.roughness, b.roughness],
    [a.transmission ?? 0, b.transmission ?? 0],
    [a.ior ?? STANDARD_IOR, b.ior ?? STANDARD_IOR],
    [a.clearcoat ?? 0, b.clearcoat ?? 0],
    [a.clearcoatRoughness ?? 0, b.clearcoatRoughness ?? 0],
    ...seen(a.baseColor).map((value, i): [number, number] => [value, seen(b.baseColor)[i]]),
    ...seen(a.emissive).map((value, i): [number, number] => [value, seen(b.emissive)[i]]),
  ];
  return Math.max(...pairs.map(([one, other]) => Math.abs(one - other)));
}

function kindOf({ textures = {}, doubleSided, cutoff, blended, unlit }: Material): string {
  const uses = Object.entries(textures).sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([uses, doubleSided ?? false, cutoff ?? null, blended ?? false, unlit ?? false]);
}

/** Materials that become one. */
export interface AlikeGroup {
  /** The one that stays: that of most parts, and of these the one with the shortest name. */
  kept: Material;
  others: Material[];
  /** The largest difference of another from the kept one. */
  difference: number;
}

/**
 * Groups of materials of which none differs from the kept one by more than a tolerance. What is alone is in none.
 * @param users how many parts show each material, by id
 */
export function alikeGroups(
  materials: readonly Material[],
  users: ReadonlyMap<string, number>,
  tolerance: number,
): AlikeGroup[] {
  const open = [...materials].sort(
    (a, b) =>
      (users.get(b.id) ?? 0) - (users.get(a.id) ?? 0) || a.name.length - b.name.length || (a.id < b.id ? -1 : 1),
  );
  const groups: AlikeGroup[] = [];
  for (let kept = open.shift(); kept; kept = open.shift()) {
    const others: Material[] = [];
    let difference = 0;
    for (let i = open.length - 1; i >= 0; i--) {
      const apart = differenceBetween(kept, open[i]);
      if (apart > tolerance) continue;
      difference = Math.max(difference, apart);
      others.unshift(...open.splice(i, 1));
    }
    if (others.length > 0) groups.push({ kept, others, difference });
  }
  return groups;
}
