/** Pictures of a delivery as files beside what refers to them: as received where the format takes their kind, joined or split where it asks for that. */
import { isJoined, joinedName, joinPictures } from '../finish/joined.ts';
import type { JoinedTexture } from '../finish/joined.ts';
import { pictureFile } from '../finish/pictureFile.ts';
import type { Scene, TextureUse } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import { safeFileName } from '../transmit/fileNames.ts';
import { WrittenFile } from './writer.ts';

/** Kinds that nearly every reader of pictures opens. */
const COMMON: ReadonlySet<string> = new Set(['image/png', 'image/jpeg']);

const ENDINGS: Record<string, string> = { 'image/jpeg': 'jpg', 'image/webp': 'webp', 'image/ktx2': 'ktx2' };

export interface PictureFilesOptions {
  codec?: PictureCodec;
  /** Where they lie, with a slash at its end. */
  folder?: string;
  /** Kinds that the format takes. */
  kinds?: ReadonlySet<string>;
}

export class PictureFiles {
  readonly files: WrittenFile[] = [];
  readonly #made = new Map<string, Promise<string | undefined>>();
  readonly #names: PictureNames;
  readonly #kinds: ReadonlySet<string>;
  readonly #codec: PictureCodec | undefined;

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    { codec, folder = 'textures/', kinds = COMMON }: PictureFilesOptions,
  ) {
    this.#codec = codec;
    this.#names = new PictureNames(folder);
    this.#kinds = kinds;
  }

  /** Path of a picture; undefined where it is not there, or of a kind that is not taken. */
  fileOf(texture: TextureUse | JoinedTexture): Promise<string | undefined> {
    return isJoined(texture)
      ? this.#once(JSON.stringify(texture.from), () => this.#joined(texture))
      : this.#once(texture.texture, () => this.#received(texture.texture));
  }

  /** Path of a grey picture of one value of a picture, 0 for red to 3 for opacity, times a factor. Undefined without what opens pictures. */
  valueOf(texture: TextureUse | JoinedTexture, channel: number, what: string, factor = 1): Promise<string | undefined> {
    const key = `${isJoined(texture) ? JSON.stringify(texture.from) : texture.texture} ${channel} ${factor}`;
    return this.#once(key, () => this.#split(texture, channel, what, factor));
  }

  async #split(
    texture: TextureUse | JoinedTexture,
    channel: number,
    what: string,
    factor: number,
  ): Promise<string | undefined> {
    if (!this.#codec) return undefined;
    const path = await this.#bytesOf(texture);
    if (!path) return undefined;
    const { width, height, data } = await this.#codec.decode(path.bytes, path.mime, { values: channel !== 3 });
    const grey = new Uint8Array(data.length).fill(255);
    for (let at = 0; at < data.length; at += 4) grey.fill(Math.round(data[at + channel] * factor), at, at + 3);
    return this.#add(`${path.name}_${what}`, await this.#codec.encode({ width, height, data: grey }), 'image/png');
  }

  async #bytesOf(texture: TextureUse | JoinedTexture) {
    if (isJoined(texture)) {
      const bytes = this.#codec && (await joinPictures(texture, this.scene, this.blobs, this.#codec));
      return bytes && { bytes, mime: 'image/png', name: joinedName(texture, this.scene) };
    }
    const found = this.scene.textures[texture.texture];
    const file = found && pictureFile(found, ANY);
    return file && { bytes: await this.blobs.get(file.blob), mime: file.mime, name: found.name };
  }

  async #received(id: string): Promise<string | undefined> {
    const texture = this.scene.textures[id];
    if (!texture) return undefined;
    const file = pictureFile(texture, this.#kinds);
    return file && this.#add(texture.name, await this.blobs.get(file.blob), file.mime);
  }

  async #joined(texture: JoinedTexture): Promise<string | undefined> {
    const made = await this.#bytesOf(texture);
    return made && this.#add(made.name, made.bytes, made.mime);
  }

  #once(key: string, make: () => Promise<string | undefined>): Promise<string | undefined> {
    let made = this.#made.get(key);
    if (!made) this.#made.set(key, (made = make()));
    return made;
  }

  #add(name: string, bytes: Uint8Array, mime: string): string {
    const own = this.#names.next(name, mime);
    this.files.push(new WrittenFile(own, mime, bytes));
    return own;
  }
}

/** Paths of pictures by their names, none twice. */
export class PictureNames {
  readonly #taken = new Set<string>();

  constructor(readonly folder: string) {}

  next(name: string, mime: string): string {
    const last = name.split(/[\\/]/).at(-1) ?? name;
    const base = safeFileName(last.replace(/\.[A-Za-z0-9]{1,5}(?=_|$)/, ''));
    const ending = ENDINGS[mime] ?? 'png';
    let own = `${this.folder}${base}.${ending}`;
    for (let n = 2; this.#taken.has(own.toLowerCase()); n++) own = `${this.folder}${base}_${n}.${ending}`;
    this.#taken.add(own.toLowerCase());
    return own;
  }
}

/** Kinds that are opened to be changed. */
const ANY: ReadonlySet<string> = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/ktx2', 'image/bmp', 'image/x-tga', 'image/tiff', 'image/gif']); // prettier-ignore
