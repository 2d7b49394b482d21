/** What is exact in solids, for kinds of step that place by it and for those who point at it: read once for each solid, and remembered. */
import type { ExactShape } from '../measure/exactShape.ts';
import type { Vector } from '../scene/matrix.ts';
import type { Hash } from '../scene/types.ts';
import { Heavy } from './heavy.ts';

/** What is remembered of a solid. */
export interface ReadSolid {
  /** The blob of its {@link ExactShape}, JSON. */
  shape: Hash;
  /** Square metres, and the centre of it. */
  area: number;
  areaCentre: Vector;
  /** Cubic metres, and the centre of it; none of a shape that is not closed. */
  volume?: number;
  centroid?: Vector;
}

/** Nothing can be set about it. */
export const NO_LIMITS = {};

export const readingExact = new Heavy<object, 'exact', ReadSolid>({
  kind: 'exact',
  version: 2,
  task: 'exact',
  of: 'solid',
  // A survey knows of solids before they are stored.
  ready: ({ solids }, solid) => Boolean(solids[solid]?.text),
  // How large it is to be is a matter of its name only where the text is another one.
  limits: (_, { solids }, solid) => solids[solid]?.scale ?? 1,
  weight: ({ solids }, solid) => solids[solid].bytes,
  async input({ solids }, solid, _, blobs) {
    const { text, scale } = solids[solid];
    return { text: await blobs.get(text), ...(scale ? { scale } : {}) };
  },
  async keep(found, blobs) {
    const { area, areaCentre, volume, centroid } = found;
    const shape = await blobs.put(new TextEncoder().encode(JSON.stringify(found)));
    return { shape, area, areaCentre, ...(volume === undefined ? {} : { volume, centroid }) };
  },
});

/** Reads the blob of a shape. */
export function unpackExact(bytes: Uint8Array): ExactShape {
  return JSON.parse(new TextDecoder().decode(bytes)) as ExactShape;
}
