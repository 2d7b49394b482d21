/** The files of a scene in glTF: one binary file, or a text with its numbers and pictures beside it. */
import type { Content } from '../../content.ts';
import { MemoryContent } from '../../content.ts';
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { PictureNames } from '../pictureFiles.ts';
import { WrittenFile } from '../writer.ts';
import type { WriteOptions } from '../writer.ts';
import { documentOf } from './document.ts';
import { binOf, glbOf } from './glb.ts';

export const [GLTF_TYPE, GLB_TYPE, BIN_TYPE] = ['model/gltf+json', 'model/gltf-binary', 'application/octet-stream'];

export async function writeGlb(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<WrittenFile[]> {
  const { document, io, streamed } = await documentOf(scene, blobs, name, options);
  const { json, resources } = await io.writeJSON(document, { format: 'GLB' as never });
  const [own = new Uint8Array()] = Object.values(resources);
  const numbers: Content[] = [new MemoryContent(own), ...(streamed?.finish(json, own.length) ?? [])];
  return [new WrittenFile(`${name}.glb`, GLB_TYPE, glbOf(json, numbers, options.spool))];
}

/** @returns the text, then its numbers and pictures */
export async function writeGltf(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions = {},
): Promise<WrittenFile[]> {
  const { document, io, buffer, streamed } = await documentOf(scene, blobs, name, options);
  const root = document.getRoot();
  const uri = `${name}.bin`;
  buffer.setURI(uri);
  const names = new PictureNames('textures/');
  for (const texture of root.listTextures()) texture.setURI(names.next(texture.getName(), texture.getMimeType()));
  const { json, resources } = await io.writeJSON(document);
  const { [uri]: own = new Uint8Array(), ...pictures } = resources;
  const bin = binOf([new MemoryContent(own), ...(streamed?.finish(json, own.length) ?? [])], options.spool);
  if (bin.length > 0 && json.buffers?.[0]) json.buffers[0].uri = uri;
  const mimes = new Map(root.listTextures().map((texture) => [texture.getURI(), texture.getMimeType()]));
  return [
    new WrittenFile(`${name}.gltf`, GLTF_TYPE, new TextEncoder().encode(JSON.stringify(json))),
    ...(bin.length > 0 ? [new WrittenFile(uri, BIN_TYPE, bin)] : []),
    ...Object.entries(pictures).map(([path, content]) => new WrittenFile(path, mimes.get(path) ?? BIN_TYPE, content)),
  ];
}
