/** Compares what a file states of its solids (volume, area, centre) with what was meshed of them. */
import { asTessellated } from './measured.ts';
import type { MeshFigures, Scene, StatedFigures } from './types.ts';

/** One part that is not what the file says it is. */
export interface StatedDifference {
  name: string;
  keys: string[];
  /** For people: what differs and by how much. */
  what: string;
}

export interface StatedCheck {
  /** Parts of which something is stated, and of them those that are meshed. */
  stated: number;
  meshed: number;
  differences: StatedDifference[];
}

/** Share by which figures may differ whatever the limits are: files round them, and so do single precision numbers. */
const ROUNDING = 0.002;
/** Share of the area that a tessellation at the widest angle loses on a cylinder (twelve sides: 1 - sin(π/12)/(π/12) is 1.1 %). */
const AREA = 0.03;

export function checkStated(scene: Scene, source?: string): StatedCheck {
  const differences = new Map<string, StatedDifference>();
  let stated = 0;
  let meshed = 0;
  if (!Object.values(scene.solids).some((info) => info.stated)) return { stated, meshed, differences: [] };
  for (const node of scene.nodes) {
    const info = node.solid ? scene.solids[node.solid] : undefined;
    if (!info?.stated || (source !== undefined && node.source !== source)) continue;
    stated++;
    const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
    if (!figures) continue;
    meshed++;
    const what = differenceOf(info.stated, asTessellated(scene, figures), info.scale ?? 1);
    if (!what) continue;
    const entry = differences.get(`${node.name}\n${node.solid}`);
    if (entry) entry.keys.push(node.key);
    else differences.set(`${node.name}\n${node.solid}`, { name: node.name, keys: [node.key], what });
  }
  return { stated, meshed, differences: [...differences.values()] };
}

/** What differs by more than the chord deviation explains; undefined where all agrees. */
function differenceOf(
  { volume, area, centroid }: StatedFigures,
  figures: MeshFigures,
  scale: number,
): string | undefined {
  const chord = figures.exact?.chord ?? 0;
  const percent = (found: number, expected: number) => `${(100 * (found / expected - 1)).toFixed(1)} %`;
  if (volume !== undefined) {
    const expected = volume * scale ** 3;
    // No surface moved further than the deviation, so no more volume than that times the area can be lost.
    const allowed = ROUNDING * expected + 1.1 * chord * figures.area;
    if (Math.abs(figures.volume - expected) > allowed)
      return `volume differs by ${percent(figures.volume, expected)} from what the file states`;
  }
  if (area !== undefined) {
    const expected = area * scale ** 2;
    if (Math.abs(figures.area - expected) > AREA * expected)
      return `area differs by ${percent(figures.area, expected)} from what the file states`;
  }
  if (centroid && figures.centroid) {
    const { min, max } = figures.bounds;
    const size = Math.hypot(...max.map((high, axis) => high - min[axis]));
    const away = Math.hypot(...figures.centroid.map((value, axis) => value - centroid[axis] * scale));
    if (away > ROUNDING * size + chord)
      return `centre lies ${(away * 1000).toFixed(2)} mm from where the file states it`;
  }
  return undefined;
}
