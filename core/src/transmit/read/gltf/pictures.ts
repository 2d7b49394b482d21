/** Pictures of a glTF file that the loader does not open, which takes a browser: their bytes are what is compared. */
import { ClampToEdgeWrapping, MirroredRepeatWrapping, RepeatWrapping, Texture } from 'three';
import type { Wrapping } from 'three';
import type { GLTFParser } from 'three/addons/loaders/GLTFLoader.js';
import type { FoundPicture } from '../../found.ts';

/** Under these names they stand in for what would open pictures, which takes a browser. */
export const OPENED = ['EXT_texture_webp', 'KHR_texture_basisu', 'EXT_texture_avif', 'pictures'];

interface PictureDefinition {
  mimeType?: string;
  bufferView?: number;
}

interface TextureDefinition {
  source?: number;
  sampler?: number;
  extensions?: Record<string, { source: number }>;
}

const WRAPPINGS: Record<number, Wrapping> = { 33071: ClampToEdgeWrapping, 33648: MirroredRepeatWrapping };

/** A texture whose picture stays a file; null where another of the stand-ins is meant, which the loader must hear at once. */
export function unopened(parser: GLTFParser, index: number, extension: string): Promise<Texture> | null {
  const json = parser.json as {
    textures: TextureDefinition[];
    images: PictureDefinition[];
    samplers?: { wrapS?: number }[];
  };
  const { source, sampler, extensions = {} } = json.textures[index];
  const others = Object.keys(extensions);
  if (extension === 'pictures' ? others.length > 0 : !others.includes(extension)) return null;
  const picture = json.images[extensions[extension]?.source ?? source ?? -1];
  const wrap = WRAPPINGS[json.samplers?.[sampler ?? -1]?.wrapS ?? 0] ?? RepeatWrapping;
  return textureOf(parser, picture, wrap);
}

async function textureOf(
  parser: GLTFParser,
  { mimeType = '', bufferView = -1 }: PictureDefinition,
  wrap: Wrapping,
): Promise<Texture> {
  const texture = new Texture();
  texture.wrapS = texture.wrapT = wrap;
  const bytes = new Uint8Array((await parser.getDependency('bufferView', bufferView)) as ArrayBuffer);
  pictureFiles.set(texture.source, { bytes, mime: mimeType });
  return texture;
}

/** Files of pictures by the source that all uses of a texture share. */
const pictureFiles = new WeakMap<object, { bytes: Uint8Array; mime: string }>();

export function pictureOf(texture: Texture, strength: number): FoundPicture | undefined {
  const file = pictureFiles.get(texture.source);
  if (!file) return undefined;
  const wraps = new Map<number, FoundPicture['wrap']>([
    [ClampToEdgeWrapping, 'clamp'],
    [MirroredRepeatWrapping, 'mirror'],
  ]);
  return {
    ...file,
    uv: texture.channel,
    offset: texture.offset.toArray(),
    scale: texture.repeat.toArray(),
    rotation: texture.rotation,
    wrap: wraps.get(texture.wrapS) ?? 'repeat',
    strength,
  };
}
