/** Materials of the view, for full and for economy drawing, and the colours of the sheet. */
import { Color, DoubleSide, MeshBasicMaterial, MeshLambertMaterial, MeshStandardMaterial, SRGBColorSpace } from 'three';
import type { Material as ThreeMaterial } from 'three';
import type { Material } from '@noble-prism/core/scene/types';
import { NO_MATERIAL } from '@noble-prism/core/scene/types';

export class MaterialStore {
  readonly #made = new Map<string, ThreeMaterial>();

  constructor(readonly economy: boolean) {}

  /** The finished look of a material. */
  finished(material: Material = NO_MATERIAL): ThreeMaterial {
    const key = `${material.id} ${material.baseColor.join()}`;
    let made = this.#made.get(key);
    if (!made) this.#made.set(key, (made = this.#make(material)));
    return made;
  }

  #make({ baseColor, opacity, metallic, roughness }: Material): ThreeMaterial {
    const color = new Color().setRGB(...baseColor);
    const common = {
      color,
      transparent: opacity < 1,
      opacity,
      depthWrite: opacity >= 1,
      side: DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    };
    if (this.economy) return new MeshLambertMaterial(common);
    return new MeshStandardMaterial({ ...common, metalness: metallic, roughness });
  }

  /** White that takes the colour of each part. */
  tinted(lit: boolean): ThreeMaterial {
    const key = `tinted ${lit}`;
    let made = this.#made.get(key);
    if (!made) {
      const common = {
        color: 0xffffff,
        side: DoubleSide,
        polygonOffset: true,
        polygonOffsetFactor: 1,
        polygonOffsetUnits: 1,
      };
      made = lit ? new MeshLambertMaterial(common) : new MeshBasicMaterial(common);
      this.#made.set(key, made);
    }
    return made;
  }

  dispose(): void {
    for (const material of this.#made.values()) material.dispose();
  }
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
