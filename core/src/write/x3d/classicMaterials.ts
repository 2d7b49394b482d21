/** Materials as X3D 3.3 has them (ISO/IEC 19775-1:2013, 12.4.4): a colour or one picture, and a highlight. */
import type { Material } from '../../scene/types.ts';
import { encoded, round, throughAndGlow, X3dMaterials } from './materials.ts';
import type { Prepared } from './materials.ts';

/** What a surface that is no metal throws back straight on: glass, paint, plastic. */
const DIELECTRIC = 0.04;
/** Exponent of the highlight that a shininess of one means (17.2.2.4). */
const MOST_EXPONENT = 128;

export class X3dClassicMaterials extends X3dMaterials {
  protected override readonly fields = { baseColor: 'texture' };

  protected override writeSurface(material: Material, prepared: Prepared): void {
    const { baseColor, metallic, roughness } = material;
    // As wide a highlight: n = 2 / alpha² - 2 with alpha = roughness².
    const exponent = Math.max(0, 2 / Math.max(roughness, 0.03) ** 4 - 2);
    this.xml.begin('Material', {
      diffuseColor: encoded(baseColor),
      // Metals throw their own colour back.
      specularColor: encoded(baseColor.map((value) => DIELECTRIC + (value - DIELECTRIC) * metallic)),
      shininess: round(Math.min(1, exponent / MOST_EXPONENT)),
      ...throughAndGlow(material),
    });
    this.writeName(material, prepared);
    this.xml.end();
    this.writePictures(prepared);
  }
}
