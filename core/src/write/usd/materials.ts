/**
 * Materials of a scene as preview surfaces (UsdPreviewSurface 2.6): values, and pictures through the nodes that place them. What is a
 * factor of a picture in glTF is the scale of the picture here.
 */
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import type { JoinedSlot } from '../../finish/joined.ts';
import { isBlended } from '../../scene/types.ts';
import type { Material, TextureUse } from '../../scene/types.ts';
import { double, quoted, tuple } from './text.ts';
import type { UsdText } from './text.ts';
import type { PictureFiles } from '../pictureFiles.ts';

/** A picture of a material that is there. */
export interface PlacedPicture {
  slot: JoinedSlot;
  file: string;
  use: TextureUse;
}

/** Looks for the pictures of a material. */
export async function picturesOf(material: Material, pictures: PictureFiles): Promise<PlacedPicture[]> {
  const out: PlacedPicture[] = [];
  for (const [slot, texture] of Object.entries(joinedTextures(material).textures)) {
    const file = await pictures.fileOf(texture);
    const use = isJoined(texture) ? texture.use : texture;
    if (file !== undefined) out.push({ slot: slot as JoinedSlot, file, use });
  }
  return out;
}

const NODES: Record<JoinedSlot, string> = {
  baseColor: 'BaseColor',
  metallicRoughness: 'MetallicRoughness',
  normal: 'Normal',
  occlusion: 'Occlusion',
  emissive: 'Emissive',
};

/** Names of the sets of texture coordinates, as meshes have them. */
export const uvName = (set: number) => (set === 0 ? 'st' : `st${set}`);

/** @param name of the prim. @param path of it */
export function writeMaterial(text: UsdText, material: Material, name: string, path: string, pictures: readonly PlacedPicture[]): void {
  const { baseColor, opacity, metallic, roughness, emissive, cutoff, transmission = 0, ior, clearcoat = 0, clearcoatRoughness = 0 } = material;
  const pictured = new Map(pictures.map((picture) => [picture.slot, picture]));
  const from = (slot: JoinedSlot, output: string) => `.connect = <${path}/${NODES[slot]}.outputs:${output}>`;
  text.block(`def Material "${name}"`, name === material.name ? [] : [`displayName = ${quoted(material.name)}`], () => {
    text.line(`token outputs:surface.connect = <${path}/Surface.outputs:surface>`);
    text.block('def Shader "Surface"', [], () => {
      text.line('uniform token info:id = "UsdPreviewSurface"');
      const input = (type: string, key: string, value: string, slot?: JoinedSlot, output = 'rgb') =>
        text.line(`${type} inputs:${key}${slot && pictured.has(slot) ? from(slot, output) : ` = ${value}`}`);
      input('color3f', 'diffuseColor', tuple(baseColor), 'baseColor');
      input('float', 'metallic', double(metallic), 'metallicRoughness', 'b');
      input('float', 'roughness', double(roughness), 'metallicRoughness', 'g');
      // Only what is seen through has the opacity of its picture.
      const isSeenThrough = isBlended(material) || cutoff !== undefined;
      // There is no transmission: what goes through is not there.
      const rest = (isSeenThrough ? opacity : 1) * (1 - transmission);
      input('float', 'opacity', double(rest), isSeenThrough ? 'baseColor' : undefined, 'a');
      if (ior !== undefined) text.line(`float inputs:ior = ${double(ior)}`);
      if (clearcoat > 0) text.line(`float inputs:clearcoat = ${double(clearcoat)}`);
      if (clearcoat > 0) text.line(`float inputs:clearcoatRoughness = ${double(clearcoatRoughness)}`);
      if (cutoff !== undefined) text.line(`float inputs:opacityThreshold = ${double(cutoff)}`);
      if (emissive || pictured.has('emissive')) input('color3f', 'emissiveColor', tuple(emissive ?? []), 'emissive');
      if (pictured.has('normal')) input('normal3f', 'normal', '', 'normal');
      if (pictured.has('occlusion')) input('float', 'occlusion', '1', 'occlusion', 'r');
      text.line('token outputs:surface');
    });
    for (const picture of pictures) writePicture(text, material, picture, path);
  });
} // prettier-ignore

/** Scale and bias that make of the values of a picture those of the surface. */
function factorsOf({ baseColor, opacity, metallic, roughness, emissive = [0, 0, 0] }: Material, slot: JoinedSlot, strength = 1): { scale: number[]; bias?: number[] } {
  if (slot === 'baseColor') return { scale: [...baseColor, opacity] };
  if (slot === 'metallicRoughness') return { scale: [1, roughness, metallic, 1] };
  if (slot === 'emissive') return { scale: [...emissive, 1] };
  // From 0 … 1 to -1 … 1; weaker where the map is (glTF 2.0, 3.9.3).
  if (slot === 'normal') return { scale: [2 * strength, 2 * strength, 2, 1], bias: [-strength, -strength, -1, 0] };
  return { scale: [strength, strength, strength, 1], bias: [1 - strength, 1 - strength, 1 - strength, 0] };
} // prettier-ignore

function writePicture(text: UsdText, material: Material, { slot, file, use }: PlacedPicture, path: string): void {
  const node = NODES[slot];
  const isPlaced = use.offset !== undefined || use.scale !== undefined || use.rotation !== undefined;
  const wrap = quoted(use.wrap ?? 'repeat');
  const { scale, bias } = factorsOf(material, slot, use.strength);
  const isColour = slot === 'baseColor' || slot === 'emissive';
  text.block(`def Shader "${node}Coordinates"`, [], () => {
    text.line('uniform token info:id = "UsdPrimvarReader_float2"');
    text.line(`string inputs:varname = "${uvName(use.uv)}"`);
    text.line('float2 outputs:result');
  });
  if (isPlaced) text.block(`def Shader "${node}Place"`, [], () => writePlace(text, use, `${path}/${node}Coordinates`));
  text.block(`def Shader "${node}"`, [], () => {
    text.line('uniform token info:id = "UsdUVTexture"');
    text.line(`asset inputs:file = @${file}@`);
    text.line(`float2 inputs:st.connect = <${path}/${node}${isPlaced ? 'Place' : 'Coordinates'}.outputs:result>`);
    text.line(`token inputs:wrapS = ${wrap}`);
    text.line(`token inputs:wrapT = ${wrap}`);
    text.line(`token inputs:sourceColorSpace = "${isColour ? 'sRGB' : 'raw'}"`);
    if (scale.some((value) => value !== 1)) text.line(`float4 inputs:scale = ${tuple(scale)}`);
    if (bias?.some((value) => value !== 0)) text.line(`float4 inputs:bias = ${tuple(bias)}`);
    text.line('float3 outputs:rgb');
    for (const channel of 'rgba') text.line(`float outputs:${channel}`);
  });
}

/** Coordinates begin lower left here and upper left in glTF: v' = 1 - v turns the rotation round and moves the offset. */
function writePlace(text: UsdText, { offset = [0, 0], scale = [1, 1], rotation = 0 }: TextureUse, from: string): void {
  text.line('uniform token info:id = "UsdTransform2d"');
  text.line(`float2 inputs:in.connect = <${from}.outputs:result>`);
  text.line(`float2 inputs:scale = ${tuple(scale)}`);
  text.line(`float inputs:rotation = ${double((rotation * 180) / Math.PI)}`);
  const [sin, cos] = [Math.sin(rotation), Math.cos(rotation)];
  text.line(`float2 inputs:translation = ${tuple([offset[0] + sin * scale[1], 1 - offset[1] - cos * scale[1]])}`);
  text.line('float2 outputs:result');
}
