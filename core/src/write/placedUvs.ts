/** Texture coordinates with the way in which a picture lies written in, for formats that have no place for it. */
/** What formats say of the places of pictures that write them so. */
export const IN_COORDINATES = 'written into the coordinates';

/** As uses of pictures say it. */
export interface Placing {
  offset?: readonly number[];
  scale?: readonly number[];
  /** Radians. */
  rotation?: number;
}

export const isPlacing = ({ offset, scale, rotation }: Placing): boolean =>
  (offset ?? [0, 0]).some((value) => value !== 0) || (scale ?? [1, 1]).some((value) => value !== 1) || (rotation ?? 0) !== 0; // prettier-ignore

/**
 * Scaled, turned and moved, as KHR_texture_transform has it.
 * @param uvs u and v in turn, their origin upper left
 */
export function placedUvs(
  uvs: ArrayLike<number>,
  { offset = [0, 0], scale = [1, 1], rotation = 0 }: Placing,
): Float32Array {
  const [sin, cos] = [Math.sin(rotation), Math.cos(rotation)];
  const out = new Float32Array(uvs.length);
  for (let i = 0; i < out.length; i += 2) {
    const [u, v] = [uvs[i] * scale[0], uvs[i + 1] * scale[1]];
    out[i] = cos * u + sin * v + offset[0];
    out[i + 1] = -sin * u + cos * v + offset[1];
  }
  return out;
}
