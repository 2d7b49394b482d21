/** Pictures of a scene as a target wants them: none, no larger than said, and of the kind of file that it takes. */
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import { fitted } from '../../finish/sets/makePicture.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { isBlended } from '../../scene/types.ts';
import type { Material, Scene, Texture, TextureSlot } from '../../scene/types.ts';
import type { BlobStore, PictureCodec, PictureKind } from '../../surroundings.ts';
import type { TargetSettings } from './target.ts';

export async function picturesFor(
  scene: Scene,
  blobs: BlobStore,
  { pictures, most, kind }: Pick<TargetSettings, 'pictures' | 'most' | 'kind'>,
  codec: PictureCodec | undefined,
): Promise<Scene> {
  if (pictures === 'left') return bare(scene);
  if ((most === undefined && kind === undefined) || !codec) return scene;
  const edit = new SceneEditor(scene);
  const uses = usesOf(scene);
  const made: Record<string, Texture> = {};
  for (const [id, use] of uses) {
    const texture = scene.textures[id];
    if (!texture?.blob || texture.problem !== undefined) continue;
    // What becomes one with others is packed when it has: packing twice would do it harm.
    const to = kind === 'ktx2' && use.isJoined ? undefined : kind;
    made[id] = await remade(texture, use, blobs, codec, most === undefined ? Infinity : Number(most), to);
  }
  edit.setTextures(made);
  return edit.finish().scene;
}

/** Materials without any picture. */
function bare(scene: Scene): Scene {
  const edit = new SceneEditor(scene);
  const materials = Object.values(scene.materials).filter(({ textures }) => textures !== undefined);
  edit.setMaterialsOfScene(
    Object.fromEntries(materials.map(({ textures: _, ...material }) => [material.id, material])),
  );
  return edit.finish().scene;
}

interface PictureUse {
  /** Shown as a colour: profiles are applied, and JPEG does it no harm. */
  isColour: boolean;
  /** Its opacity is seen. */
  hasOpacity: boolean;
  /** It is only shown together with others, in one picture that is made of them. */
  isJoined: boolean;
}

const COLOURS = new Set<TextureSlot>(['baseColor', 'emissive']);

/** What the pictures of the materials are used for, by id of the texture. */
function usesOf({ materials }: Scene): Map<string, PictureUse> {
  const out = new Map<string, PictureUse>();
  for (const material of Object.values(materials)) {
    const alone = new Set(
      Object.values(joinedTextures(material).textures).flatMap((use) => (isJoined(use) ? [] : use.texture)),
    );
    for (const [slot, { texture }] of Object.entries(material.textures ?? {}) as [TextureSlot, { texture: string }][]) {
      const isColour = COLOURS.has(slot);
      const known = out.get(texture);
      out.set(texture, {
        isColour: isColour && (known?.isColour ?? true),
        hasOpacity: (known?.hasOpacity ?? false) || (slot === 'baseColor' && isSeenThrough(material)),
        isJoined: (known?.isJoined ?? true) && !alone.has(texture),
      });
    }
  }
  return out;
}

const isSeenThrough = (material: Material) => isBlended(material) || material.cutoff !== undefined;

const MIMES: Record<PictureKind, string> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  ktx2: 'image/ktx2',
};

/** The picture in its new size and kind; itself where both are as they should be. */
async function remade(
  texture: Texture,
  { isColour, hasOpacity }: PictureUse,
  blobs: BlobStore,
  codec: PictureCodec,
  most: number,
  kind: PictureKind | undefined,
): Promise<Texture> {
  const { blob, png, mime, width = 0, height = 0, ...rest } = texture;
  const wanted: PictureKind | undefined = kind === 'jpeg' && (!isColour || hasOpacity) ? 'png' : kind;
  const isSmall = Math.max(width, height) <= most && width > 0;
  if (isSmall && (wanted === undefined || MIMES[wanted] === mime) && png === undefined) return texture;
  const bytes = await blobs.get(png ?? (blob as string));
  const from = png ? 'image/png' : mime;
  const facts = await codec.facts(bytes, from);
  const size = fitted(facts.width, facts.height, most);
  const picture = await codec.decode(bytes, from, { size, values: !isColour });
  const to = wanted ?? (mime === 'image/jpeg' ? 'jpeg' : mime === 'image/webp' ? 'webp' : 'png');
  const file = await codec.encode(picture, { kind: to, exact: !isColour });
  const made = to === 'ktx2' ? await codec.facts(file, MIMES.ktx2) : picture;
  const { bits: _bits, profile: _profile, ...plain } = rest;
  return {
    ...plain,
    name: `${texture.name.replace(/\.[A-Za-z0-9]{1,5}$/, '')}.${to === 'jpeg' ? 'jpg' : to}`,
    mime: MIMES[to],
    blob: await blobs.put(file),
    bytes: file.length,
    width: made.width,
    height: made.height,
  };
}
