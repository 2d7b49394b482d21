/** Materials of a scene as 3MF has them: base materials, groups of texture coordinates for pictures, groups of colours. */
import { placedUvs } from '../placedUvs.ts';
import { hexFromLinear } from '../../finish/colour.ts';
import { isJoined, joinedTextures } from '../../finish/joined.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import { isBlended, NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, SceneNode, TextureUse } from '../../scene/types.ts';
import type { PictureFiles } from '../pictureFiles.ts';
import type { XmlText } from '../xml.ts';
import type { SlotProperties } from './mesh.ts';

const STYLES = { repeat: 'wrap', clamp: 'clamp', mirror: 'mirror' } as const;

export class ThreeMfMaterials {
  #base = 0;
  readonly #indices = new Map<string, number>();
  /** Picture of a material, and how it lies. */
  readonly #pictures = new Map<string, { texture: number; use: TextureUse }>();

  /** @param next gives numbers to resources */
  constructor(
    readonly xml: XmlText,
    readonly scene: Scene,
    readonly files: PictureFiles,
    readonly next: () => number,
  ) {}

  /** Writes what the meshes of some rows will refer to. */
  async write(nodes: readonly SceneNode[]): Promise<void> {
    for (const { materials } of nodes)
      for (const id of materials) if (!this.#indices.has(id)) this.#indices.set(id, this.#indices.size);
    if (this.#indices.size === 0) return;
    const list = [...this.#indices.keys()].map((id) => this.scene.materials[id] ?? NO_MATERIAL);
    const { xml } = this;
    this.#base = this.next();
    xml.within('basematerials', { id: this.#base }, () => {
      for (const material of list) xml.leaf('base', { name: material.name, displaycolor: colourOf(material) });
    });
    for (const [id, index] of this.#indices) await this.#picture(id, list[index]);
  }

  async #picture(id: string, material: Material): Promise<void> {
    const texture = joinedTextures(material).textures.baseColor;
    const path = texture && (await this.files.fileOf(texture));
    if (!texture || !path) return;
    const use = isJoined(texture) ? texture.use : texture;
    const style = STYLES[use.wrap ?? 'repeat'];
    const contenttype = path.endsWith('.png') ? 'image/png' : 'image/jpeg';
    const number = this.next();
    this.xml.leaf('m:texture2d', { id: number, path: `/${path}`, contenttype, tilestyleu: style, tilestylev: style });
    this.#pictures.set(id, { texture: number, use });
  }

  /** Writes the groups that a mesh needs. @returns what the triangles of each slot are given */
  propertiesOf(node: SceneNode, mesh: PlacedMesh): Map<number, SlotProperties> {
    const out = new Map<number, SlotProperties>();
    let colours: number | undefined;
    for (const { slot, count } of mesh.groups) {
      if (count === 0) continue;
      const id = materialOfSlot(node, slot);
      const picture = this.#pictures.get(id);
      const uvs = picture && mesh.uvs?.[picture.use.uv];
      if (picture && uvs) out.set(slot, { pid: this.#coordinates(picture.texture, uvs, picture.use) });
      else if (id !== 'none') out.set(slot, { pid: this.#base, index: this.#indices.get(id) ?? 0 });
      else if (mesh.colours) out.set(slot, { pid: (colours ??= this.#colours(mesh.colours)) });
    }
    return out;
  }

  /** Texture coordinates with the placement of the picture written in; their origin is lower left there. */
  #coordinates(texid: number, uvs: Float32Array, use: TextureUse): number {
    const placed = placedUvs(uvs, use);
    const id = this.next();
    this.xml.begin('m:texture2dgroup', { id, texid });
    for (let i = 0; i < placed.length; i += 2)
      this.xml.pieces.text('<m:tex2coord u="').number(placed[i], UV).text('" v="').number(1 - placed[i + 1], UV).text('"/>\n'); // prettier-ignore
    this.xml.end();
    return id;
  }

  #colours(colours: Float32Array): number {
    const id = this.next();
    this.xml.within('m:colorgroup', { id }, () => {
      for (let i = 0; i < colours.length; i += 4)
        this.xml.leaf('m:color', { color: hexOf([colours[i], colours[i + 1], colours[i + 2]], colours[i + 3]) });
    });
    return id;
  }
}

const UV = 7;

/** What goes through is opacity here. */
function colourOf(material: Material): string {
  const { baseColor, opacity, transmission = 0 } = material;
  return hexOf(baseColor, (isBlended(material) ? opacity : 1) * (1 - transmission));
}

function hexOf(colour: readonly number[], opacity: number): string {
  const byte = Math.round(Math.min(1, Math.max(0, opacity)) * 255).toString(16).padStart(2, '0'); // prettier-ignore
  return `${hexFromLinear(colour)}${byte}`.toUpperCase();
}
