/** Appearance of X3D: materials of the classic, the physical and the unlit kind, and their picture. */
import type { Material, TextureSlot, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { referredTexture } from '../referredTexture.ts';
import { childrenNamed } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import type { Definitions } from './definitions.ts';
import { fullName, linear, pair, triple } from './values.ts';

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
      name: (found && fullName(found)) || found?.attributes.DEF || appearance.attributes.DEF || 'Material',
      baseColor: linear(triple(isPhysical ? a.baseColor : a.diffuseColor, isPhysical ? [1, 1, 1] : [0.8, 0.8, 0.8])),
      opacity: 1 - Math.min(1, Math.max(0, Number(a.transparency ?? 0))),
      metallic: isPhysical ? Number(a.metallic ?? 1) : 0,
      // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
      roughness: isPhysical ? Number(a.roughness ?? 1) : (2 / (shininess + 2)) ** 0.25,
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(found?.name === 'UnlitMaterial' ? { unlit: true } : {}),
    };
    const transform = this.definitions.part(appearance, 'TextureTransform')?.attributes;
    const pictures: Partial<Record<TextureSlot, TextureUse>> = {};
    const bind = (slot: TextureSlot, written: XmlElement | undefined, strength?: number) => {
      const use = written && this.#use(this.definitions.used(written), transform);
      if (use) pictures[slot] = { ...use, ...(strength === undefined || strength === 1 ? {} : { strength }) };
    };
    bind('baseColor', childrenNamed(appearance, 'ImageTexture')[0]);
    // A picture stands instead of a colour there; in a physical material it is multiplied by it.
    if (pictures.baseColor) material.baseColor = [1, 1, 1];
    for (const written of isPhysical ? childrenNamed(found, 'ImageTexture') : []) {
      const { containerField = '' } = written.attributes;
      const strength =
        containerField === 'normalTexture'
          ? a.normalScale
          : containerField === 'occlusionTexture'
            ? a.occlusionStrength
            : undefined;
      if (SLOTS[containerField])
        bind(SLOTS[containerField], written, strength === undefined ? undefined : Number(strength));
    }
    if (Object.keys(pictures).length > 0) material.textures = pictures;
    const id = this.builder.material(material);
    this.#materials.set(appearance, id);
    return id;
  }

  #use(picture: XmlElement, transform: Record<string, string> | undefined): TextureUse | undefined {
    const { url: given = '', repeatS } = picture.attributes;
    const url = /"([^"]+)"/.exec(given)?.[1] ?? given.trim();
    if (!url) return undefined;
    const scale = pair(transform?.scale ?? '', [1, 1]);
    const [u, v] = pair(transform?.translation ?? '', [0, 0]);
    const isPlaced = transform?.scale !== undefined || transform?.translation !== undefined;
    return {
      texture: referredTexture(this.builder, url),
      uv: 0,
      ...(repeatS === 'false' ? { wrap: 'clamp' as const } : {}),
      // There a point is moved first and scaled then, and the origin is lower left: scale · (point + translation).
      ...(isPlaced ? { scale, offset: [scale[0] * u, 1 - scale[1] - scale[1] * v] as [number, number] } : {}),
    };
  }
}

/** Fields of a physical material that hold pictures. */
const SLOTS: Record<string, TextureSlot> = {
  baseTexture: 'baseColor',
  metallicRoughnessTexture: 'metallicRoughness',
  normalTexture: 'normal',
  occlusionTexture: 'occlusion',
  emissiveTexture: 'emissive',
};
