/** Materials of a scene as X3D 4.0 has them: physical materials with their pictures, each written once and used again; other versions write another node. */
import { srgbFromLinear } from '../../finish/colour.ts';
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import type { JoinedSlot } from '../../finish/joined.ts';
import { isBlended, NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, TextureUse } from '../../scene/types.ts';
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

export interface Prepared {
  name: string;
  pictures: { slot: JoinedSlot; path: string; use: TextureUse }[];
  isWritten: boolean;
}

const DECIMALS = 7;
export const round = (value: number) => Number(value.toFixed(DECIMALS));

/** A colour as the format has it. */
export const encoded = (values: readonly number[]) =>
  values.map((value) => round(srgbFromLinear(Math.min(1, value)))).join(' ');

/** What all kinds of material say alike. */
export function throughAndGlow(material: Material): { transparency: number; emissiveColor?: string } {
  const { opacity, transmission = 0, emissive = [0, 0, 0] } = material;
  return {
    // What goes through is not there.
    transparency: round(1 - (isBlended(material) ? opacity : 1) * (1 - transmission)),
    ...(emissive.some((value) => value > 0) ? { emissiveColor: encoded(emissive) } : {}),
  };
}

export class X3dMaterials {
  readonly #prepared = new Map<string, Prepared>();
  /** Pictures that there is a place for. */
  protected readonly fields: Partial<Record<JoinedSlot, string>> = FIELDS;

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
      const path = this.fields[slot as JoinedSlot] && (await this.files.fileOf(texture));
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
    xml.begin('Appearance', { DEF: prepared.name });
    this.writeSurface(material, prepared);
    const placed = prepared.pictures.find(({ use }) => use.scale ?? use.offset);
    if (placed) xml.leaf('TextureTransform', placeOfPicture(placed.use));
    xml.end();
  }

  /** The node that says what the surface is like, with its pictures. */
  protected writeSurface(material: Material, prepared: Prepared): void {
    const { xml } = this;
    const { baseColor, metallic, roughness } = material;
    xml.begin('PhysicalMaterial', {
      baseColor: encoded(baseColor),
      metallic: round(metallic),
      roughness: round(roughness),
      ...throughAndGlow(material),
      ...this.#strengths(prepared),
    });
    this.writeName(material, prepared);
    this.writePictures(prepared);
    xml.end();
  }

  /** The name in full, where its DEF is another one. */
  protected writeName({ name }: Material, prepared: Prepared): void {
    if (name !== prepared.name)
      this.xml.leaf('MetadataString', { name: 'name', value: `"${name.replace(/[\\"]/g, '\\$&')}"`, containerField: 'metadata' }); // prettier-ignore
  }

  protected writePictures({ pictures }: Prepared): void {
    for (const { slot, path, use } of pictures) {
      const repeat = use.wrap === 'clamp' ? { repeatS: 'false', repeatT: 'false' } : {};
      this.xml.leaf('ImageTexture', { containerField: this.fields[slot], url: `"${path}"`, ...repeat });
    }
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
