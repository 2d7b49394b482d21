/**
 * Whether a size makes sense: what else is about that large, and which unit would make sense where it does not. The ranges are common
 * practice of the trade; models that lost their unit are off by 10, 25.4, 100, 304.8 or 1000.
 */
import { formatLength } from '../units.ts';
import type { Vector } from './matrix.ts';
import type { Box } from './types.ts';

export interface Plausibility {
  /** What is about that large, for people. */
  likeness: string;
  /** True where nothing that is modelled for pictures is that small or that large. */
  doubtful: boolean;
  /** True where it cannot be: larger than the Earth. */
  impossible: boolean;
  /** Units that would give a size that makes more sense, and how large it would be then. Metres. */
  alternatives: { unit: string; factor: number; largest: number }[];
}

/** Whole models are rarely smaller or larger than this, metres. */
const SMALLEST = 0.003;
const LARGEST = 1000;
/** Diameter of the Earth at the equator, metres (WGS 84: twice 6 378 137 m). */
export const EARTH = 12_756_274;
/** Where an alternative has to land to be worth naming, metres. */
const LIKELY = [0.05, 250] as const;

const UNITS: readonly [name: string, metres: number][] = [
  ['mm', 0.001],
  ['cm', 0.01],
  ['inch', 0.0254],
  ['foot', 0.3048],
  ['m', 1],
];

/**
 * @param size metres: two horizontal sides and the height, in this order
 * @param unit the unit it was read in
 */
export function plausibility(size: Vector, unit: { metres: number; declared: boolean }): Plausibility {
  const largest = Math.max(...size);
  const doubtful = largest > 0 && (largest < SMALLEST || largest > LARGEST);
  const alternatives =
    doubtful || !unit.declared
      ? UNITS.map(([name, metres]) => ({
          unit: name,
          factor: metres / unit.metres,
          largest: (largest * metres) / unit.metres,
        })).filter(
          (other) => Math.abs(other.factor - 1) > 1e-6 && other.largest >= LIKELY[0] && other.largest <= LIKELY[1],
        )
      : [];
  return { likeness: likenessOf(size), doubtful, impossible: !(largest <= EARTH), alternatives };
}

/** What is to be said of a box that cannot be; undefined for any other. */
export function impossibleSize({ min, max }: Box): string | undefined {
  const largest = Math.max(...max.map((high, axis) => high - min[axis]));
  if (largest <= EARTH) return undefined;
  return `It is ${formatLength(largest, 'km')} long, larger than the Earth: its unit or its numbers cannot be right. Send nothing of it before that is cleared up.`;
}

function likenessOf([length, width, height]: Vector): string {
  const largest = Math.max(length, width, height);
  const [thin, wide] = length < width ? [length, width] : [width, length];
  if (largest <= 0) return 'nothing that has a size';
  if (largest < SMALLEST) return 'smaller than a bolt head';
  if (largest < 0.05) return 'a bolt or a fitting';
  if (height >= 1.9 && height <= 2.3 && thin < 0.35 && wide >= 0.5 && wide <= 1.5) return 'a door leaf';
  if (height >= 1.5 && height <= 2.1 && wide < 1.2) return 'a standing person';
  if (largest < 0.5) return 'something held in the hand';
  if (largest < 1.5) return 'a piece of furniture or a small machine';
  if (height >= 2.4 && height <= 4.5 && wide >= 6 && wide < 60) return 'one storey';
  if (largest < 7) return 'a machine or a vehicle';
  if (largest < 60) return 'a large machine or a house';
  if (largest < 400) return 'a large building';
  if (largest < LARGEST) return 'a site';
  return largest <= EARTH ? 'a landscape' : 'larger than the Earth';
}
