/** Materials of the view, for full and for economy drawing, and the colours of the sheet. */
import {
  Color,
  DoubleSide,
  LineBasicMaterial,
  MeshBasicMaterial,
  MeshLambertMaterial,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  PointsMaterial,
  SRGBColorSpace,
} from 'three';
import type { Material as ThreeMaterial, Texture } from 'three';
import { texelsOf } from '@noble-prism/core/finish/texels';
import { meanColour } from '@noble-prism/core/finish/library/given';
import type { Material, Scene, TextureUse } from '@noble-prism/core/scene/types';
import { isBlended, NO_MATERIAL } from '@noble-prism/core/scene/types';
import { withBacks } from './backs.ts';
import { checkerMaterial } from './checker.ts';
import type { ViewGeometry } from './geometry.ts';
import type { TextureStore } from './textures.ts';

/**
 * Surfaces lie a little behind the edges drawn on them. The more they are pushed where they are seen at a grazing angle, the farther
 * what lies behind them shows through: most of the distance is given to the edges instead, see `edgeMaterial`.
 */
const BEHIND_EDGES = { polygonOffset: true, polygonOffsetFactor: 0.4, polygonOffsetUnits: 1 };

/** Share of their distance from the eye by which edges are drawn nearer: 0.2 mm a metre. */
const NEARER = 0.0002;

/** Ink lines that lie on surfaces: drawn a little nearer to the eye, at the same place of the picture. */
export function edgeMaterial(): LineBasicMaterial {
  const material = new LineBasicMaterial({ transparent: true, toneMapped: false });
  material.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader.replace(
      '#include <project_vertex>',
      `#include <project_vertex>
      mvPosition.xyz *= ${1 - NEARER};
      gl_Position = projectionMatrix * mvPosition;`,
    );
  };
  return material;
}

/** Share of the transmission by which glass is made to be seen through: some of it is seen all the same. */
const GLASS = 0.8;

export class MaterialStore {
  readonly #made = new Map<string, ThreeMaterial>();

  constructor(
    readonly economy: boolean,
    readonly textures: TextureStore,
  ) {}

  /** The finished look of a material, on vertices with colours of their own or without, of parts whose back can be seen or not. */
  finished(
    scene: Scene,
    id: string,
    { coloured, backs = false }: Pick<ViewGeometry, 'coloured' | 'backs'>,
  ): ThreeMaterial {
    const material = scene.materials[id] ?? NO_MATERIAL;
    const blobs = Object.values(material.textures ?? {}).map(({ texture }) => scene.textures[texture]?.blob ?? '');
    const key = `${material.id} ${lookOf(material)} ${blobs.join()} ${coloured} ${backs}`;
    let made = this.#made.get(key);
    if (!made) this.#made.set(key, (made = this.#make(scene, material, coloured, backs)));
    return made;
  }

  #make(scene: Scene, material: Material, coloured: boolean, backs: boolean): ThreeMaterial {
    const { baseColor, opacity, metallic, roughness, cutoff, emissive, unlit, textures = {} } = material;
    const { transmission = 0, ior, clearcoat = 0, clearcoatRoughness = 0 } = material;
    // What goes through is drawn as what is seen through: a picture of all that lies behind would be drawn for each frame.
    const isBlend = isBlended(material) || transmission > 0;
    const seenThrough = opacity * (1 - transmission * GLASS);
    const common = {
      // A part without a material that has colours of its own shows them as they are.
      // Until its picture is there, a material of the library is shown in its mean colour.
      color:
        coloured && material.id === NO_MATERIAL.id ? new Color(0xffffff) : new Color().setRGB(...meanColour(material)),
      transparent: isBlend,
      opacity: seenThrough,
      depthWrite: !isBlend,
      side: DoubleSide,
      vertexColors: coloured,
      ...(cutoff === undefined ? {} : { alphaTest: cutoff }),
      ...BEHIND_EDGES,
    };
    const lit = emissive ? { emissive: new Color().setRGB(...emissive) } : {};
    const made = unlit
      ? new MeshBasicMaterial(common)
      : this.economy
        ? new MeshLambertMaterial({ ...common, ...lit })
        : clearcoat > 0 || ior !== undefined
          ? new MeshPhysicalMaterial({ ...common, ...lit, metalness: metallic, roughness, clearcoat, clearcoatRoughness, ...(ior === undefined ? {} : { ior }) }) // prettier-ignore
          : new MeshStandardMaterial({ ...common, ...lit, metalness: metallic, roughness });
    withBacks(made, backs && !material.doubleSided);
    const put = (use: TextureUse | undefined, isColour: boolean, apply: (map: Texture) => void) =>
      this.textures.use(scene, use, isColour, (map) => {
        apply(map);
        made.needsUpdate = true;
      });
    put(textures.baseColor, true, (map) => {
      made.map = map;
      if (material.id !== NO_MATERIAL.id) made.color.setRGB(...baseColor);
    });
    put(textures.opacity, false, (map) => (made.alphaMap = map));
    if (made instanceof MeshStandardMaterial) {
      put(textures.roughness ?? textures.metallicRoughness, false, (map) => (made.roughnessMap = map));
      put(textures.metallic ?? textures.metallicRoughness, false, (map) => (made.metalnessMap = map));
      put(textures.emissive, true, (map) => (made.emissiveMap = map));
      put(textures.normal, false, (map) => {
        made.normalMap = map;
        made.normalScale.setScalar(textures.normal?.strength ?? 1);
      });
    }
    return made;
  }

  /** Squares of the pictures of a material, coloured by how fine they are. */
  checker(scene: Scene, id: string, set: 0 | 1): ThreeMaterial {
    const material = scene.materials[id] ?? NO_MATERIAL;
    const { use, u, v } = texelsOf(material, scene.textures, set);
    const key = `checker ${set} ${u} ${v} ${JSON.stringify({ ...use, texture: '' })}`;
    let made = this.#made.get(key);
    if (!made) this.#made.set(key, (made = checkerMaterial(material, scene.textures, set, BEHIND_EDGES)));
    return made;
  }

  /** Dots of a cloud, a few pixels wide at any distance. */
  points(coloured: boolean): ThreeMaterial {
    const key = `points ${coloured}`;
    let made = this.#made.get(key);
    if (!made) {
      const color = coloured ? 0xffffff : new Color().setRGB(...NO_MATERIAL.baseColor);
      this.#made.set(
        key,
        (made = new PointsMaterial({ size: 2, sizeAttenuation: false, vertexColors: coloured, color })),
      );
    }
    return made;
  }

  /** White that takes the colour of each part. */
  tinted(lit: boolean): ThreeMaterial {
    const key = `tinted ${lit}`;
    let made = this.#made.get(key);
    if (!made) {
      const common = {
        color: 0xffffff,
        side: DoubleSide,
        ...BEHIND_EDGES,
      };
      made = lit ? new MeshLambertMaterial(common) : new MeshBasicMaterial(common);
      withBacks(made, false);
      this.#made.set(key, made);
    }
    return made;
  }

  dispose(): void {
    for (const material of this.#made.values()) material.dispose();
  }
}

const looks = new WeakMap<Material, string>();

/** All that is drawn of a material: own ones are edited under their id. */
function lookOf(material: Material): string {
  let look = looks.get(material);
  if (look === undefined) looks.set(material, (look = JSON.stringify({ ...material, id: '', name: '' })));
  return look;
}

/** A colour of the sheet, from its custom property. */
export function sheetColour(name: string): Color {
  const text = getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  return new Color().setStyle(text || '#888888', SRGBColorSpace);
}

/** Colours that tell layers apart, in a fixed order; muted, so that the selection stands out. */
const LAYER_COLOURS = [
  '#5b7f95', '#b5835a', '#7a8f5c', '#a3637a', '#6e6aa0', '#c2a14a', '#4f8f85', '#96705f', '#8795a8', '#b06c4f', '#5f7f4f', '#8a5f94',
]; // prettier-ignore

export function layerColour(index: number): Color {
  return index < 0 ? new Color('#9a9a94') : new Color(LAYER_COLOURS[index % LAYER_COLOURS.length]);
}
