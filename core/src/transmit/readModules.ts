/** The read-back of what was sent as modules: each asset is opened by itself, in its folder, and compared with what it is to be. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import { assetsOf, ASSETS } from '../write/assets.ts';
import type { Writer, WrittenFile } from '../write/writer.ts';
import { readBack } from './readback.ts';
import type { ReadBack } from './result.ts';

/** Assets whose differences are named. */
const NAMED = 10;

/**
 * @param files of the whole delivery
 * @param whole the read-back of the scene file
 * @returns the same, with what was found of the assets
 */
export async function withModules(
  whole: ReadBack,
  writer: Writer,
  files: readonly WrittenFile[],
  scene: Scene,
  blobs: BlobStore,
  pictures?: PictureCodec,
): Promise<ReadBack> {
  const assets = assetsOf(scene);
  const differences: string[] = [];
  let holding = 0;
  for (const { name, scene: asset } of assets) {
    const folder = `${ASSETS}${name}/`;
    const own = files
      .filter((file) => file.name.startsWith(folder))
      .map((file) => file.at(file.name.slice(folder.length)));
    const compared = await readBack(writer, own, asset, blobs, pictures ? { pictures } : {});
    if (compared.holds) holding++;
    else differences.push(`${folder}: ${compared.differences.join(', ')}`);
  }
  const check = { what: 'Assets by themselves', sent: String(assets.length), found: String(holding), holds: holding === assets.length }; // prettier-ignore
  return {
    holds: whole.holds && check.holds,
    checks: [...whole.checks, check],
    differences: [...whole.differences, ...differences.slice(0, NAMED)],
  };
}
