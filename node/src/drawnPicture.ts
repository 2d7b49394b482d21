/** A picture of a scene as a file, drawn here: for reports of what nobody looked at. */
import { scenePicture } from '@noble-prism/core/draw/scenePicture';
import type { Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';
import { isZUp } from '@noble-prism/core/transmit/targets/arrange';
import { nodePictures } from './pictures.ts';

/** @returns a PNG file; undefined where the scene shows nothing */
export async function drawnPicture(scene: Scene, blobs: BlobStore, signal?: AbortSignal): Promise<Uint8Array | undefined> {
  const picture = await scenePicture(scene, blobs, { up: isZUp(scene) ? 'z' : 'y', pictures: nodePictures, ...(signal ? { signal } : {}) });
  return picture && nodePictures.encode(picture);
} // prettier-ignore

/** A file as it stands within a page. */
export function dataUri(bytes: Uint8Array, mime = 'image/png'): string {
  return `data:${mime};base64,${Buffer.from(bytes).toString('base64')}`;
}
