/**
 * What a picture looks like, whatever its name says: grey, seen through, or normals, and to which side their green points. The slopes that
 * normals stand for are those of one height field, so that going right and then down comes to the same as down and then right; only with
 * green the right way round is that so (the integrability of Frankot and Chellappa, 1988).
 */
import type { Picture } from '../../surroundings.ts';

export interface PictureSigns {
  /** All three colours are the same everywhere. */
  grey: boolean;
  /** Something can be seen through. */
  alpha?: boolean;
  /** It looks like normals of a surface: mostly straight up. */
  normals?: 'up' | 'down' | 'either';
}

/** Differences between colours that compression makes, of 255. */
const NOISE = 6;
/** Below this agreement, of 1, slopes say nothing about the direction. */
const SURE = 0.1;

export function signsOf(picture: Picture): PictureSigns {
  const { width, height, data } = picture;
  let [coloured, seenThrough, upright, counted] = [0, 0, 0, 0];
  // A few tens of thousands of pixels say it.
  const stride = Math.max(1, Math.floor((width * height) / 60_000));
  for (let i = 0; i < width * height; i += stride) {
    const at = i * 4;
    const [r, g, b] = [data[at], data[at + 1], data[at + 2]];
    counted++;
    if (Math.max(r, g, b) - Math.min(r, g, b) > NOISE) coloured++;
    if (data[at + 3] < 250) seenThrough++;
    // A direction has the length one, and is seen from in front.
    const length = Math.hypot(r - 127.5, g - 127.5, b - 127.5) / 127.5;
    if (Math.abs(length - 1) < 0.12 && b > 140) upright++;
  }
  const isNormals = counted > 0 && upright / counted > 0.9;
  return {
    grey: coloured / counted < 0.002,
    ...(seenThrough / counted > 0.001 ? { alpha: true } : {}),
    ...(isNormals ? { normals: directionOf(picture) } : {}),
  };
}

function directionOf({ width, height, data }: Picture): 'up' | 'down' | 'either' {
  const slope = (x: number, y: number, channel: number) => {
    const at = (y * width + x) * 4;
    return (data[at + channel] - 127.5) / Math.max(16, data[at + 2] - 127.5);
  };
  let [both, right, down] = [0, 0, 0];
  const stride = Math.max(1, Math.floor(Math.sqrt((width * height) / 250_000)));
  for (let y = 1; y + 1 < height; y += stride)
    for (let x = 1; x + 1 < width; x += stride) {
      const p = slope(x, y + 1, 0) - slope(x, y - 1, 0);
      const q = slope(x + 1, y, 1) - slope(x - 1, y, 1);
      both += p * q;
      right += p * p;
      down += q * q;
    }
  const agreement = both / Math.sqrt(right * down || 1);
  // Rows go down: with green upwards the two differ in sign.
  if (Math.abs(agreement) < SURE) return 'either';
  return agreement < 0 ? 'up' : 'down';
}
