/** How many triangles one solid takes at several chord deviations: translated once, meshed from coarse to fine. */
import { PrismError } from '../errors.ts';
import { exactFaces } from './faces.ts';
import { dropKernel, kernel, MILLIMETRE, owning } from './kernel.ts';
import { meshWithin } from './meshWithin.ts';
import { translate } from './tessellate.ts';

export interface ForecastInput {
  text: Uint8Array;
  /** Chord deviations, metres, from coarse to fine. */
  chords: readonly number[];
  /** Radians. */
  angle: number;
  /** How much larger the solid is to be than its text says. */
  scale?: number;
}

export interface ForecastOutput {
  /** Triangles at each chord deviation; null for those that were not tried because it became too many. */
  triangles: (number | null)[];
}

/** Finer limits are not tried on a solid that has this many triangles already. */
const ENOUGH = 400_000;

/** @throws PrismError `solid-failed` */
export async function forecastSolid({ text, chords, angle, scale = 1 }: ForecastInput): Promise<ForecastOutput> {
  const oc = await kernel();
  try {
    return owning((own) => {
      const shape = translate(oc, text, own);
      const faces = exactFaces(oc, shape, own);
      let last = 0;
      const triangles = chords.map((chord) => {
        if (last > ENOUGH) return null;
        const { mesh } = meshWithin(oc, shape, faces, chord / MILLIMETRE / scale, angle, own);
        last = mesh.triangles.length / 3;
        return last;
      });
      return { triangles };
    });
  } catch (error) {
    if (error instanceof PrismError) throw error;
    // The instance may be left in any state after a trap.
    dropKernel();
    throw new PrismError('solid-failed', 'The kernel could not mesh this solid.');
  }
}
