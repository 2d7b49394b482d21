/** The hues of the spectrum: red for the part that costs most, violet for the least. */
import type { Bands } from './bands.ts';

/** A colour for each band, in their order. Hues follow the running share, so that the heavy parts take most of the band and are told apart best. */
export function huesOf({ list, rest }: Bands, isDark: boolean): string[] {
  const total = list.reduce((sum, band) => sum + band.triangles, 0) + rest.triangles || 1;
  const last = list.length + (rest.bands > 0 ? 1 : 0) - 1;
  let before = 0;
  return list.map(({ triangles }, rank) => {
    const share = (before + triangles / 2) / total;
    before += triangles;
    return hueAt(0.55 * share + 0.45 * (last > 0 ? rank / last : 0), isDark);
  });
}

/** Of what is beyond the list: the least. */
export function restHue(isDark: boolean): string {
  return hueAt(1, isDark);
}

/** @param position 0 (red) to 1 (violet) */
function hueAt(position: number, isDark: boolean): string {
  const hue = 4 + 262 * position;
  const light = isDark ? 58 : 46 - 6 * Math.abs(position - 0.25);
  return `hsl(${hue.toFixed(1)}, ${isDark ? 62 : 64}%, ${light.toFixed(1)}%)`;
}
