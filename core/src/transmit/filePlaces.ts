/**
 * Where the files of several targets lie in one delivery: beside each other, each under the name of the job. A target whose files would
 * take the place of others lies in a folder of its own, so that what its files refer to stays beside them.
 */
import { hashContent } from '../content.ts';
import type { FileWay, WrittenFile } from '../write/writer.ts';
import { safeFileName } from './fileNames.ts';

/** Formats that cannot say their unit have it in their name. */
const UNITLESS = new Set(['stl', 'ply']);

export class FilePlaces {
  /** Hashes of what was put, by path in small letters: file systems that do not tell the case apart must not lose any. */
  readonly #taken = new Map<string, string>();

  constructor(readonly base: string) {}

  /**
   * Name of the main file without its ending.
   * @param target what the target is called
   * @param piece what it holds of the job, where it is split
   */
  nameFor(ending: string, target: string, { unit }: FileWay, piece?: string): string {
    const held = piece === undefined ? this.base : `${this.base}_${safeFileName(piece)}`;
    const own = UNITLESS.has(ending) ? `${held}_${unit}` : held;
    const isFree = (name: string) => !this.#taken.has(`${name}.${ending}`.toLowerCase());
    if (isFree(own)) return own;
    // Equal names of pieces are numbered; another target has its own name behind it.
    const next = piece === undefined ? `${own}_${safeFileName(target)}` : own;
    for (let n = 2; ; n++) {
      const name = piece === undefined && n === 2 ? next : `${next}_${n}`;
      if (isFree(name)) return name;
    }
  }

  /** @returns the files as they lie in the delivery */
  put(files: readonly WrittenFile[], target: string): WrittenFile[] {
    const hashes = files.map(({ content }) => hashContent(content));
    const fits = (folder: string) =>
      files.every(({ name }, i) => {
        const there = this.#taken.get(`${folder}${name}`.toLowerCase());
        return there === undefined || there === hashes[i];
      });
    let folder = '';
    for (let n = 1; !fits(folder); n++) folder = `${safeFileName(target)}${n > 1 ? `_${n}` : ''}/`;
    return files.map((file, i) => {
      const name = `${folder}${file.name}`;
      this.#taken.set(name.toLowerCase(), hashes[i]);
      return file.at(name);
    });
  }
}
