/** The hues of the spectrum: parts ranked by the triangles they cost, red for the most, violet for the least. */
import type { Scene } from '@noble-prism/core/scene/types';

/** One band of the spectrum: all placements of one mesh under one name. */
export interface Band {
  key: string;
  name: string;
  nodes: number[];
  keys: string[];
  triangles: number;
  hue: string;
}

/** Bands by triangles drawn, most first. */
export function bandsOf(scene: Scene, isDark: boolean): Band[] {
  const bands = new Map<string, Band>();
  for (const node of scene.nodes) {
    if (!node.mesh) continue;
    const key = `${node.name} ${node.mesh}`;
    let band = bands.get(key);
    if (!band) bands.set(key, (band = { key, name: node.name, nodes: [], keys: [], triangles: 0, hue: '' }));
    band.nodes.push(node.id);
    band.keys.push(node.key);
    band.triangles += scene.meshes[node.mesh].triangles;
  }
  const sorted = [...bands.values()].sort((a, b) => b.triangles - a.triangles || (a.name < b.name ? -1 : 1));
  // Hues follow the running share, so that the heavy parts take most of the band and are told apart best.
  const total = sorted.reduce((sum, band) => sum + band.triangles, 0) || 1;
  let before = 0;
  sorted.forEach((band, rank) => {
    const share = (before + band.triangles / 2) / total;
    const position = 0.55 * share + 0.45 * (sorted.length > 1 ? rank / (sorted.length - 1) : 0);
    band.hue = hueAt(position, isDark);
    before += band.triangles;
  });
  return sorted;
}

/** @param position 0 (red) to 1 (violet) */
function hueAt(position: number, isDark: boolean): string {
  const hue = 4 + 262 * position;
  const light = isDark ? 58 : 46 - 6 * Math.abs(position - 0.25);
  return `hsl(${hue.toFixed(1)}, ${isDark ? 62 : 64}%, ${light.toFixed(1)}%)`;
}
