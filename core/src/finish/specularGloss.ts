/** Specular-gloss materials as metal-rough ones and back, by the formulas in the Khronos glTF extension KHR_materials_pbrSpecularGlossiness. */

/** Reflectance of everything that is not a metal, at normal incidence. */
const DIELECTRIC = 0.04;
const EPSILON = 1e-6;

export interface SpecularGloss {
  diffuse: readonly number[];
  specular: readonly number[];
  glossiness: number;
}

/** Linear colours in, linear base colour and factors 0 to 1 out. */
export function metalRough({ diffuse, specular, glossiness }: SpecularGloss): {
  baseColor: [number, number, number];
  metallic: number;
  roughness: number;
} {
  const strength = 1 - Math.max(specular[0], specular[1], specular[2]);
  const metallic = solveMetallic(brightness(diffuse), brightness(specular), strength);
  const share = metallic * metallic;
  const baseColor = [0, 1, 2].map((i) => {
    const fromDiffuse = (diffuse[i] * strength) / (1 - DIELECTRIC) / Math.max(1 - metallic, EPSILON);
    const fromSpecular = (specular[i] - DIELECTRIC * (1 - metallic)) / Math.max(metallic, EPSILON);
    return Math.min(1, Math.max(0, fromDiffuse * (1 - share) + fromSpecular * share));
  }) as [number, number, number];
  return { baseColor, metallic, roughness: 1 - glossiness };
}

/** What a metal-rough material is called. Linear colours, factors 0 to 1. */
export interface MetalRough {
  baseColor: readonly number[];
  metallic: number;
  roughness: number;
}

/**
 * The way back: specular is what is reflected at normal incidence, diffuse what is no metal, of which the surface shows as much as is not
 * reflected (the extension's own conversion).
 */
export function specularGloss({ baseColor, metallic, roughness }: MetalRough): SpecularGloss {
  const specular = baseColor.map((value) => DIELECTRIC + (value - DIELECTRIC) * metallic);
  const strength = 1 - Math.max(...specular);
  const share = strength < EPSILON ? 0 : ((1 - DIELECTRIC) * (1 - metallic)) / strength;
  return { diffuse: baseColor.map((value) => value * share), specular, glossiness: 1 - roughness };
}

/** The largest difference that a material has from itself after it was converted there and back, 0 to 1. */
export function roundTripError(material: MetalRough): number {
  const back = metalRough(specularGloss(material));
  return Math.max(
    ...back.baseColor.map((value, i) => Math.abs(value - material.baseColor[i])),
    Math.abs(back.metallic - material.metallic),
    Math.abs(back.roughness - material.roughness),
  );
}

/** Perceived brightness, weights of the extension. */
function brightness([r, g, b]: readonly number[]): number {
  return Math.sqrt(0.299 * r * r + 0.587 * g * g + 0.114 * b * b);
}

function solveMetallic(diffuse: number, specular: number, strength: number): number {
  // What reflects as much as no metal does is none, however dark it is: there the equation has two answers.
  if (specular <= DIELECTRIC + EPSILON) return 0;
  const b = (diffuse * strength) / (1 - DIELECTRIC) + specular - 2 * DIELECTRIC;
  const c = DIELECTRIC - specular;
  const root = Math.sqrt(Math.max(0, b * b - 4 * DIELECTRIC * c));
  return Math.min(1, Math.max(0, (-b + root) / (2 * DIELECTRIC)));
}
