/**
 * A ball of a material under the light of a studio, drawn without a graphics card: the picture that stands for it in lists. Light comes
 * from a wide lamp above on the left, a strip on the right, and a pale room; reflections by GGX with Schlick's approximation (Walter et
 * al. 2007, Schlick 1994), a room blurred by roughness instead of samples of it.
 */
import type { Material } from '../scene/types.ts';
import { srgbFromLinear } from './colour.ts';
import { RECIPES } from './made/recipes.ts';
import type { MadeOf } from './library/entry.ts';
import type { Recipe, Texel } from './made/recipes.ts';

type Rgb = [number, number, number];
interface Lamp {
  /** Where it stands, length one, and its light. */
  to: Rgb;
  light: number;
  /** Half of its width, of one: it looks so wide in a mirror. */
  wide: number;
}

const unit = ([x, y, z]: Rgb): Rgb => {
  const length = Math.hypot(x, y, z);
  return [x / length, y / length, z / length];
};
const LAMPS: readonly Lamp[] = [
  { to: unit([-0.5, 0.75, 0.55]), light: 2.4, wide: 0.22 },
  { to: unit([0.85, 0.15, 0.4]), light: 0.9, wide: 0.14 },
];
const dot = (a: Rgb, b: Rgb) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The room as it is seen in a direction: bright above, a floor below, a dark horizon that shows that something mirrors. */
function room(y: number, rough: number): number {
  const sharp = 1 / (0.08 + 0.9 * rough);
  const above = 1 / (1 + Math.exp(-y * 6 * sharp));
  const horizon = Math.exp(-((y * 4.5 * sharp) ** 2)) * (1 - rough) * 0.55;
  return Math.max(0.02, 0.16 + 0.62 * above - horizon);
}

/** What of a repeating surface lies on the ball, tiles: as a ball of 30 cm would be covered. */
const BALL = 0.3;

/** @param pixels across. @returns red, green, blue and opacity, a byte each, rows from above; nothing around the ball */
export function swatch(material: Material & { made?: MadeOf }, pixels: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(pixels * pixels * 4);
  const { made } = material;
  const recipe: Recipe | undefined = made && RECIPES[made.recipe];
  const texel: Texel = { colour: [0, 0, 0], height: 0, roughness: 1 };
  const radius = pixels / 2 - 0.75;
  for (let row = 0; row < pixels; row++)
    for (let column = 0; column < pixels; column++) {
      const [x, y] = [(column + 0.5 - pixels / 2) / radius, -(row + 0.5 - pixels / 2) / radius];
      const from = Math.hypot(x, y);
      if (from >= 1 + 1 / radius) continue;
      // At the very edge everything mirrors the horizon: a ring that is no property of the material.
      const inside = Math.min(0.985, from);
      const z = Math.sqrt(Math.max(0, 1 - inside * inside));
      let normal = unit([x, y, z + 1e-4]);
      let { baseColor, roughness } = material;
      if (recipe && made) {
        const span = Math.max(BALL / made.size, 0.45);
        const [u, v] = [
          0.5 + (Math.atan2(x, z) / Math.PI) * span,
          0.5 - (Math.asin(Math.max(-1, Math.min(1, y))) / Math.PI) * span,
        ];
        recipe(u, v, texel, made.size);
        baseColor = [...texel.colour];
        ({ roughness } = texel);
        normal = bumped(normal, recipe, texel, u, v, made.size);
      }
      const lit = shaded(material, baseColor, roughness, normal, y);
      const at = (row * pixels + column) * 4;
      for (let k = 0; k < 3; k++) out[at + k] = srgbFromLinear(1 - Math.exp(-1.05 * lit[k])) * 255;
      out[at + 3] = Math.min(1, (1 - from) * radius + 1) * 255;
    }
  return out;
}

/** The normal tilted by the heights around a point. */
function bumped(normal: Rgb, recipe: Recipe, texel: Texel, u: number, v: number, size: number): Rgb {
  const step = 1 / 300;
  const here = texel.height;
  recipe(u + step, v, texel, size);
  const right = texel.height;
  recipe(u, v + step, texel, size);
  const down = texel.height;
  return unit([normal[0] - (right - here) / (step * size), normal[1] + (down - here) / (step * size), normal[2]]);
}

function shaded(material: Material, baseColor: Rgb, roughness: number, normal: Rgb, y: number): Rgb {
  const { metallic, transmission = 0, ior = 1.5, clearcoat = 0, clearcoatRoughness = 0, emissive = [0, 0, 0], opacity } = material;
  const facing = Math.max(0.02, normal[2]);
  const dielectric = ((ior - 1) / (ior + 1)) ** 2;
  const fresnel = (at: number, cosine: number) => at + (1 - at) * (1 - cosine) ** 5;
  // The eye looks along -z: what is mirrored comes from there.
  const mirrored: Rgb = [2 * normal[0] * normal[2], 2 * normal[1] * normal[2], 2 * normal[2] * normal[2] - 1];
  const seen = (rough: number) => {
    let light = room(mirrored[1], rough);
    const wide = Math.max(0.02, rough * rough);
    for (const lamp of LAMPS) {
      const away = Math.max(0, Math.acos(Math.min(1, dot(mirrored, lamp.to))) - lamp.wide * (1 - rough));
      // As broad as the surface is rough, and as much fainter.
      light += (lamp.light * 1.9 * Math.exp(-((away / (0.12 + wide)) ** 2))) / (1 + 7 * wide);
    }
    return light;
  };
  let diffuse = 0.5 * (0.62 + 0.38 * normal[1]);
  for (const { to, light } of LAMPS) diffuse += Math.max(0, dot(normal, to)) * light * 0.32;
  const reflected = seen(roughness);
  const coat = clearcoat * fresnel(0.04, facing);
  const coated = coat * seen(clearcoatRoughness);
  // What is seen through shows the ground behind: lighter below, as glass gathers it.
  const behind = 0.75 + 0.35 * -y;
  return baseColor.map((colour, k) => {
    const at = dielectric + (colour - dielectric) * metallic;
    const mirror = fresnel(at, facing);
    const body = colour * (1 - metallic) * (1 - fresnel(dielectric, facing));
    const through = transmission + (1 - transmission) * (1 - opacity);
    return (body * (diffuse * (1 - through) + behind * through) + mirror * reflected) * (1 - coat) + coated + (emissive[k] ?? 0) * 0.14;
  }) as Rgb;
} // prettier-ignore
