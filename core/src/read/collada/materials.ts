/** Materials of COLLADA: effects of the common profile, and their pictures. */
import { linearFromSrgb } from '../../finish/colour.ts';
import type { Material, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { referredTexture } from '../referredTexture.ts';
import { child, childrenNamed, decimalOf, decimalsOf, everything } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import type { Refer } from './meshes.ts';

export class ColladaMaterials {
  readonly #materials = new Map<string, string>();

  constructor(
    readonly refer: Refer,
    readonly builder: SceneBuilder,
    readonly path: string,
  ) {}

  /**
   * Enters a material. Returns its id.
   * @param sets set of texture coordinates by the name that the effect gives it
   */
  enter(element: XmlElement, sets: Map<string, number>): string {
    const key = `${element.attributes.id} ${[...sets].join(' ')}`;
    let id = this.#materials.get(key);
    if (id) return id;
    const effect = this.refer(child(element, 'instance_effect')?.attributes.url);
    const profile = child(effect, 'profile_COMMON');
    const technique = child(profile, 'technique');
    const shading =
      child(technique, 'phong') ??
      child(technique, 'blinn') ??
      child(technique, 'lambert') ??
      child(technique, 'constant');
    const material: Omit<Material, 'id' | 'origin'> = {
      name: element.attributes.name || element.attributes.id || 'Material',
      baseColor: [0.6, 0.6, 0.6],
      opacity: 1,
      metallic: 0,
      roughness: 0.7,
    };
    const diffuse = child(shading, 'diffuse');
    const colour = decimalsOf(child(diffuse, 'color')?.text);
    if (colour.length >= 3) material.baseColor = linear(colour);
    const picture = this.#picture(child(diffuse, 'texture'), profile, effect, sets);
    if (picture) {
      material.textures = { baseColor: picture };
      material.baseColor = [1, 1, 1];
    }
    const emission = decimalsOf(child(shading, 'emission', 'color')?.text).slice(0, 3);
    if (emission.length === 3 && emission.some((value) => value > 0)) material.emissive = linear(emission);
    const shininess = decimalOf(child(shading, 'shininess', 'float')?.text);
    // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
    if (shininess > 1) material.roughness = (2 / (shininess + 2)) ** 0.25;
    const opacity = opacityOf(shading);
    if (opacity < 1) material.opacity = opacity;
    const bump = [...(technique ? everything(technique) : [])].find(({ name }) => name === 'bump');
    const normal = this.#picture(child(bump, 'texture'), profile, effect, sets);
    if (normal) material.textures = { ...material.textures, normal };
    const doubleSided = [...(effect ? everything(effect) : [])].find(({ name }) => name === 'double_sided');
    if (doubleSided?.text.trim() === '1') material.doubleSided = true;
    if (shading?.name === 'constant') material.unlit = true;
    id = this.builder.material(material);
    this.#materials.set(key, id);
    return id;
  }

  /** From the texture through its sampler and surface to the picture; some files skip what lies between. */
  #picture(
    texture: XmlElement | undefined,
    profile: XmlElement | undefined,
    effect: XmlElement | undefined,
    sets: Map<string, number>,
  ): TextureUse | undefined {
    if (!texture) return undefined;
    const params = new Map(
      [...childrenNamed(profile, 'newparam'), ...childrenNamed(effect, 'newparam')].map(
        (param) => [param.attributes.sid, param] as const,
      ),
    );
    const sampler = child(params.get(texture.attributes.texture), 'sampler2D');
    const surface = child(params.get(child(sampler, 'source')?.text.trim() ?? ''), 'surface');
    const target =
      child(sampler, 'instance_image')?.attributes.url ??
      child(surface, 'init_from')?.text.trim() ??
      texture.attributes.texture;
    const image = this.refer(target);
    const from = child(image, 'init_from');
    const reference = (child(from, 'ref')?.text ?? from?.text)?.trim();
    if (!reference) return undefined;
    const wrap = child(sampler, 'wrap_s')?.text.trim();
    return {
      texture: referredTexture(this.builder, reference.replace(/^file:\/*/, ''), this.path),
      uv: sets.get(texture.attributes.texcoord) ?? 0,
      ...(wrap === 'CLAMP' || wrap === 'BORDER'
        ? { wrap: 'clamp' as const }
        : wrap === 'MIRROR'
          ? { wrap: 'mirror' as const }
          : {}),
    };
  }
}

function linear(values: number[]): [number, number, number] {
  return [0, 1, 2].map((i) => linearFromSrgb(Math.min(1, Math.max(0, values[i])))) as [number, number, number];
}

/** Opacity by the modes of the specification; A_ONE where none is stated. */
function opacityOf(shading: XmlElement | undefined): number {
  const transparent = child(shading, 'transparent');
  const stated = child(shading, 'transparency', 'float');
  if (!transparent && !stated) return 1;
  const share = stated ? decimalOf(stated.text) : 1;
  const [r = 1, g = 1, b = 1, a = 1] = decimalsOf(child(transparent, 'color')?.text);
  const luminance = 0.212671 * r + 0.71516 * g + 0.072169 * b;
  const mode = transparent?.attributes.opaque ?? 'A_ONE';
  const opacity =
    mode === 'RGB_ZERO'
      ? 1 - luminance * share
      : mode === 'A_ZERO'
        ? 1 - a * share
        : mode === 'RGB_ONE'
          ? luminance * share
          : a * share;
  // Many writers state 0 and mean opaque (common practice): a thing that nobody can see would not have been sent.
  return Number.isFinite(opacity) && opacity > 0 && opacity < 1 ? opacity : 1;
}
