/** Pictures of the scene for the view: fetched when a material needs them, drawn from then on. */
import { ClampToEdgeWrapping, MirroredRepeatWrapping, RepeatWrapping, SRGBColorSpace, Texture } from 'three';
import { pictureFile } from '@noble-prism/core/finish/pictureFile';
import type { Scene, TextureUse } from '@noble-prism/core/scene/types';
import { fetchBlob } from '../api/client.ts';

/** Kinds that a browser can draw. */
const DRAWABLE = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/bmp', 'image/avif']);
const WRAPS = { repeat: RepeatWrapping, clamp: ClampToEdgeWrapping, mirror: MirroredRepeatWrapping };

export class TextureStore {
  readonly #pictures = new Map<string, Promise<ImageBitmap | undefined>>();
  readonly #made: Texture[] = [];

  constructor(
    /** Called when a picture has become ready. */
    readonly arrived: () => void,
  ) {}

  /** A texture for one use; it gets its picture when that has come. Undefined where there is nothing to draw. */
  use(scene: Scene, use: TextureUse | undefined, isColour: boolean, ready: (texture: Texture) => void): void {
    const entry = use && scene.textures[use.texture];
    const file = entry && pictureFile(entry, DRAWABLE);
    if (!use || !file) return;
    void this.#picture(file, use).then((picture) => {
      if (!picture) return;
      const texture = new Texture(picture);
      texture.flipY = false;
      texture.channel = Math.min(3, use.uv);
      texture.wrapS = texture.wrapT = WRAPS[use.wrap ?? 'repeat'];
      if (use.offset) texture.offset.set(...use.offset);
      if (use.scale) texture.repeat.set(...use.scale);
      if (use.rotation) texture.rotation = use.rotation;
      if (isColour) texture.colorSpace = SRGBColorSpace;
      texture.needsUpdate = true;
      this.#made.push(texture);
      ready(texture);
      this.arrived();
    });
  }

  #picture({ blob, mime }: { blob: string; mime: string }, use: TextureUse): Promise<ImageBitmap | undefined> {
    const { channel = 'g', inverted = false } = use;
    const key = `${blob} ${channel} ${inverted}`;
    let known = this.#pictures.get(key);
    if (!known) {
      known = fetchBlob(blob)
        .then((bytes) => openPicture(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: mime })))
        .then((picture) => (channel === 'g' && !inverted ? picture : valuesOf(picture, channel, inverted)))
        // A damaged picture is a matter of the file, not of the view: the part is drawn without it.
        .catch(() => undefined);
      this.#pictures.set(key, known);
    }
    return known;
  }

  dispose(): void {
    for (const texture of this.#made) texture.dispose();
    this.#pictures.clear();
  }
}

const AS_STORED: ImageBitmapOptions = { premultiplyAlpha: 'none', colorSpaceConversion: 'none' };
const openPicture = (from: Blob | ImageData) => createImageBitmap(from, AS_STORED);

const CHANNELS = { r: 0, g: 1, b: 2, a: 3 };

/** One channel of a picture in all three colours, since the drawing looks for roughness in green and metalness in blue. */
async function valuesOf(picture: ImageBitmap, channel: keyof typeof CHANNELS, inverted: boolean): Promise<ImageBitmap> {
  const { width, height } = picture;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  if (!context) return picture;
  context.drawImage(picture, 0, 0);
  const pixels = context.getImageData(0, 0, width, height);
  for (let at = 0; at < pixels.data.length; at += 4) {
    const value = pixels.data[at + CHANNELS[channel]];
    pixels.data.fill(inverted ? 255 - value : value, at, at + 3);
    pixels.data[at + 3] = 255;
  }
  return openPicture(pixels);
}
