/** Pictures of the scene for the view: fetched when a material needs them, drawn from then on. */
import { ClampToEdgeWrapping, MirroredRepeatWrapping, RepeatWrapping, SRGBColorSpace, Texture } from 'three';
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
    if (!use || !entry?.blob || !DRAWABLE.has(entry.mime)) return;
    void this.#picture(entry.blob, entry.mime).then((picture) => {
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

  #picture(blob: string, mime: string): Promise<ImageBitmap | undefined> {
    let known = this.#pictures.get(blob);
    if (!known) {
      known = fetchBlob(blob)
        .then((bytes) =>
          createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: mime }), {
            premultiplyAlpha: 'none',
            colorSpaceConversion: 'none',
          }),
        )
        // A damaged picture is a matter of the file, not of the view: the part is drawn without it.
        .catch(() => undefined);
      this.#pictures.set(blob, known);
    }
    return known;
  }

  dispose(): void {
    for (const texture of this.#made) texture.dispose();
    this.#pictures.clear();
  }
}
