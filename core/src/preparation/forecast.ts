/** The forecast: how many triangles a job would have at several chord deviations, from a sample of its solids. */
import { sideBySide } from '../sideBySide.ts';
import { asPrismError } from '../errors.ts';
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import { roundedStretch, stretchOfShapes } from '../scene/stretch.ts';
import type { Hash, Scene, SolidInfo } from '../scene/types.ts';
import type { ForecastOutput } from '../solid/forecast.ts';
import type { Surroundings } from '../surroundings.ts';

/** Chord deviations, metres, from coarse to fine. */
export const FORECAST_CHORDS = [0.01, 0.005, 0.002, 0.001, 0.0005, 0.0002, 0.0001, 0.00005] as const;

export interface Forecast {
  /** Radians. */
  angle: number;
  points: { chord: number; triangles: number }[];
  /** Distinct solids that were meshed, and all there are. */
  sampled: number;
  solids: number;
  /** Share of the text of all placements that the sample stands for, 0 to 1. */
  share: number;
}

interface Candidate {
  id: Hash;
  info: SolidInfo;
  places: number;
  /** What it weighs in the job: text and places; text follows the faces, and faces the triangles. */
  weight: number;
}

const SAMPLE = 80;
/** Text that is translated for a forecast, bytes: it has to be quicker than the run itself. */
const MOST_TEXT = 6_000_000;

/** The weightiest solids, and of the others every so many-th. */
export function sampleOf(scene: Scene): { sample: Candidate[]; all: Candidate[] } {
  const places = new Map<Hash, number>();
  for (const { solid } of scene.nodes) if (solid) places.set(solid, (places.get(solid) ?? 0) + 1);
  const all = [...places]
    .map(([id, count]) => ({
      id,
      info: scene.solids[id],
      places: count,
      weight: (scene.solids[id]?.bytes ?? 0) * count,
    }))
    .filter(({ info }) => info?.text)
    .sort((a, b) => b.weight - a.weight || (a.id < b.id ? -1 : 1));
  const heavy = all.slice(0, SAMPLE / 2);
  const rest = all.slice(SAMPLE / 2);
  const pace = Math.max(1, Math.floor(rest.length / (SAMPLE / 2)));
  const sample: Candidate[] = [];
  let text = 0;
  for (const candidate of [...heavy, ...rest.filter((_, i) => i % pace === 0).slice(0, SAMPLE / 2)]) {
    text += candidate.info.bytes;
    if (sample.length > 0 && text > MOST_TEXT) break;
    sample.push(candidate);
  }
  return { sample, all };
}

/** @param angle radians */
export async function forecast(
  scene: Scene,
  angle: number,
  { memo, blobs, workbench, progress, signal }: Surroundings,
): Promise<Forecast> {
  const { sample, all } = sampleOf(scene);
  const stretches = stretchOfShapes(scene.nodes, 'solid', factsOf(scene).stretches);
  // Chord deviations are those of the job: where a solid stands larger than it is, it is meshed finer.
  const scales = sample.map(
    ({ id, info }) => (info.scale ?? 1) * roundedStretch(stretches[scene.nodes.tables.words.find(id)]),
  );
  const keys = sample.map(({ id }, i) => hashData(['forecast', 2, id, angle, FORECAST_CHORDS, ...(scales[i] === 1 ? [] : [scales[i]])])); // prettier-ignore
  const known = await memo.get(keys);
  const counts: (number | null)[][] = [];
  let done = 0;
  const measure = async (key: string, info: SolidInfo, scale: number): Promise<ForecastOutput> => {
    try {
      const input = {
        text: await blobs.get(info.text),
        chords: FORECAST_CHORDS,
        angle,
        ...(scale === 1 ? {} : { scale }),
      };
      const result = await workbench.run('forecast', input, signal);
      await memo.set(key, result);
      return result;
    } catch (error) {
      if (asPrismError(error).code === 'cancelled') throw error;
      // A solid that cannot be meshed has no triangles at any limit.
      return { triangles: FORECAST_CHORDS.map(() => 0) };
    }
  };
  await sideBySide(sample, workbench.width, async ({ info }, i) => {
    signal?.throwIfAborted();
    const remembered = known.get(keys[i]) as ForecastOutput | undefined;
    counts[i] = (remembered ?? (await measure(keys[i], info, scales[i]))).triangles;
    progress({ what: `Forecast: ${info.name || info.entity}`, done: ++done, total: sample.length });
  });
  const total = all.reduce((sum, { weight }) => sum + weight, 0);
  const part = sample.reduce((sum, { weight }) => sum + weight, 0);
  const points = FORECAST_CHORDS.flatMap((chord, i) => {
    if (counts.some((list) => list[i] === null)) return [];
    const triangles = sample.reduce((sum, { places }, s) => sum + places * (counts[s][i] ?? 0), 0);
    return [{ chord, triangles: Math.round(part > 0 ? (triangles * total) / part : 0) }];
  });
  return { angle, points, sampled: sample.length, solids: all.length, share: total > 0 ? part / total : 1 };
}

/** Triangles at any chord deviation: straight lines between the points on logarithmic scales; undefined outside of them. */
export function forecastAt({ points }: Forecast, chord: number): number | undefined {
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    if (chord > a.chord || chord < b.chord || a.triangles <= 0) continue;
    const t = Math.log(chord / a.chord) / Math.log(b.chord / a.chord);
    return Math.round(a.triangles * (b.triangles / a.triangles) ** t);
  }
  return undefined;
}
