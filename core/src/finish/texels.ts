/** How many pixels of a material's picture lie on one step of the texture coordinates: with their figures that is pixels a metre. */
import type { Material, Texture, TextureUse } from '../scene/types.ts';

/** Taken where a material has no picture on a set: a size that such pictures often have (common practice). */
export const USUAL_PIXELS = 1024;

export interface Texels {
  /** Pixels along u and v for each step of one. */
  u: number;
  v: number;
  /** How the picture lies. */
  use?: TextureUse;
  /** True where there is no picture whose size is known, and the usual one is taken. */
  assumed: boolean;
}

/** Of the base colour before other pictures: that is what is looked at. @param set of texture coordinates */
export function texelsOf(
  { textures = {} }: Pick<Material, 'textures'>,
  known: Readonly<Record<string, Texture>>,
  set = 0,
): Texels {
  const uses = [textures.baseColor, ...Object.values(textures)].filter((use) => use?.uv === set) as TextureUse[];
  const use = uses.find(({ texture }) => known[texture]?.width !== undefined) ?? uses[0];
  const { width, height } = (use && known[use.texture]) ?? {};
  const [scaleU, scaleV] = use?.scale ?? [1, 1];
  return {
    u: (width ?? USUAL_PIXELS) * Math.abs(scaleU),
    v: (height ?? USUAL_PIXELS) * Math.abs(scaleV),
    ...(use ? { use } : {}),
    assumed: width === undefined || height === undefined,
  };
}
