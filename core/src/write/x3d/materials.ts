/** Materials of a scene as X3D 4.0 has them: physical materials with their pictures, each written once and used again. */
import { srgbFromLinear } from '../../finish/colour.ts';
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import type { JoinedSlot } from '../../finish/joined.ts';
import { isBlended, NO_MATERIAL } from '../../scene/types.ts';
import type { Scene, TextureUse } from '../../scene/types.ts';
import type { PictureFiles } from '../pictureFiles.ts';
import type { XmlIds, XmlText } from '../xml.ts';

/** Fields of a physical material that hold pictures (ISO/IEC 19775-1, 12.4.6). */
const FIELDS: Record<JoinedSlot, string> = {
  baseColor: 'baseTexture',
  metallicRoughness: 'metallicRoughnessTexture',
  normal: 'normalTexture',
  occlusion: 'occlusionTexture',
  emissive: 'emissiveTexture',
};

interface Prepared {
  name: string;
  pictures: { slot: JoinedSlot; path: string; use: TextureUse }[];
  isWritten: boolean;
}

const DECIMALS = 7;
const round = (value: number) => Number(value.toFixed(DECIMALS));

export class X3dMaterials {
  readonly #prepared = new Map<string, Prepared>();

  constructor(
    readonly xml: XmlText,
    readonly scene: Scene,
    readonly files: PictureFiles,
    readonly ids: XmlIds,
  ) {}

  isDoubleSided(id: string): boolean {
    return this.scene.materials[id]?.doubleSided ?? false;
  }

  /** Makes the pictures of a material ready to be written. */
  async prepare(id: string): Promise<void> {
    if (this.#prepared.has(id)) return;
    const material = this.scene.materials[id] ?? NO_MATERIAL;
    const pictures: Prepared['pictures'] = [];
    for (const [slot, texture] of Object.entries(joinedTextures(material).textures)) {
      const path = await this.files.fileOf(texture);
      if (path) pictures.push({ slot: slot as JoinedSlot, path, use: isJoined(texture) ? texture.use : texture });
    }
    this.#prepared.set(id, { name: this.ids.next(material.name), pictures, isWritten: false });
  }

  write(id: string): void {
    const { xml } = this;
    const prepared = this.#prepared.get(id);
    if (!prepared) return;
    if (prepared.isWritten) return void xml.leaf('Appearance', { USE: prepared.name });
    prepared.isWritten = true;
    const material = this.scene.materials[id] ?? NO_MATERIAL;
    const { name, baseColor, opacity, metallic, roughness, emissive = [0, 0, 0], transmission = 0 } = material;
    const colour = (values: readonly number[]) =>
      values.map((value) => round(srgbFromLinear(Math.min(1, value)))).join(' ');
    xml.begin('Appearance', { DEF: prepared.name });
    const isGlowing = emissive.some((value) => value > 0);
    xml.begin('PhysicalMaterial', {
      baseColor: colour(baseColor),
      metallic: round(metallic),
      roughness: round(roughness),
      // What goes through is not there.
      transparency: round(1 - (isBlended(material) ? opacity : 1) * (1 - transmission)),
      ...(isGlowing ? { emissiveColor: colour(emissive) } : {}),
      ...this.#strengths(prepared),
    });
    if (name !== prepared.name)
      xml.leaf('MetadataString', { name: 'name', value: `"${name.replace(/[\\"]/g, '\\$&')}"`, containerField: 'metadata' }); // prettier-ignore
    for (const { slot, path, use } of prepared.pictures) {
      const repeat = use.wrap === 'clamp' ? { repeatS: 'false', repeatT: 'false' } : {};
      xml.leaf('ImageTexture', { containerField: FIELDS[slot], url: `"${path}"`, ...repeat });
    }
    xml.end();
    const placed = prepared.pictures.find(({ use }) => use.scale ?? use.offset);
    if (placed) xml.leaf('TextureTransform', placeOfPicture(placed.use));
    xml.end();
  }

  #strengths({ pictures }: Prepared): Record<string, number> {
    const strength = (slot: JoinedSlot) => pictures.find((picture) => picture.slot === slot)?.use.strength;
    const [normal, occlusion] = [strength('normal'), strength('occlusion')];
    return {
      ...(normal === undefined ? {} : { normalScale: round(normal) }),
      ...(occlusion === undefined ? {} : { occlusionStrength: round(Math.min(1, occlusion)) }),
    };
  }
}

/** There a point is moved first and scaled then, and the origin is lower left: scale · (point + translation). */
function placeOfPicture({ offset = [0, 0], scale = [1, 1] }: TextureUse): { scale: string; translation: string } {
  const u = offset[0] / (scale[0] || 1);
  const v = (1 - offset[1] - scale[1]) / (scale[1] || 1);
  return { scale: `${scale[0]} ${scale[1]}`, translation: `${round(u)} ${round(v)}` };
}
