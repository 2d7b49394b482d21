/**
 * Which files belong together: each model is a source of its own, with the files that it names (parsed references, followed through
 * material files and layers), and with material files and pictures of the same stem. Used alike for what is dropped on the page,
 * for a zip on the server and on the command line.
 */
import { Companions } from './companions.ts';
import { endingOf, lastOf } from './paths.ts';
import { isPicture } from './pictureKinds.ts';

/** One model and everything that goes with it, by path. The model is the first file. */
export interface Belonging {
  model: string;
  files: string[];
}

export interface Delivery {
  /** In the order in which they came. */
  models: Belonging[];
  /** Pictures that no model names, where several models could be meant: a texture set to bind later. */
  pictures: string[];
  /** What is neither a model nor of use to one. */
  ignored: string[];
}

/** Formats whose reader puts other models in their places; in all others a named model is still a source of its own. */
const PLACING: Readonly<Record<string, RegExp>> = {
  stp: /./,
  step: /./,
  p21: /./,
  usd: /^usd[ac]?$/,
  usda: /^usd[ac]?$/,
  usdc: /^usd[ac]?$/,
};
/** Files that only serve a model. */
export const isCompanion = (path: string) => isPicture(path) || ['mtl', 'bin'].includes(endingOf(path));

/**
 * @param paths in the order in which they came
 * @param isModel whether a file can be read as a model
 * @param referencesOf references of a file as they are written in it
 */
export async function belonging(
  paths: readonly string[],
  isModel: (path: string) => boolean,
  referencesOf: (path: string) => Promise<string[]>,
): Promise<Delivery> {
  const came = new Companions(new Map(paths.map((path) => [path, new Uint8Array()])));
  const models = paths.filter((path) => !isCompanion(path) && isModel(path));
  const isOne = new Set(models);

  // (1) What each file names, where it came along; and what shares the stem of a model.
  const named = new Map<string, Set<string>>();
  for (const path of paths) {
    const found = new Set<string>();
    for (const reference of paths.length > 1 ? await referencesOf(path) : []) {
      const other = came.find(reference, path);
      if (other === undefined || other === path) continue;
      if (isOne.has(other) && !PLACING[endingOf(path)]?.test(endingOf(other))) continue;
      if (isOne.has(other) || isCompanion(other)) found.add(other);
    }
    named.set(path, found);
  }
  const byStem = new Map<string, string[]>();
  for (const path of models) byStem.set(stemOf(path), [...(byStem.get(stemOf(path)) ?? []), path]);
  for (const path of paths.filter(isCompanion))
    for (const model of byStem.get(stemOf(path)) ?? []) named.get(model)?.add(path);

  // (2) Models that no other puts in a place. Files that name each other in a ring have none: the first of them stands for all.
  const closure = (from: string): string[] => {
    const out = new Set([from]);
    for (const path of out) for (const other of named.get(path) ?? []) out.add(other);
    return [...out];
  };
  const placed = new Set(models.flatMap((path) => [...(named.get(path) ?? [])]));
  const tops = new Set(models.filter((path) => !placed.has(path)));
  const reached = new Set([...tops].flatMap(closure));
  for (const path of models) {
    if (reached.has(path)) continue;
    tops.add(path);
    for (const other of closure(path)) reached.add(other);
  }
  const groups = models.filter((path) => tops.has(path)).map((model) => ({ model, files: closure(model) }));

  // (3) Pictures that nothing names go with the only model of the nearest folder above them that holds one.
  const pictures: string[] = [];
  for (const path of paths) {
    if (reached.has(path) || !isPicture(path)) continue;
    reached.add(path);
    const only = onlyAbove(path, groups);
    if (only) only.files.push(path);
    else pictures.push(path);
  }
  return { models: groups, pictures, ignored: paths.filter((path) => !reached.has(path)) };
}

/** Folder and name without ending, in lower case. */
function stemOf(path: string): string {
  return path.replace(/\.[^./]*$/, '').toLowerCase();
}

function onlyAbove(path: string, groups: readonly Belonging[]): Belonging | undefined {
  for (let folder = folderOf(path); ; folder = folderOf(folder.slice(0, -1))) {
    const inside = groups.filter(({ model }) => model.startsWith(folder));
    if (inside.length > 0) return inside.length === 1 ? inside[0] : undefined;
    if (folder === '') return undefined;
  }
}

/** With the slash at its end; empty for what is in no folder. */
function folderOf(path: string): string {
  return path.slice(0, path.lastIndexOf('/') + 1);
}

/** Names for sources: the file's own, with its folders where two would be called the same. */
export function namesOf(paths: readonly string[]): string[] {
  return paths.map((path) =>
    paths.filter((other) => lastOf(other) === lastOf(path)).length > 1 ? path : lastOf(path),
  );
}

/** A few names, and how many more there are. */
export function someNames(paths: readonly string[]): string {
  const shown = paths.slice(0, 6).join(', ');
  return paths.length > 6 ? `${shown} and ${paths.length - 6} more` : shown;
}
