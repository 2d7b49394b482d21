/** The bands of the spectrum: parts ranked by the triangles they cost. All placements of one mesh under one name are one band. */
import { GONE } from '@noble-prism/core/scene/nodes';
import type { Scene } from '@noble-prism/core/scene/types';

export interface Band {
  /** Its rank: the number that its rows have in {@link Bands.of}. */
  rank: number;
  name: string;
  mesh: string;
  /** Placements. */
  count: number;
  /** Triangles drawn by all of them. */
  triangles: number;
}

export interface Bands {
  /** The heaviest, most triangles first. */
  list: Band[];
  /** Rank of the band of each row; -1 where it has none, or one that is beyond the list. */
  of: Int32Array;
  /** What is beyond the list. */
  rest: { bands: number; triangles: number };
}

export const NO_BANDS: Bands = { list: [], of: new Int32Array(), rest: { bands: 0, triangles: 0 } };

/** More than this cannot be told apart in a strip of any width. */
const MOST = 1000;

export function bandsOf(scene: Scene, most = MOST): Bands {
  const { nodes } = scene;
  const { kind, mesh, name } = nodes.columns;
  const { texts, words } = nodes.tables;
  const triangles: number[] = [];
  /** Equal names have one number. */
  const names = new Map<string, number>();
  const numberOf = new Int32Array(texts.length).fill(-1);
  const bands = new Map<number, number>();
  const found: { name: number; mesh: number; count: number; triangles: number }[] = [];
  const of = new Int32Array(nodes.rows).fill(-1);
  for (let row = 0; row < nodes.rows; row++) {
    if (mesh[row] === 0 || kind[row] === GONE) continue;
    let number = numberOf[name[row]];
    if (number < 0) {
      const text = texts.get(name[row]);
      number = names.get(text) ?? name[row];
      names.set(text, number);
      numberOf[name[row]] = number;
    }
    const key = number * words.length + mesh[row];
    let band = bands.get(key);
    if (band === undefined) {
      band = found.push({ name: number, mesh: mesh[row], count: 0, triangles: 0 }) - 1;
      bands.set(key, band);
    }
    const cost = (triangles[mesh[row]] ??= scene.meshes[words.get(mesh[row])].triangles);
    found[band].count++;
    found[band].triangles += cost;
    of[row] = band;
  }
  const ranked = heaviest(found, most);
  const rankOf = new Int32Array(found.length).fill(-1);
  ranked.forEach((band, rank) => (rankOf[band] = rank));
  for (let row = 0; row < of.length; row++) if (of[row] >= 0) of[row] = rankOf[of[row]];
  const list = ranked.map((band, rank) => {
    const { name: text, mesh: word, count, triangles: cost } = found[band];
    return { rank, name: texts.get(text), mesh: words.get(word), count, triangles: cost };
  });
  const all = found.reduce((sum, band) => sum + band.triangles, 0);
  const shown = list.reduce((sum, band) => sum + band.triangles, 0);
  return { list, of, rest: { bands: found.length - list.length, triangles: all - shown } };
}

/** Numbers of the heaviest bands, heaviest first; of equal ones the first in the tree. */
function heaviest(found: readonly { triangles: number }[], most: number): number[] {
  const numbers = found.map((_, band) => band);
  const before = (a: number, b: number) => found[b].triangles - found[a].triangles || a - b;
  if (numbers.length <= most) return numbers.sort(before);
  // What is lighter than the last one of the list need not be sorted.
  const costs = Float64Array.from(found, (band) => band.triangles).sort();
  const least = costs[costs.length - most];
  const heavier = numbers.filter((band) => found[band].triangles > least);
  const equal = numbers.filter((band) => found[band].triangles === least).slice(0, most - heavier.length);
  return [...heavier, ...equal].sort(before);
}
