/**
 * A scene as modules: each distinct asset in a layer of its own, in a folder with its pictures and a thumbnail; and a layer that places
 * them as instances by reference, and holds no geometry. An asset that is replaced in its folder is replaced wherever it stands.
 */
import type { Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { assetPicture } from '../assetPicture.ts';
import { assetKey, ASSETS, assetsOf } from '../assets.ts';
import type { WriteOptions, WrittenFile } from '../writer.ts';
import { writeUsd } from './layer.ts';

/** @returns the scene, then the files of the assets */
export async function writeModules(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  options: WriteOptions,
): Promise<WrittenFile[]> {
  const layers = new Map<string, string>();
  const beside: WrittenFile[] = [];
  for (const asset of assetsOf(scene)) {
    const folder = `${ASSETS}${asset.name}/`;
    const files = await writeUsd(asset.scene, blobs, asset.name, { ...options, title: asset.node.name }, 'asset');
    layers.set(assetKey(asset.node), `${folder}${files[0].name}`);
    beside.push(...[...files, ...(await assetPicture(asset, blobs, options))].map((file) => file.at(folder + file.name))); // prettier-ignore
  }
  const placed = await writeUsd(scene, blobs, name, options, {
    assets: (node) => layers.get(assetKey(node)) as string,
  });
  return [...placed, ...beside];
}
