/** Appearance of X3D: materials of the classic, the physical and the unlit kind, and their picture. */
import type { Material, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { referredTexture } from '../referredTexture.ts';
import type { XmlElement } from '../xml.ts';
import type { Definitions } from './definitions.ts';
import { linear, pair, triple } from './values.ts';

export class X3dMaterials {
  readonly #materials = new Map<XmlElement, string>();

  constructor(
    readonly definitions: Definitions,
    readonly builder: SceneBuilder,
  ) {}

  /** Id of the material of an appearance; `none` where there is none. */
  of(written: XmlElement | undefined): string {
    if (!written) return 'none';
    const appearance = this.definitions.used(written);
    const known = this.#materials.get(appearance);
    if (known) return known;
    const found = this.definitions.part(appearance, 'Material', 'PhysicalMaterial', 'UnlitMaterial');
    const a = found?.attributes ?? {};
    const isPhysical = found?.name === 'PhysicalMaterial';
    const emissive = linear(triple(a.emissiveColor, [0, 0, 0]));
    const shininess = Number(a.shininess ?? 0.2) * 128;
    const material: Omit<Material, 'id' | 'origin'> = {
      name: found?.attributes.DEF || appearance.attributes.DEF || 'Material',
      baseColor: linear(triple(isPhysical ? a.baseColor : a.diffuseColor, isPhysical ? [1, 1, 1] : [0.8, 0.8, 0.8])),
      opacity: 1 - Math.min(1, Math.max(0, Number(a.transparency ?? 0))),
      metallic: isPhysical ? Number(a.metallic ?? 1) : 0,
      // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
      roughness: isPhysical ? Number(a.roughness ?? 1) : (2 / (shininess + 2)) ** 0.25,
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(found?.name === 'UnlitMaterial' ? { unlit: true } : {}),
    };
    const picture = this.definitions.part(appearance, 'ImageTexture');
    const url = picture?.attributes.url?.match(/"([^"]+)"/)?.[1] ?? picture?.attributes.url?.trim();
    if (picture && url) {
      const transform = this.definitions.part(appearance, 'TextureTransform')?.attributes;
      const use: TextureUse = {
        texture: referredTexture(this.builder, url),
        uv: 0,
        ...(picture.attributes.repeatS === 'false' ? { wrap: 'clamp' as const } : {}),
        ...(transform?.scale ? { scale: pair(transform.scale, [1, 1]) } : {}),
        ...(transform?.translation ? { offset: pair(transform.translation, [0, 0]) } : {}),
      };
      material.textures = { baseColor: use };
      material.baseColor = [1, 1, 1];
    }
    const id = this.builder.material(material);
    this.#materials.set(appearance, id);
    return id;
  }
}
