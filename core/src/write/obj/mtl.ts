/** Writes the materials of an OBJ (MTL): the classic keys, and the physically based ones in common use. Colours are sRGB, as programs take them. */
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import type { JoinedTexture } from '../../finish/joined.ts';
import { srgbFromLinear } from '../../finish/colour.ts';
import { isBlended } from '../../scene/types.ts';
import type { Material, TextureUse } from '../../scene/types.ts';
import type { PictureFiles } from '../pictureFiles.ts';
import { Pieces } from '../pieces.ts';

const [GREEN, BLUE] = [1, 2];
const DECIMALS = 6;

export async function writeMtl(materials: readonly Material[], pictures: PictureFiles): Promise<Uint8Array> {
  const text = new Pieces();
  for (const material of materials) await writeMaterial(text, material, pictures);
  return text.bytes();
}

async function writeMaterial(text: Pieces, material: Material, pictures: PictureFiles): Promise<void> {
  const { name, baseColor, opacity, metallic, roughness, emissive = [0, 0, 0], transmission = 0, ior } = material;
  const colour = (key: string, values: readonly number[]) =>
    text.text(`${key} `).numbers(values.map((value) => srgbFromLinear(Math.min(1, value))), 0, 3, DECIMALS).text('\n'); // prettier-ignore
  const value = (key: string, of: number) => text.text(`${key} `).number(of, DECIMALS).text('\n');
  text.text(`newmtl ${name}\n`);
  colour('Kd', baseColor);
  if (emissive.some((part) => part > 0)) colour('Ke', emissive);
  // What goes through is opacity here.
  value('d', (isBlended(material) ? opacity : 1) * (1 - transmission));
  value('Pr', roughness);
  value('Pm', metallic);
  // For those who know no roughness: an exponent whose highlight is as wide, n = 2 / roughness⁴ - 2.
  value('Ns', Math.min(1000, Math.max(0, 2 / Math.max(roughness, 0.03) ** 4 - 2)));
  if (ior !== undefined) value('Ni', ior);
  text.text('illum 2\n');
  const { textures } = joinedTextures(material);
  const map = async (key: string, use: TextureUse | JoinedTexture | undefined, file: Promise<string | undefined> | undefined, options = '') => {
    const path = await file;
    if (use && path) text.text(`${key} ${options}${placeOf(isJoined(use) ? use.use : use)}${path}\n`);
  }; // prettier-ignore
  const { baseColor: base, metallicRoughness: surface, normal, emissive: glow } = textures;
  await map('map_Kd', base, base && pictures.fileOf(base));
  if (base && (isBlended(material) || material.cutoff !== undefined))
    await map('map_d', base, pictures.fileOf(base), '-imfchan m ');
  await map('map_Pr', surface, surface && pictures.valueOf(surface, GREEN, 'roughness', roughness));
  // A factor of nothing leaves nothing of the picture.
  if (metallic > 0) await map('map_Pm', surface, surface && pictures.valueOf(surface, BLUE, 'metalness', metallic));
  await map('map_Ke', glow, glow && pictures.fileOf(glow));
  const strength = normal && !isJoined(normal) ? (normal.strength ?? 1) : 1;
  await map('norm', normal, normal && pictures.fileOf(normal), strength === 1 ? '' : `-bm ${strength} `);
}

/** Scale and offset of a picture; its origin is lower left there, and turns have no place. */
function placeOf({ offset = [0, 0], scale = [1, 1], wrap }: TextureUse): string {
  // Upper left there: v' = 1 - v, so what is moved down is moved up, by what is left of the scale too.
  const [u, v] = [offset[0], 1 - offset[1] - scale[1]];
  const scaled = scale[0] !== 1 || scale[1] !== 1 ? `-s ${scale[0]} ${scale[1]} 1 ` : '';
  const moved = u !== 0 || v !== 0 ? `-o ${u} ${v} 0 ` : '';
  return `${scaled}${moved}${wrap === 'clamp' ? '-clamp on ' : ''}`;
}
