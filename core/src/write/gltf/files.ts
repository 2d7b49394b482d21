/** The files of a scene in glTF: one binary file, or a text with its numbers and pictures beside it. */
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { PictureNames } from '../pictureFiles.ts';
import type { WriteOptions, WrittenFile } from '../writer.ts';
import { documentOf } from './document.ts';

/** @returns the bytes of the file */
export async function writeGlb(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<Uint8Array> {
  const { document, io } = await documentOf(scene, blobs, name, options);
  return io.writeBinary(document);
}

/** @returns the text, then its numbers and pictures */
export async function writeGltf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<WrittenFile[]> {
  const { document, io } = await documentOf(scene, blobs, name, options);
  const root = document.getRoot();
  for (const buffer of root.listBuffers()) buffer.setURI(`${name}.bin`);
  const names = new PictureNames('textures/');
  for (const texture of root.listTextures()) texture.setURI(names.next(texture.getName(), texture.getMimeType()));
  const { json, resources } = await io.writeJSON(document);
  const bytes = new TextEncoder().encode(JSON.stringify(json));
  const mimes = new Map(root.listTextures().map((texture) => [texture.getURI(), texture.getMimeType()]));
  return [
    { name: `${name}.gltf`, mime: 'model/gltf+json', bytes },
    ...Object.entries(resources).map(([path, content]) => ({
      name: path,
      mime: mimes.get(path) ?? 'application/octet-stream',
      bytes: content as Uint8Array,
    })),
  ];
}
