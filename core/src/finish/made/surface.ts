/** The pictures of a made surface as files: what a worker is asked for. */
import { picturesOf, PIXELS } from './pictures.ts';
import { pngOf } from './png.ts';
import type { RecipeName } from './recipes.ts';

export interface SurfaceInput {
  recipe: RecipeName;
  /** Length that the pictures cover, metres. */
  size: number;
}

/** PNG files. */
export interface SurfaceOutput {
  pixels: number;
  baseColor: Uint8Array;
  normal: Uint8Array;
  surface: Uint8Array;
}

export async function surface({ recipe, size }: SurfaceInput): Promise<SurfaceOutput> {
  const { baseColor, normal, surface: rest } = picturesOf(recipe, size);
  return { pixels: PIXELS, baseColor: pngOf(baseColor), normal: pngOf(normal), surface: pngOf(rest) };
}
