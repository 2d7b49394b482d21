/**
 * Pictures that hold one value each (roughness, metalness, opacity), joined into the ones that glTF 2.0 has: roughness in green
 * and metalness in blue of one picture, opacity beside the base colour.
 */
import type { Material, Scene, TextureSlot, TextureUse } from '../scene/types.ts';
import type { BlobStore, Picture, PictureCodec, PictureKind } from '../surroundings.ts';

/** Slots that glTF has. */
export type JoinedSlot = Exclude<TextureSlot, 'roughness' | 'metallic' | 'opacity'>;

/** Which channel of a joined picture is taken from which picture; what is not named is white. */
export interface JoinedTexture {
  /** How the joined picture lies on the surface. */
  use: TextureUse;
  /** Texture ids, and where each goes. */
  from: { use: TextureUse; to: readonly number[] }[];
}

const [RED, GREEN, BLUE, ALPHA] = [0, 1, 2, 3];
const CHANNELS = { r: RED, g: GREEN, b: BLUE, a: ALPHA };

/**
 * How a material's pictures stand in glTF: as they are, or joined. Those that cannot be joined, since they lie on the surface in another
 * way than what they would be joined with, are named in `lost`.
 */
export function joinedTextures(material: Material): {
  textures: Partial<Record<JoinedSlot, TextureUse | JoinedTexture>>;
  lost: TextureUse[];
} {
  const { roughness, metallic, opacity, ...plain } = material.textures ?? {};
  const textures: Partial<Record<JoinedSlot, TextureUse | JoinedTexture>> = { ...plain };
  const lost: TextureUse[] = [];
  const join = (slot: JoinedSlot, parts: { use: TextureUse | undefined; to: readonly number[] }[]) => {
    const there = parts.flatMap(({ use, to }) => (use ? [{ use, to }] : []));
    const [first] = there;
    const from = there.filter(({ use }) => liesAlike(use, first.use));
    lost.push(...there.filter((part) => !from.includes(part)).map(({ use }) => use));
    textures[slot] = { use: first.use, from };
  };
  if (roughness || metallic)
    join('metallicRoughness', [
      { use: roughness, to: [GREEN] },
      { use: metallic, to: [BLUE] },
    ]);
  if (opacity)
    join('baseColor', [
      { use: plain.baseColor, to: [RED, GREEN, BLUE] },
      { use: opacity, to: [ALPHA] },
    ]);
  return { textures, lost };
}

/** Name of a joined picture: of what it was joined from. */
export function joinedName({ from }: JoinedTexture, scene: Scene): string {
  const names = from.flatMap(({ use }) => scene.textures[use.texture]?.name ?? []);
  return [...new Set(names)].join(' + ');
}

export function isJoined(texture: TextureUse | JoinedTexture): texture is JoinedTexture {
  return 'from' in texture;
}

/** True where two pictures lie on the same coordinates in the same way. */
export function liesAlike(a: TextureUse, b: TextureUse): boolean {
  const key = ({ uv, offset = [0, 0], scale = [1, 1], rotation = 0, wrap }: TextureUse) =>
    [uv, ...offset, ...scale, rotation, wrap].join();
  return key(a) === key(b);
}

/**
 * Makes the joined picture, as large as the largest of what it is made from.
 * @param kind of file, lossless where it can be
 * @returns undefined where none of the pictures is there
 * @throws PrismError `not-readable`
 */
export async function joinPictures(
  { from }: JoinedTexture,
  scene: Scene,
  blobs: BlobStore,
  codec: PictureCodec,
  kind: PictureKind = 'png',
): Promise<Uint8Array | undefined> {
  const there = from.flatMap(({ use, to }) => {
    const texture = scene.textures[use.texture];
    const blob = texture?.png ?? texture?.blob;
    return texture && blob && texture.problem === undefined
      ? [{ use, to, blob, mime: texture.png ? 'image/png' : texture.mime }]
      : [];
  });
  if (there.length === 0) return undefined;
  const opened = [];
  // What goes into one channel is a value; a base colour is a colour.
  const isValue = ({ to }: (typeof there)[number]) => to.length === 1;
  for (const part of there)
    opened.push(await codec.decode(await blobs.get(part.blob), part.mime, { values: isValue(part) }));
  const width = Math.max(...opened.map((picture) => picture.width));
  const height = Math.max(...opened.map((picture) => picture.height));
  const data = new Uint8Array(width * height * 4).fill(255);
  for (const [i, part] of there.entries()) {
    const { use, to, blob, mime } = part;
    const fits = opened[i].width === width && opened[i].height === height;
    const view = { size: { width, height }, values: isValue(part) };
    const picture = fits ? opened[i] : await codec.decode(await blobs.get(blob), mime, view);
    for (const channel of to) copyChannel(picture, data, use, to.length > 1 ? channel : undefined, channel);
  }
  return codec.encode({ width, height, data }, { kind, exact: there.every(isValue) });
}

function copyChannel(
  picture: Picture,
  out: Uint8Array,
  { channel = 'g', inverted = false }: TextureUse,
  own: number | undefined,
  to: number,
): void {
  const source = own ?? CHANNELS[channel];
  for (let at = 0; at < out.length; at += 4) {
    const value = picture.data[at + source];
    out[at + to] = inverted ? 255 - value : value;
  }
}
