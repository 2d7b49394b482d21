/** Materials and pictures of a scene as glTF 2.0 has them, each made when it is first asked for. */
import type { Document, Material as GltfMaterial, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import { isJoined, joinedName, joinedTextures, joinPictures } from '../../finish/joined.ts';
import type { JoinedSlot, JoinedTexture } from '../../finish/joined.ts';
import { pictureFile } from '../../finish/pictureFile.ts';
import { isBlended, NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, TextureUse } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import type { WriteOptions } from '../writer.ts';

type Extensions = typeof import('@gltf-transform/extensions');

/** Kinds of picture that glTF takes, two of them by an extension. */
const PICTURES = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/ktx2']);

export class GltfMaterials {
  readonly #made = new Map<string, Promise<GltfMaterial>>();
  readonly #textures = new Map<string, Promise<GltfTexture | undefined>>();

  constructor(
    readonly document: Document,
    readonly scene: Scene,
    readonly blobs: BlobStore,
    readonly extensions: Extensions,
    readonly options: WriteOptions,
  ) {}

  get(id: string): Promise<GltfMaterial> {
    let made = this.#made.get(id);
    if (!made) this.#made.set(id, (made = this.#make(this.scene.materials[id] ?? NO_MATERIAL)));
    return made;
  }

  async #make(material: Material): Promise<GltfMaterial> {
    const { document, extensions } = this;
    const made = document
      .createMaterial(material.name)
      .setBaseColorFactor([...material.baseColor, material.opacity])
      .setMetallicFactor(material.metallic)
      .setRoughnessFactor(material.roughness)
      .setDoubleSided(material.doubleSided ?? false)
      .setAlphaMode(material.cutoff !== undefined ? 'MASK' : isBlended(material) ? 'BLEND' : 'OPAQUE');
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
    this.#extend(made, material);
    const { textures } = joinedTextures(material);
    for (const [slot, texture] of Object.entries(textures) as [JoinedSlot, TextureUse | JoinedTexture][]) {
      const use = isJoined(texture) ? texture.use : texture;
      const picture = await (isJoined(texture) ? this.#joined(texture) : this.#texture(use.texture));
      if (picture) this.#bind(made, slot, picture, use);
    }
    return made;
  }

  /** What glTF has by extensions. */
  #extend(made: GltfMaterial, { transmission, ior, clearcoat, clearcoatRoughness = 0 }: Material): void {
    const { document, extensions } = this;
    if (transmission)
      made.setExtension(
        'KHR_materials_transmission',
        document
          .createExtension(extensions.KHRMaterialsTransmission)
          .createTransmission()
          .setTransmissionFactor(transmission),
      );
    if (ior !== undefined)
      made.setExtension('KHR_materials_ior', document.createExtension(extensions.KHRMaterialsIOR).createIOR().setIOR(ior)); // prettier-ignore
    if (clearcoat)
      made.setExtension(
        'KHR_materials_clearcoat',
        document
          .createExtension(extensions.KHRMaterialsClearcoat)
          .createClearcoat()
          .setClearcoatFactor(clearcoat)
          .setClearcoatRoughnessFactor(clearcoatRoughness),
      );
  }

  #bind(material: GltfMaterial, slot: JoinedSlot, texture: GltfTexture, use: TextureUse): void {
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
    return this.#once(id, async () => {
      const texture = this.scene.textures[id];
      const file = texture && pictureFile(texture, PICTURES);
      if (!texture || !file) return undefined;
      return this.#add(texture.name, await this.blobs.get(file.blob), file.mime);
    });
  }

  #joined(joined: JoinedTexture): Promise<GltfTexture | undefined> {
    return this.#once(JSON.stringify(joined.from), async () => {
      const { pictures, pictureKind: kind = 'png' } = this.options;
      // What is joined is a value: JPEG would blur it.
      const to = kind === 'jpeg' ? 'png' : kind;
      const bytes = pictures && (await joinPictures(joined, this.scene, this.blobs, pictures, to));
      return bytes && this.#add(joinedName(joined, this.scene), bytes, `image/${to}`);
    });
  }

  #add(name: string, bytes: Uint8Array, mime: string): GltfTexture {
    const { EXTTextureWebP, KHRTextureBasisu } = this.extensions;
    if (mime === 'image/webp') this.document.createExtension(EXTTextureWebP).setRequired(true);
    if (mime === 'image/ktx2') this.document.createExtension(KHRTextureBasisu).setRequired(true);
    return this.document
      .createTexture(name)
      .setImage(bytes as Uint8Array<ArrayBuffer>)
      .setMimeType(mime);
  }

  #once(key: string, make: () => Promise<GltfTexture | undefined>): Promise<GltfTexture | undefined> {
    let made = this.#textures.get(key);
    if (!made) this.#textures.set(key, (made = make()));
    return made;
  }
}
