/** The pictures of a made surface: colour, normals, and occlusion, roughness and metalness in one, as glTF has them. */
import { srgbFromLinear } from '../colour.ts';
import { RECIPES } from './recipes.ts';
import type { Recipe, RecipeName, Texel } from './recipes.ts';

/** Red, green and blue, a byte each, rows from above. */
export interface MadePicture {
  width: number;
  height: number;
  data: Uint8Array;
}

export interface MadePictures {
  baseColor: MadePicture;
  normal: MadePicture;
  /** Occlusion in red, roughness in green, white in blue: metalness is the factor of the material. */
  surface: MadePicture;
}

/** Pixels across a made picture. */
export const PIXELS = 512;
/** Occlusion of what lies so much below its surroundings as these are wide is half. */
const SURROUNDINGS = 1 / 48;

/** @param size length that the pictures cover, metres. @param pixels across each */
export function picturesOf(name: RecipeName, size: number, pixels = PIXELS): MadePictures {
  const recipe: Recipe = RECIPES[name];
  const count = pixels * pixels;
  const heights = new Float32Array(count);
  const [baseColor, normal, surface] = [0, 1, 2].map((): MadePicture => ({ width: pixels, height: pixels, data: new Uint8Array(count * 3) })); // prettier-ignore
  const texel: Texel = { colour: [0, 0, 0], height: 0, roughness: 1 };
  for (let y = 0, at = 0; y < pixels; y++)
    for (let x = 0; x < pixels; x++, at++) {
      recipe((x + 0.5) / pixels, (y + 0.5) / pixels, texel, size);
      heights[at] = texel.height;
      for (let k = 0; k < 3; k++) baseColor.data[at * 3 + k] = byte(srgbFromLinear(Math.min(1, Math.max(0, texel.colour[k])))); // prettier-ignore
      surface.data[at * 3 + 1] = byte(texel.roughness);
      surface.data[at * 3 + 2] = 255;
    }
  const pixel = size / pixels;
  const around = blurred(heights, pixels, Math.max(1, Math.round(pixels * SURROUNDINGS)));
  const step = (x: number) => (x + pixels) % pixels;
  for (let y = 0, at = 0; y < pixels; y++)
    for (let x = 0; x < pixels; x++, at++) {
      // Slopes over the neighbours on both sides; green points up, rows go down (glTF 2.0, 3.9.3).
      const dx = (heights[y * pixels + step(x + 1)] - heights[y * pixels + step(x - 1)]) / (2 * pixel);
      const dy = (heights[step(y - 1) * pixels + x] - heights[step(y + 1) * pixels + x]) / (2 * pixel);
      const length = Math.hypot(dx, dy, 1);
      normal.data[at * 3] = byte(0.5 - (0.5 * dx) / length);
      normal.data[at * 3 + 1] = byte(0.5 - (0.5 * dy) / length);
      normal.data[at * 3 + 2] = byte(0.5 + 0.5 / length);
      const below = Math.max(0, around[at] - heights[at]) / (size * SURROUNDINGS);
      surface.data[at * 3] = byte(1 / (1 + below * 4));
    }
  return { baseColor, normal, surface };
}

const byte = (value: number) => Math.round(Math.min(1, Math.max(0, value)) * 255);

/** Mean over a square around each pixel, over the edges of the tile. */
function blurred(values: Float32Array, pixels: number, radius: number): Float32Array {
  const along = (from: Float32Array, index: (line: number, i: number) => number) => {
    const out = new Float32Array(from.length);
    for (let line = 0; line < pixels; line++) {
      let sum = 0;
      for (let i = -radius; i <= radius; i++) sum += from[index(line, (i + pixels) % pixels)];
      for (let i = 0; i < pixels; i++) {
        out[index(line, i)] = sum / (2 * radius + 1);
        sum += from[index(line, (i + radius + 1) % pixels)] - from[index(line, (i - radius + pixels) % pixels)];
      }
    }
    return out;
  };
  return along(along(values, (y, x) => y * pixels + x), (x, y) => y * pixels + x); // prettier-ignore
}
