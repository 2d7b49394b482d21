/** Materials of USD: the preview surface and the textures that it is connected with. */
import type { Material, TextureSlot, TextureUse } from '../../scene/types.ts';
import type { SceneBuilder } from '../builder.ts';
import { referredTexture } from '../referredTexture.ts';
import { numbersIn, stringIn, UsdAsset } from './layer.ts';
import type { ComposedPrim, ComposedProperty, Stage } from './stage.ts';

/** Connections that are followed from one input to its value. */
const MAX_HOPS = 20;

type Rgb = [number, number, number];

/** What an input comes to: a value, or the texture node and the channel that it is connected with. */
interface Input {
  property?: ComposedProperty;
  texture?: ComposedPrim;
  output?: string;
}

export class UsdMaterials {
  readonly #made = new Map<string, string>();

  constructor(
    readonly stage: Stage,
    readonly builder: SceneBuilder,
    /** Sets of texture coordinates by name, for meshes in the order in which they are read. */
    readonly setOf: (name: string) => number,
  ) {}

  /** Id of the material at a path; `none` where there is none that is read. @param isDouble of a surface that has two sides */
  at(path: string, isDouble = false): string {
    const key = `${path} ${isDouble}`;
    let id = this.#made.get(key);
    if (id === undefined) {
      const prim = this.stage.at(path);
      id = prim ? this.#material(prim, isDouble) : 'none';
      this.#made.set(key, id);
    }
    return id;
  }

  #material(prim: ComposedPrim, isDouble: boolean): string {
    const { builder } = this;
    const name = prim.displayName ?? prim.name;
    const surface = this.#connected(prim, 'outputs:surface') ?? this.#connected(prim, 'outputs:universal:surface');
    const shader = surface === undefined ? undefined : this.stage.at(splitProperty(surface)[0]);
    const kind = stringIn(shader?.property('info:id')?.value);
    if (!shader || kind !== 'UsdPreviewSurface') {
      builder.notRead.add(
        kind
          ? `The surface ${kind} of the material ${name} is not read; only its name is kept.`
          : `The material ${name} has no surface of the open preview kind; only its name is kept.`,
      );
      return builder.material({ name, baseColor: [0.5, 0.5, 0.5], opacity: 1, metallic: 0, roughness: 0.5 });
    }
    const input = (key: string) => this.#input(shader, key);
    const number = (key: string, standard: number) => {
      const value = numbersIn(input(key).property?.value)[0];
      return value === undefined || !Number.isFinite(value) ? standard : value;
    };
    const colour = (key: string, standard: Rgb): Rgb => {
      const [r, g, b] = numbersIn(input(key).property?.value);
      return Number.isFinite(r + g + b) ? [r, g, b] : standard;
    };
    const emissive = colour('emissiveColor', [0, 0, 0]);
    const threshold = number('opacityThreshold', 0);
    const material: Omit<Material, 'id' | 'origin'> = {
      name,
      baseColor: colour('diffuseColor', [0.18, 0.18, 0.18]),
      opacity: number('opacity', 1),
      metallic: number('metallic', 0),
      roughness: number('roughness', 0.5),
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(threshold > 0 ? { cutoff: threshold } : {}),
      ...(isDouble ? { doubleSided: true } : {}),
      ...coatOf(number),
    };
    if (number('useSpecularWorkflow', 0) === 1)
      builder.notRead.add(
        `The specular colour of ${name} is not carried; its base colour is that of the diffuse part.`,
      );
    this.#bindTextures(material, input);
    return builder.material(material);
  }

  #bindTextures(material: Omit<Material, 'id' | 'origin'>, input: (key: string) => Input): void {
    const textures: Partial<Record<TextureSlot, TextureUse>> = {};
    const bind = (slot: TextureSlot, key: string): boolean => {
      const use = this.#use(input(key).texture);
      if (use) textures[slot] = use;
      return use !== undefined;
    };
    // The scale of a picture is the factor of glTF.
    const scaleOf = (key: string) => this.#numbers(input(key).texture, 'scale', [1, 1, 1, 1]);
    const rgb = ([r, g, b]: readonly number[]): Rgb => [r, g, b];
    if (bind('baseColor', 'diffuseColor')) material.baseColor = rgb(scaleOf('diffuseColor'));
    if (bind('emissive', 'emissiveColor')) material.emissive = rgb(scaleOf('emissiveColor'));
    bind('normal', 'normal');
    bind('occlusion', 'occlusion');
    // From 0 … 1 to -1 … 1 is a strength of one, and where the bias is none the picture holds such values already.
    const [bump] = this.#numbers(input('normal').texture, 'bias', [0]);
    const weaker = { normal: bump < 0 ? scaleOf('normal')[0] / 2 : 1, occlusion: scaleOf('occlusion')[0] };
    for (const slot of ['normal', 'occlusion'] as const)
      if (textures[slot] && weaker[slot] !== 1) textures[slot] = { ...textures[slot], strength: weaker[slot] };
    const [metallic, roughness] = [input('metallic'), input('roughness')];
    const [metalUse, roughUse] = [this.#use(metallic.texture), this.#use(roughness.texture)];
    // One picture holds both in glTF's channels, roughness in green and metalness in blue.
    const fits =
      (!roughUse || roughness.output === 'g') &&
      (!metalUse || metallic.output === 'b') &&
      (!roughUse || !metalUse || roughUse.texture === metalUse.texture);
    const shared = roughUse ?? metalUse;
    if (shared && fits) {
      textures.metallicRoughness = shared;
    } else {
      if (roughUse) textures.roughness = { ...roughUse, ...channelOf(roughness) };
      if (metalUse) textures.metallic = { ...metalUse, ...channelOf(metallic) };
    }
    if (roughUse) material.roughness = scaleOf('roughness')[indexOf(roughness)];
    if (metalUse) material.metallic = scaleOf('metallic')[indexOf(metallic)];
    const opacity = input('opacity');
    const opacityUse = this.#use(opacity.texture);
    if (opacityUse) {
      material.opacity = scaleOf('opacity')[indexOf(opacity)];
      if (material.cutoff === undefined) material.blended = true;
      // The opacity of the base colour's own picture is there already.
      const isOwn = opacityUse.texture === textures.baseColor?.texture && opacity.output === 'a';
      if (!isOwn) textures.opacity = { ...opacityUse, ...channelOf(opacity) };
    }
    if (Object.keys(textures).length > 0) material.textures = textures;
  }

  /** Numbers of an input of a node; others where it has none. */
  #numbers(node: ComposedPrim | undefined, key: string, standard: number[]): number[] {
    const values = node ? numbersIn(this.#input(node, key).property?.value) : [];
    return values.length < standard.length ? standard : [...values];
  }

  /** How a texture node is used; undefined where it names no picture. */
  #use(node: ComposedPrim | undefined): TextureUse | undefined {
    if (!node) return undefined;
    const file = this.#input(node, 'file').property;
    const asset = file?.value instanceof UsdAsset ? file.value.file : stringIn(file?.value);
    if (!file || !asset) return undefined;
    const wrap = stringIn(this.#input(node, 'wrapS').property?.value);
    const places = this.#input(node, 'st');
    const reader = places.texture;
    const use: TextureUse = {
      texture: referredTexture(this.builder, asset, file.layer.file),
      uv: 0,
      ...(wrap === 'clamp' || wrap === 'black' ? { wrap: 'clamp' } : wrap === 'mirror' ? { wrap: 'mirror' } : {}),
    };
    const isTransform = stringIn(reader?.property('info:id')?.value) === 'UsdTransform2d';
    const source = reader && isTransform ? this.#input(reader, 'in').texture : reader;
    const varname = source && stringIn(this.#input(source, 'varname').property?.value);
    if (varname) use.uv = this.setOf(varname);
    if (reader && isTransform) Object.assign(use, this.#placing(reader));
    return use;
  }

  /**
   * Scale, rotation, translation of the coordinates, whose origin is lower left, as glTF has them from the upper left
   * (KHR_texture_transform): v' = 1 - v turns the rotation round and moves the offset.
   */
  #placing(node: ComposedPrim): Pick<TextureUse, 'offset' | 'scale' | 'rotation'> {
    const numbers = (key: string) => numbersIn(this.#input(node, key).property?.value);
    const [sx = 1, sy = 1] = numbers('scale');
    const [tx = 0, ty = 0] = numbers('translation');
    const turn = ((numbers('rotation')[0] ?? 0) * Math.PI) / 180;
    // In the file: p' = R S p + t. With p = (u, 1 - v): the same as glTF's with this offset.
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    return {
      scale: [sx, sy],
      ...(turn ? { rotation: turn } : {}),
      offset: [tx - sin * sy, 1 - ty - cos * sy],
    };
  }

  /** Follows an input to its value, or to the texture node at its end. */
  #input(node: ComposedPrim, key: string): Input {
    let property = node.property(`inputs:${key}`);
    for (let hop = 0; property?.connection && hop < MAX_HOPS; hop++) {
      const [path, name = ''] = splitProperty(property.connection);
      const prim = this.stage.at(path);
      if (!prim) break;
      if (name.startsWith('outputs:') && prim.type === 'Shader') return { texture: prim, output: name.slice(8) };
      property = prim.property(name);
    }
    return property ? { property } : {};
  }

  #connected(prim: ComposedPrim, output: string): string | undefined {
    let connection = prim.property(output)?.connection;
    for (let hop = 0; connection && hop < MAX_HOPS; hop++) {
      const [path, name] = splitProperty(connection);
      const next = this.stage.at(path);
      if (next?.type !== 'NodeGraph' && next?.type !== 'Material') break;
      connection = next.property(name ?? '')?.connection;
    }
    return connection;
  }
}

function channelOf({ output }: Input): Pick<TextureUse, 'channel'> {
  return output === 'r' || output === 'g' || output === 'b' || output === 'a' ? { channel: output } : {};
}

/** Place of the channel that an input takes among red, green, blue and opacity. */
const indexOf = ({ output }: Input) => Math.max(0, 'rgba'.indexOf(output ?? 'r'));

function splitProperty(path: string): [string, string?] {
  const dot = path.indexOf('.');
  return dot < 0 ? [path] : [path.slice(0, dot), path.slice(dot + 1)];
}

/** A clear layer, and an index of refraction that is said; those of UsdPreviewSurface are those of glTF. */
function coatOf(
  number: (key: string, standard: number) => number,
): Pick<Material, 'ior' | 'clearcoat' | 'clearcoatRoughness'> {
  const [ior, clearcoat, rough] = [number('ior', NaN), number('clearcoat', 0), number('clearcoatRoughness', 0.01)];
  return {
    ...(Number.isNaN(ior) ? {} : { ior }),
    ...(clearcoat > 0 ? { clearcoat, ...(rough > 0 ? { clearcoatRoughness: rough } : {}) } : {}),
  };
}
