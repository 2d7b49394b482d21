/** Reader of MTL files: the materials of an OBJ, classic keys and the physically based ones in common use. */
import { linearFromSrgb } from '../../finish/colour.ts';
import type { Material, TextureSlot, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { asUtf8, Scanner } from '../scanner.ts';
import { referredTexture } from '../referredTexture.ts';

type MtlMaterial = Omit<Material, 'id' | 'origin'>;

/** Keys of pictures, and what they are for here. */
const PICTURES: Record<string, TextureSlot> = {
  map_kd: 'baseColor',
  map_ke: 'emissive',
  norm: 'normal',
  map_bump: 'normal',
  bump: 'normal',
  map_kn: 'normal',
  map_pr: 'roughness',
  map_pm: 'metallic',
  map_d: 'opacity',
};

/** Pictures that have no place in a metal-rough material. */
const OTHER_PICTURES = new Set(['map_ks', 'map_ka', 'map_ns', 'map_ps', 'disp', 'decal', 'refl', 'map_refl']);

/** Options of a picture with the number of values that follow; those with `-` 0 have none. */
const OPTIONS: Record<string, number> = {
  '-blendu': 1, '-blendv': 1, '-boost': 1, '-mm': 2, '-o': 3, '-s': 3, '-t': 3, '-texres': 1, '-clamp': 1, '-bm': 1, '-imfchan': 1, '-type': 1, '-cc': 1,
}; // prettier-ignore

/** Materials of the file by name, entered in the builder. Pictures are looked for beside it. */
export function readMtl(bytes: Uint8Array, path: string, builder: SceneBuilder): Map<string, string> {
  const scanner = new Scanner(asUtf8(bytes));
  const materials = new Map<string, MtlMaterial>();
  let current: MtlMaterial | undefined;
  let statesRoughness = false;
  while (scanner.anywhere()) {
    const key = scanner.word().toLowerCase();
    const rest = scanner.more() ? scanner.rest() : '';
    scanner.nextLine();
    if (key === 'newmtl') {
      current = { name: rest || 'Material', baseColor: [0.6, 0.6, 0.6], opacity: 1, metallic: 0, roughness: 0.7 };
      statesRoughness = false;
      materials.set(rest, current);
      continue;
    }
    if (!current) continue;
    const numbers = rest.split(/\s+/).map(Number);
    const [first] = numbers;
    if (key === 'kd' && isColour(numbers)) current.baseColor = linear(numbers);
    else if (key === 'ke' && isColour(numbers) && numbers.some((value) => value > 0))
      current.emissive = linear(numbers);
    else if (key === 'd' && isShare(first)) current.opacity = first;
    else if (key === 'tr' && isShare(first)) current.opacity = 1 - first;
    else if (key === 'pr' && isShare(first)) {
      current.roughness = first;
      statesRoughness = true;
    } else if (key === 'pm' && isShare(first)) current.metallic = first;
    // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
    else if (key === 'ns' && first >= 0 && !statesRoughness) current.roughness = Math.min(1, (2 / (first + 2)) ** 0.25);
    else if (key in PICTURES) {
      const use = pictureOf(rest, path, builder);
      if (use) current.textures = { ...current.textures, [PICTURES[key]]: use };
      // The colour of a picture stands alone where the diffuse colour was left black.
      if (use && key === 'map_kd' && current.baseColor.every((value) => value === 0)) current.baseColor = [1, 1, 1];
      if (use && key === 'map_ke') current.emissive ??= [1, 1, 1];
      if (use && key === 'map_pr') current.roughness = 1;
      if (use && key === 'map_pm') current.metallic = 1;
      if (use && key === 'map_d') current.blended = true;
    } else if (OTHER_PICTURES.has(key) && rest) {
      pictureOf(rest, path, builder);
      builder.notRead.add(`Pictures for ${key}: kept with the source, bound to no material.`);
    }
  }
  return new Map([...materials].map(([name, material]) => [name, builder.material(withOwnOpacity(material))]));
}

/** One picture for colour and opacity means the opacity that stands in it beside the colour (common practice). */
function withOwnOpacity(material: MtlMaterial): MtlMaterial {
  const { opacity, ...textures } = material.textures ?? {};
  return opacity && opacity.texture === textures.baseColor?.texture ? { ...material, textures } : material;
}

/** A picture with its options: `-s 2 2 1 -o 0.5 0 brick.png`. */
function pictureOf(text: string, path: string, builder: SceneBuilder): TextureUse | undefined {
  const words = text.split(/\s+/);
  const use: Omit<TextureUse, 'texture'> = { uv: 0 };
  let at = 0;
  while (at < words.length && words[at] in OPTIONS) {
    const option = words[at++];
    const values: number[] = [];
    // The last of three values may be left out.
    while (
      values.length < OPTIONS[option] &&
      at < words.length - 1 &&
      (values.length === 0 || Number.isFinite(Number(words[at])))
    )
      values.push(Number(words[at++]));
    const [u, v = 1] = values;
    if (option === '-s' && Number.isFinite(u + v)) use.scale = [u, v];
    if (option === '-o' && Number.isFinite(u)) use.offset = [u, values[1] ?? 0];
    if (option === '-bm' && Number.isFinite(u)) use.strength = u;
    if (option === '-imfchan' && 'rgb'.includes(words[at - 1])) use.channel = words[at - 1] as 'r' | 'g' | 'b';
    if (option === '-imfchan' && words[at - 1] === 'm') use.channel = 'a';
    if (option === '-clamp' && words[at - 1] === 'on') use.wrap = 'clamp';
  }
  const name = words.slice(at).join(' ');
  // The origin of the picture is lower left there, upper left in the scene.
  if (use.offset ?? use.scale) use.offset = [use.offset?.[0] ?? 0, 1 - (use.scale?.[1] ?? 1) - (use.offset?.[1] ?? 0)];
  return name ? { texture: referredTexture(builder, name, path), ...use } : undefined;
}

const isShare = (value: number) => value >= 0 && value <= 1;
const isColour = (values: number[]) => values.length >= 3 && values.every((value) => value >= 0);

function linear(values: number[]): [number, number, number] {
  return [0, 1, 2].map((i) => linearFromSrgb(Math.min(1, values[i]))) as [number, number, number];
}
