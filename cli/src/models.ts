/** The models that are named on the command line: files as they are, and all that are in folders. */
import { stat } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { PrismError } from '@noble-prism/core/errors';
import { baseName, lastOf } from '@noble-prism/core/read/paths';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';

export interface Model {
  path: string;
  /** Folder below that of the delivery which its files go to: as it lies in the folder that was named. */
  folder: string;
}

/**
 * @param paths files and folders
 * @param out folder of the delivery, passed over where it lies in one of them
 * @throws PrismError `not-found` where a folder holds no model; `too-large` where it holds too many files
 */
export async function modelsFrom(paths: readonly string[], out: string): Promise<Model[]> {
  const models: Model[] = [];
  for (const path of paths) {
    // What is not there is told when its turn comes: the others are prepared.
    const info = await stat(path).catch(() => undefined);
    if (!info?.isDirectory()) {
      models.push({ path, folder: '' });
      continue;
    }
    const { modelsIn } = await import('@noble-prism/node/folderFiles');
    const inside = await modelsIn(path, [relative(resolve(path), resolve(out)).split(sep).join('/')]);
    if (inside.length === 0)
      throw new PrismError('not-found', `${path} holds no model that can be read.`, { file: path });
    for (const model of inside)
      models.push({ path: join(path, model), folder: dirname(model) === '.' ? '' : dirname(model) });
  }
  return models;
}

/**
 * Names of the files of each, without ending: that of the model; with the ending of the model, and then numbered, where two of one folder
 * would be called the same, also on a system that does not tell the case of letters apart.
 */
export function namesOf(models: readonly Model[]): string[] {
  const plain = ({ path }: Model) => safeFileName(baseName(path));
  const place = (folder: string, name: string) => `${folder}/${name}`.toLowerCase();
  const uses = new Map<string, number>();
  for (const model of models) {
    const at = place(model.folder, plain(model));
    uses.set(at, (uses.get(at) ?? 0) + 1);
  }
  const taken = new Set<string>();
  return models.map((model) => {
    const alone = uses.get(place(model.folder, plain(model))) === 1;
    const base = alone ? plain(model) : safeFileName(lastOf(model.path));
    for (let n = 1; ; n++) {
      const name = n === 1 ? base : `${base}_${n}`;
      const at = place(model.folder, name);
      if (taken.has(at) || (n > 1 && uses.has(at))) continue;
      taken.add(at);
      return name;
    }
  });
}
