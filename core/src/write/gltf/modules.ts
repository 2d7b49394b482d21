/**
 * A scene as modules: each distinct asset in a folder of its own, where it opens by itself with its pictures and a thumbnail; and a text
 * that places them. The text holds no geometry: its buffers and pictures are the files in those folders (glTF 2.0, 3.6.1 and 5.18), so
 * that every reader of glTF opens it, and an asset that is replaced in its folder by one of the same layout is replaced wherever it stands.
 */
import type { Document, GLTF } from '@gltf-transform/core';
import { hashContent } from '../../content.ts';
import { hashBytes } from '../../scene/hash.ts';
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { assetPicture } from '../assetPicture.ts';
import { ASSETS, assetsOf, geometryKey } from '../assets.ts';
import { WrittenFile } from '../writer.ts';
import type { WriteOptions } from '../writer.ts';
import { documentOf } from './document.ts';
import { BIN_TYPE, GLB_TYPE, GLTF_TYPE, writeGltf } from './files.ts';
import { glbOf } from './glb.ts';

/** @param binary assets are binary files, each with its numbers in it. @returns the scene, then the files of the assets */
export async function writeModules(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions,
  binary: boolean,
): Promise<WrittenFile[]> {
  const numbers = new Map<string, Numbers>();
  const pictures = new Map<string, string>();
  const beside: WrittenFile[] = [];
  for (const asset of assetsOf(scene)) {
    const folder = `${ASSETS}${asset.name}/`;
    const [text, ...rest] = await writeGltf(asset.scene, blobs, asset.name, { ...options, title: asset.node.name });
    const bin = rest.find((file) => file.name === `${asset.name}.bin`) as WrittenFile;
    const others = rest.filter((file) => file !== bin);
    const files = binary ? [...binaryOf(asset.name, text, bin), ...others] : [text, bin, ...others];
    const there = binary ? files[0] : bin;
    const key = geometryKey(asset.node);
    // What several assets share lies in each of them; the scene takes it from the first.
    if (!numbers.has(key)) numbers.set(key, { path: `${folder}${there.name}`, length: there.content.length, bytes: bin.bytes, at: there.content.length - bin.content.length }); // prettier-ignore
    for (const { name: path, content } of others) {
      const hash = hashContent(content);
      if (!pictures.has(hash)) pictures.set(hash, `${folder}${path}`);
    }
    beside.push(...[...files, ...(await assetPicture(asset, blobs, options))].map((file) => file.at(folder + file.name))); // prettier-ignore
  }
  const { json, own } = await placing(scene, blobs, name, options, numbers, pictures);
  return [new WrittenFile(`${name}.gltf`, GLTF_TYPE, new TextEncoder().encode(JSON.stringify(json))), ...own, ...beside];
} // prettier-ignore

/** The numbers of a geometry: the file that holds them, how long it is, and where in it they begin. */
interface Numbers {
  path: string;
  length: number;
  at: number;
  bytes: Uint8Array;
}

/** The text of the scene, whose buffers and pictures are those of the assets; what moves has numbers of its own. */
async function placing(scene: Scene, blobs: BlobStore, name: string, options: WriteOptions, numbers: ReadonlyMap<string, Numbers>, pictures: ReadonlyMap<string, string>) {
  const buffers = new Map<string, ReturnType<Document['createBuffer']>>();
  const { document, io, buffer } = await documentOf(scene, blobs, name, options, (made, node) => {
    const key = geometryKey(node);
    const { path } = numbers.get(key) as Numbers;
    return buffers.get(key) ?? buffers.set(key, made.createBuffer(path).setURI(path)).get(key)!;
  });
  if (document.getRoot().listAccessors().some((accessor) => accessor.getBuffer() === buffer)) buffer.setURI(`${name}.bin`);
  else buffer.dispose();
  const unnamed = document.getRoot().listTextures().filter((texture) => {
    const path = pictures.get(hashBytes(texture.getImage() ?? new Uint8Array()));
    if (path !== undefined) texture.setURI(path);
    return path === undefined;
  });
  if (unnamed.length > 0) throw new Error(`${unnamed.length} pictures are in no asset`);
  const { json, resources } = await io.writeJSON(document);
  const shifts = new Map<number, number>();
  const known = new Map([...numbers.values()].map((entry) => [entry.path, entry]));
  for (const [i, made] of (json.buffers ?? []).entries()) {
    const entry = known.get(made.uri ?? '');
    if (!entry) continue;
    if (hashBytes(resources[entry.path] as Uint8Array) !== hashBytes(entry.bytes))
      throw new Error(`The numbers of ${entry.path} are not those that the scene refers to`);
    shifts.set(i, entry.at);
    made.byteLength = entry.length;
  }
  for (const view of json.bufferViews ?? []) view.byteOffset = (view.byteOffset ?? 0) + (shifts.get(view.buffer) ?? 0);
  const bytes = resources[`${name}.bin`] as Uint8Array | undefined;
  return { json, own: bytes?.length ? [new WrittenFile(`${name}.bin`, BIN_TYPE, bytes)] : [] };
} // prettier-ignore

/** A text and its numbers as one binary file; pictures stay beside it. The numbers are its end. */
function binaryOf(name: string, text: WrittenFile, bin: WrittenFile): WrittenFile[] {
  const json = JSON.parse(new TextDecoder().decode(text.bytes)) as GLTF.IGLTF;
  for (const buffer of json.buffers ?? []) delete buffer.uri;
  return [new WrittenFile(`${name}.glb`, GLB_TYPE, glbOf(json, [bin.content]))];
}
