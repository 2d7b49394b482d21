/**
 * The checker look: squares of the picture on every surface, coloured by how many of its pixels lie on a metre. Both come from how the
 * coordinates and the place change from one pixel of the screen to the next, so that nothing has to be known of the triangles.
 */
import { Color, DataTexture, DoubleSide, MeshLambertMaterial, RepeatWrapping } from 'three';
import type { Material as ThreeMaterial } from 'three';
import { texelsOf } from '@noble-prism/core/finish/texels';
import type { Material, Texture } from '@noble-prism/core/scene/types';

/** Colours from few pixels to many, each four times the one before; and where no coordinates are. */
export const DENSITIES: readonly { perMetre: number; colour: string }[] = [
  { perMetre: 32, colour: '#6f4fa3' },
  { perMetre: 128, colour: '#3d74b8' },
  { perMetre: 512, colour: '#3f9c63' },
  { perMetre: 2048, colour: '#c9a037' },
  { perMetre: 8192, colour: '#bd4630' },
];
export const NO_COORDINATES = '#9c9a93';

/** Squares along each side of a picture. */
const SQUARES = 8;

const vector = (colour: string) => {
  const { r, g, b } = new Color(colour);
  return `vec3(${[r, g, b].map((value) => value.toFixed(5)).join(', ')})`;
};
const [first, ...rest] = DENSITIES;
const STEP = Math.log2(rest[0].perMetre / first.perMetre);

/** @param set of texture coordinates. @param common how surfaces are drawn */
export function checkerMaterial(
  material: Pick<Material, 'textures'>,
  textures: Readonly<Record<string, Texture>>,
  set: number,
  common: object,
): ThreeMaterial {
  const { use, u, v } = texelsOf(material, textures, set);
  const { offset, scale, rotation } = use ?? {};
  // Stands for the picture, so that the coordinates are made as for one.
  const map = new DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
  map.channel = set;
  map.wrapS = map.wrapT = RepeatWrapping;
  if (offset) map.offset.set(...offset);
  if (scale) map.repeat.set(...scale);
  if (rotation) map.rotation = rotation;
  map.needsUpdate = true;
  const made = new MeshLambertMaterial({ color: 0xffffff, side: DoubleSide, map, ...common });
  // Coordinates are scaled already where they are read here.
  const pixels = { value: [u / Math.abs(scale?.[0] ?? 1), v / Math.abs(scale?.[1] ?? 1)] };
  made.onBeforeCompile = (shader) => {
    shader.uniforms.checkerPixels = pixels;
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', 'uniform vec2 checkerPixels;\nvoid main() {')
      .replace('#include <map_fragment>', SHADER);
  };
  made.customProgramCacheKey = () => 'checker';
  made.addEventListener('dispose', () => map.dispose());
  return made;
}

const SHADER = `
  vec2 alongX = dFdx(vMapUv) * checkerPixels;
  vec2 alongY = dFdy(vMapUv) * checkerPixels;
  float onSurface = length(cross(dFdx(vViewPosition), dFdy(vViewPosition)));
  float onPicture = abs(alongX.x * alongY.y - alongX.y * alongY.x);
  if (onPicture <= 0.0 || onSurface <= 0.0) diffuseColor.rgb = ${vector(NO_COORDINATES)};
  else {
    float level = (log2(sqrt(onPicture / onSurface)) - ${Math.log2(first.perMetre).toFixed(4)}) / ${STEP.toFixed(4)};
    vec3 heat = ${vector(first.colour)};
    ${rest.map(({ colour }, i) => `heat = mix(heat, ${vector(colour)}, clamp(level - ${i}.0, 0.0, 1.0));`).join('\n    ')}
    vec2 cells = vMapUv * ${SQUARES}.0;
    float isEven = mod(floor(cells.x) + floor(cells.y), 2.0);
    // Squares smaller than a pixel of the screen are one shade.
    float far = clamp(max(fwidth(cells.x), fwidth(cells.y)) * 2.0 - 0.6, 0.0, 1.0);
    diffuseColor.rgb = heat * mix(mix(0.5, 1.25, isEven), 0.87, far);
  }
`;
