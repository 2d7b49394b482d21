/** Materials of a scene as COLLADA's common profile has them: a colour or its picture, a highlight as wide as the roughness says, opacity. */
import { srgbFromLinear } from '../../finish/colour.ts';
import { isJoined, joinedTextures, liesAlike } from '../../finish/joined.ts';
import { isBlended, NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, SceneNode, TextureUse } from '../../scene/types.ts';
import type { PictureFiles } from '../pictureFiles.ts';
import type { XmlIds, XmlText } from '../xml.ts';

interface Written {
  id: string;
  /** How its pictures lie: what lies otherwise has a name of its own among the coordinates, `UV0` and so on. */
  uses: TextureUse[];
}

interface PlacedPicture {
  image: string;
  use: TextureUse;
  /** Of its coordinates. */
  name: string;
}

const WRAPS = { repeat: 'WRAP', clamp: 'CLAMP', mirror: 'MIRROR' } as const;

export class ColladaMaterials {
  readonly #written = new Map<string, Written>();
  /** Ids of images by the path of their file. */
  readonly #images = new Map<string, string>();

  constructor(
    readonly xml: XmlText,
    readonly scene: Scene,
    readonly files: PictureFiles,
    readonly ids: XmlIds,
  ) {}

  idOf(id: string): Written | undefined {
    return this.#written.get(id);
  }

  /** Writes images, effects and materials of some rows. */
  async write(nodes: readonly SceneNode[]): Promise<void> {
    const { xml } = this;
    const used = new Set(nodes.flatMap(({ mesh, materials }) => (mesh ? materials : [])));
    used.delete(NO_MATERIAL.id);
    if (used.size === 0) return;
    const list: { id: string; effect: string; material: Material; base?: PlacedPicture; normal?: PlacedPicture }[] = [];
    for (const id of used) {
      const material = this.scene.materials[id] ?? NO_MATERIAL;
      const { baseColor, normal } = joinedTextures(material).textures;
      const [base, bump] = [await this.#picture(baseColor), await this.#picture(normal)];
      const own = this.ids.next(material.name);
      const uses: TextureUse[] = [];
      for (const picture of [base, bump]) {
        if (!picture) continue;
        const alike = uses.findIndex((use) => liesAlike(use, picture.use));
        picture.name = `UV${alike < 0 ? uses.push(picture.use) - 1 : alike}`;
      }
      this.#written.set(id, { id: own, uses });
      list.push({ id: own, effect: this.ids.next(`${own}_effect`), material, ...(base ? { base } : {}), ...(bump ? { normal: bump } : {}) }); // prettier-ignore
    }
    if (this.#images.size > 0)
      xml.within('library_images', {}, () => {
        for (const [path, id] of this.#images)
          xml.within('image', { id, name: id }, () => xml.leaf('init_from', {}, path));
      });
    xml.within('library_effects', {}, () => {
      for (const { effect, material, base, normal } of list) this.#effect(effect, material, base, normal);
    });
    xml.within('library_materials', {}, () => {
      for (const { id, effect, material } of list)
        xml.within('material', { id, name: material.name }, () => xml.leaf('instance_effect', { url: `#${effect}` }));
    });
  }

  async #picture(texture: Parameters<PictureFiles['fileOf']>[0] | undefined): Promise<PlacedPicture | undefined> {
    const path = texture && (await this.files.fileOf(texture));
    if (!texture || !path) return undefined;
    let image = this.#images.get(path);
    if (!image) this.#images.set(path, (image = this.ids.next(path.replace(/^.*\/|\.[^.]*$/g, ''))));
    return { image, use: isJoined(texture) ? texture.use : texture, name: 'UV0' };
  }

  #effect(id: string, material: Material, base?: PlacedPicture, normal?: PlacedPicture): void {
    const { xml } = this;
    const { baseColor, opacity, roughness, emissive = [0, 0, 0], transmission = 0, ior } = material;
    xml.begin('effect', { id }).begin('profile_COMMON');
    const samplers = new Map<PlacedPicture, string>();
    for (const picture of [base, normal]) {
      if (!picture) continue;
      const name = `${picture === base ? 'colour' : 'normal'}-sampler`;
      samplers.set(picture, name);
      const surface = name.replace('sampler', 'surface');
      xml.within('newparam', { sid: surface }, () =>
        xml.within('surface', { type: '2D' }, () => xml.leaf('init_from', {}, picture.image)),
      );
      const wrap = WRAPS[picture.use.wrap ?? 'repeat'];
      xml.within('newparam', { sid: name }, () =>
        xml.within('sampler2D', {}, () =>
          xml.leaf('source', {}, surface).leaf('wrap_s', {}, wrap).leaf('wrap_t', {}, wrap),
        ),
      );
    }
    const colour = (values: readonly number[], alpha = 1) =>
      xml.leaf('color', {}, [...values.map((value) => round(srgbFromLinear(Math.min(1, value)))), alpha].join(' '));
    const texture = (picture: PlacedPicture) =>
      xml.leaf('texture', { texture: samplers.get(picture), texcoord: picture.name });
    xml.begin('technique', { sid: 'common' }).begin('phong');
    xml.within('emission', {}, () => colour(emissive));
    xml.within('diffuse', {}, () => (base ? texture(base) : colour(baseColor)));
    xml.within('specular', {}, () => xml.leaf('color', {}, '0.04 0.04 0.04 1'));
    // As wide a highlight: n = 2 / alpha² - 2 with alpha = roughness².
    const shininess = round(Math.max(1.001, 2 / Math.max(roughness, 0.03) ** 4 - 2));
    xml.within('shininess', {}, () => xml.leaf('float', {}, String(shininess)));
    // What goes through is opacity here.
    const rest = (isBlended(material) ? opacity : 1) * (1 - transmission);
    const isPictured = base !== undefined && (isBlended(material) || material.cutoff !== undefined);
    xml.within('transparent', { opaque: 'A_ONE' }, () =>
      isPictured ? texture(base) : xml.leaf('color', {}, '1 1 1 1'),
    );
    xml.within('transparency', {}, () => xml.leaf('float', {}, String(round(rest))));
    if (ior !== undefined) xml.within('index_of_refraction', {}, () => xml.leaf('float', {}, String(round(ior))));
    xml.end();
    // No place for normals in the profile: written as several programs read them, in a technique of its own.
    if (normal)
      xml.within('extra', {}, () =>
        xml.within('technique', { profile: 'normals' }, () => xml.within('bump', {}, () => texture(normal))),
      );
    xml.end().end().end();
  }
}

const round = (value: number) => Number(value.toFixed(7));
