/** Materials and pictures of a scene as glTF 2.0 has them, each made when it is first asked for. */
import type { Document, Material as GltfMaterial, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Material, Scene, TextureSlot, TextureUse } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';

type Extensions = typeof import('@gltf-transform/extensions');

/** Kinds of picture that glTF takes, and the extension that it needs for them. */
const PICTURES: Record<string, 'EXTTextureWebP' | 'KHRTextureBasisu' | undefined> = {
  'image/png': undefined,
  'image/jpeg': undefined,
  'image/webp': 'EXTTextureWebP',
  'image/ktx2': 'KHRTextureBasisu',
};

/** True where a picture can be put into a glTF file as it is. */
export function goesIntoGltf(mime: string): boolean {
  return mime in PICTURES;
}

export class GltfMaterials {
  readonly #made = new Map<string, Promise<GltfMaterial>>();
  readonly #textures = new Map<string, Promise<GltfTexture | undefined>>();

  constructor(
    readonly document: Document,
    readonly scene: Scene,
    readonly blobs: BlobStore,
    readonly extensions: Extensions,
  ) {}

  get(id: string): Promise<GltfMaterial> {
    let made = this.#made.get(id);
    if (!made) this.#made.set(id, (made = this.#make(this.scene.materials[id] ?? NO_MATERIAL)));
    return made;
  }

  async #make(material: Material): Promise<GltfMaterial> {
    const { document, extensions } = this;
    const isBlend = material.opacity < 1 && material.cutoff === undefined;
    const made = document
      .createMaterial(material.name)
      .setBaseColorFactor([...material.baseColor, material.opacity])
      .setMetallicFactor(material.metallic)
      .setRoughnessFactor(material.roughness)
      .setDoubleSided(material.doubleSided ?? false)
      .setAlphaMode(material.cutoff !== undefined ? 'MASK' : isBlend ? 'BLEND' : 'OPAQUE');
    if (material.cutoff !== undefined) made.setAlphaCutoff(material.cutoff);
    if (material.emissive) {
      const strength = Math.max(1, ...material.emissive);
      made.setEmissiveFactor(material.emissive.map((value) => value / strength) as [number, number, number]);
      if (strength > 1)
        made.setExtension(
          'KHR_materials_emissive_strength',
          document
            .createExtension(extensions.KHRMaterialsEmissiveStrength)
            .createEmissiveStrength()
            .setEmissiveStrength(strength),
        );
    }
    if (material.unlit)
      made.setExtension('KHR_materials_unlit', document.createExtension(extensions.KHRMaterialsUnlit).createUnlit());
    for (const [slot, use] of Object.entries(material.textures ?? {}) as [TextureSlot, TextureUse][]) {
      const texture = await this.#texture(use.texture);
      if (texture) this.#bind(made, slot, texture, use);
    }
    return made;
  }

  #bind(material: GltfMaterial, slot: TextureSlot, texture: GltfTexture, use: TextureUse): void {
    let info: TextureInfo | null = null;
    if (slot === 'baseColor') info = material.setBaseColorTexture(texture).getBaseColorTextureInfo();
    else if (slot === 'metallicRoughness')
      info = material.setMetallicRoughnessTexture(texture).getMetallicRoughnessTextureInfo();
    else if (slot === 'emissive') info = material.setEmissiveTexture(texture).getEmissiveTextureInfo();
    else if (slot === 'normal')
      info = material
        .setNormalTexture(texture)
        .setNormalScale(use.strength ?? 1)
        .getNormalTextureInfo();
    else
      info = material
        .setOcclusionTexture(texture)
        .setOcclusionStrength(Math.min(1, use.strength ?? 1))
        .getOcclusionTextureInfo();
    if (!info) return;
    info.setTexCoord(use.uv);
    const wrap = use.wrap === 'clamp' ? 33071 : use.wrap === 'mirror' ? 33648 : 10497;
    info.setWrapS(wrap).setWrapT(wrap);
    if (!use.offset && !use.scale && !use.rotation) return;
    const transform = this.document.createExtension(this.extensions.KHRTextureTransform).createTransform();
    info.setExtension(
      'KHR_texture_transform',
      transform
        .setOffset(use.offset ?? [0, 0])
        .setScale(use.scale ?? [1, 1])
        .setRotation(use.rotation ?? 0),
    );
  }

  #texture(id: string): Promise<GltfTexture | undefined> {
    let made = this.#textures.get(id);
    if (!made) this.#textures.set(id, (made = this.#makeTexture(id)));
    return made;
  }

  async #makeTexture(id: string): Promise<GltfTexture | undefined> {
    const texture = this.scene.textures[id];
    if (!texture?.blob || !goesIntoGltf(texture.mime)) return undefined;
    const extension = PICTURES[texture.mime];
    if (extension === 'EXTTextureWebP') this.document.createExtension(this.extensions.EXTTextureWebP).setRequired(true);
    if (extension === 'KHRTextureBasisu')
      this.document.createExtension(this.extensions.KHRTextureBasisu).setRequired(true);
    const bytes = await this.blobs.get(texture.blob);
    return this.document
      .createTexture(texture.name)
      .setImage(bytes as Uint8Array<ArrayBuffer>)
      .setMimeType(texture.mime);
  }
}
