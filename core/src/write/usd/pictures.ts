/** Pictures of a delivery in USD: files beside the layer, or in its package. PNG and JPEG, which all readers of packages open. */
import { isJoined, joinedName, joinPictures } from '../../finish/joined.ts';
import type { JoinedTexture } from '../../finish/joined.ts';
import { pictureFile } from '../../finish/pictureFile.ts';
import type { Scene, TextureUse } from '../../scene/types.ts';
import type { BlobStore, PictureCodec } from '../../surroundings.ts';
import { safeFileName } from '../../transmit/fileNames.ts';
import type { WrittenFile } from '../writer.ts';

/** Kinds that every reader of USD takes. */
const TAKEN = new Set(['image/png', 'image/jpeg']);

export class UsdPictures {
  readonly files: WrittenFile[] = [];
  readonly #made = new Map<string, Promise<string | undefined>>();
  readonly #names = new Set<string>();

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    readonly codec: PictureCodec | undefined,
  ) {}

  /** Where the picture lies beside the layer; undefined where it is not there, or of a kind that is not taken. */
  fileOf(texture: TextureUse | JoinedTexture): Promise<string | undefined> {
    const key = isJoined(texture) ? JSON.stringify(texture.from) : texture.texture;
    let made = this.#made.get(key);
    if (!made)
      this.#made.set(key, (made = isJoined(texture) ? this.#joined(texture) : this.#received(texture.texture)));
    return made;
  }

  async #received(id: string): Promise<string | undefined> {
    const texture = this.scene.textures[id];
    if (!texture) return undefined;
    const file = pictureFile(texture, TAKEN);
    return file && this.#add(texture.name, await this.blobs.get(file.blob), file.mime);
  }

  async #joined(texture: JoinedTexture): Promise<string | undefined> {
    const bytes = this.codec && (await joinPictures(texture, this.scene, this.blobs, this.codec));
    return bytes && this.#add(joinedName(texture, this.scene), bytes, 'image/png');
  }

  #add(name: string, bytes: Uint8Array, mime: string): string {
    const last = name.split(/[\\/]/).at(-1) ?? name;
    const base = safeFileName(last.replace(/\.[A-Za-z0-9]{1,5}$/, ''));
    const ending = mime === 'image/png' ? 'png' : 'jpg';
    let own = `textures/${base}.${ending}`;
    for (let n = 2; this.#names.has(own.toLowerCase()); n++) own = `textures/${base}_${n}.${ending}`;
    this.#names.add(own.toLowerCase());
    this.files.push({ name: own, mime, bytes });
    return own;
  }
}
