/** Materials and pictures of glTF, with what the extensions add to them. */
import type {
  ExtensibleProperty,
  Material as GltfMaterial,
  Texture as GltfTexture,
  TextureInfo,
} from '@gltf-transform/core';
import type {
  Clearcoat,
  EmissiveStrength,
  IOR,
  PBRSpecularGlossiness,
  Transform,
  Transmission,
} from '@gltf-transform/extensions';
import { metalRough } from '../../finish/specularGloss.ts';
import type { Material, TextureSlot, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { mimeOf } from '../pictureKinds.ts';
import { referredTexture } from '../referredTexture.ts';
import { pictureSize } from '../textures.ts';

/** What extensions say of a surface; nothing where it is as without them. */
function extended(material: GltfMaterial): Pick<Material, 'transmission' | 'ior' | 'clearcoat' | 'clearcoatRoughness'> {
  const transmission = material.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0;
  const ior = material.getExtension<IOR>('KHR_materials_ior')?.getIOR();
  const coat = material.getExtension<Clearcoat>('KHR_materials_clearcoat');
  const [clearcoat, rough] = [coat?.getClearcoatFactor() ?? 0, coat?.getClearcoatRoughnessFactor() ?? 0];
  return {
    ...(transmission > 0 ? { transmission } : {}),
    ...(ior === undefined ? {} : { ior }),
    ...(clearcoat > 0 ? { clearcoat, ...(rough > 0 ? { clearcoatRoughness: rough } : {}) } : {}),
  };
}

export class GltfMaterials {
  readonly #materials = new Map<GltfMaterial, string>();
  readonly #textures = new Map<GltfTexture, string>();

  constructor(readonly builder: SceneBuilder) {}

  /** Id of a material. */
  enter(material: GltfMaterial | null): string {
    if (!material) return 'none';
    const known = this.#materials.get(material);
    if (known) return known;
    const [r, g, b, a] = material.getBaseColorFactor();
    const gloss = material.getExtension<PBRSpecularGlossiness>('KHR_materials_pbrSpecularGlossiness');
    const textures: Material['textures'] = {};
    const bind = (slot: TextureSlot, texture: GltfTexture | null, info: TextureInfo | null, strength?: number) => {
      if (texture && info) textures[slot] = this.#use(texture, info, strength);
    };
    if (gloss) {
      bind('baseColor', gloss.getDiffuseTexture(), gloss.getDiffuseTextureInfo());
      const shine = gloss.getSpecularGlossinessTexture();
      bind('roughness', shine, gloss.getSpecularGlossinessTextureInfo());
      if (textures.roughness) {
        Object.assign(textures.roughness, { channel: 'a', inverted: true });
        this.builder.notRead.add(
          'Pictures of specular colour and gloss: the gloss becomes roughness, the specular colour is that of its factor.',
        );
      }
    } else {
      bind('baseColor', material.getBaseColorTexture(), material.getBaseColorTextureInfo());
      bind('metallicRoughness', material.getMetallicRoughnessTexture(), material.getMetallicRoughnessTextureInfo());
    }
    bind('normal', material.getNormalTexture(), material.getNormalTextureInfo(), material.getNormalScale());
    bind(
      'occlusion',
      material.getOcclusionTexture(),
      material.getOcclusionTextureInfo(),
      material.getOcclusionStrength(),
    );
    bind('emissive', material.getEmissiveTexture(), material.getEmissiveTextureInfo());
    const strength =
      material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
    const emissive = material.getEmissiveFactor().map((value) => value * strength) as [number, number, number];
    const alpha = material.getAlphaMode();
    const converted =
      gloss &&
      metalRough({
        diffuse: gloss.getDiffuseFactor(),
        specular: gloss.getSpecularFactor(),
        glossiness: gloss.getGlossinessFactor(),
      });
    const opacity = gloss ? gloss.getDiffuseFactor()[3] : a;
    const made = this.builder.material({
      name: material.getName() || `Material ${this.#materials.size + 1}`,
      baseColor: [r, g, b],
      opacity: alpha === 'OPAQUE' ? 1 : opacity,
      metallic: material.getMetallicFactor(),
      roughness: material.getRoughnessFactor(),
      ...converted,
      ...(textures.roughness ? { roughness: 1 } : {}),
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(material.getDoubleSided() ? { doubleSided: true } : {}),
      ...(alpha === 'BLEND' && opacity === 1 ? { blended: true } : {}),
      ...(alpha === 'MASK' ? { cutoff: material.getAlphaCutoff() } : {}),
      ...(material.getExtension('KHR_materials_unlit') ? { unlit: true } : {}),
      ...extended(material),
      ...(Object.keys(textures).length > 0 ? { textures } : {}),
    });
    this.#materials.set(material, made);
    return made;
  }

  #use(texture: GltfTexture, info: TextureInfo, strength?: number): TextureUse {
    const transform = (info as ExtensibleProperty).getExtension<Transform>('KHR_texture_transform');
    const wrap = info.getWrapS();
    return {
      texture: this.#texture(texture),
      uv: transform?.getTexCoord() ?? info.getTexCoord(),
      ...(transform
        ? {
            offset: [...transform.getOffset()] as [number, number],
            scale: [...transform.getScale()] as [number, number],
            rotation: transform.getRotation(),
          }
        : {}),
      ...(strength === undefined || strength === 1 ? {} : { strength }),
      ...(wrap === 33071 ? { wrap: 'clamp' as const } : wrap === 33648 ? { wrap: 'mirror' as const } : {}),
    };
  }

  #texture(texture: GltfTexture): string {
    let id = this.#textures.get(texture);
    if (id) return id;
    const bytes = texture.getImage();
    const uri = texture.getURI();
    const isInside = !uri || uri.startsWith('data:');
    if (!isInside) id = referredTexture(this.builder, uri);
    else {
      const mime = texture.getMimeType() || mimeOf(texture.getName());
      const name = texture.getName() || `picture ${this.#textures.size + 1}`;
      id = this.builder.texture(name, mime, bytes ?? undefined, bytes ? pictureSize(bytes) : undefined);
    }
    this.#textures.set(texture, id);
    return id;
  }
}
