/** Files that came together: found by the path that another file names, in any mixture of folders and case. */

export class Companions {
  readonly #byPath = new Map<string, string>();
  readonly #byName = new Map<string, string>();
  readonly #used = new Set<string>();
  readonly #placed = new Set<string>();

  /** @param files bytes by path, folders parted by `/` */
  constructor(readonly files: ReadonlyMap<string, Uint8Array>) {
    for (const path of files.keys()) {
      this.#byPath.set(normal(path), path);
      const name = lastOf(normal(path));
      if (!this.#byName.has(name)) this.#byName.set(name, path);
    }
  }

  /**
   * Path of the file that a reference means: the exact path, the path beside the file that refers, or any file of that name.
   * References come with foreign drives, backslashes and escapes; only files of this package can ever be found.
   */
  find(reference: string, from = ''): string | undefined {
    const clean = normal(decoded(reference));
    const folder = normal(from).split('/').slice(0, -1).join('/');
    const found =
      this.#byPath.get(resolved(folder, clean)) ?? this.#byPath.get(clean) ?? this.#byName.get(lastOf(clean));
    if (found !== undefined) this.#used.add(found);
    return found;
  }

  bytes(path: string): Uint8Array {
    return this.files.get(path) ?? new Uint8Array();
  }

  /** Marks a file as read. */
  use(path: string): void {
    this.#used.add(path);
  }

  /** Marks a model that another one has put in its place: it is no model of its own. */
  place(path: string): void {
    this.#placed.add(path);
  }

  isPlaced(path: string): boolean {
    return this.#placed.has(path);
  }

  /** Paths that nothing has referred to so far. */
  unused(): string[] {
    return [...this.files.keys()].filter((path) => !this.#used.has(path));
  }
}

const lastOf = (path: string) => path.split('/').at(-1) ?? '';

function normal(path: string): string {
  return path.trim().replaceAll('\\', '/').replace(/^\.\//, '').toLowerCase();
}

function decoded(reference: string): string {
  try {
    return decodeURIComponent(reference);
  } catch {
    return reference;
  }
}

/** A relative path seen from a folder; `..` never leaves the package. */
function resolved(folder: string, path: string): string {
  const out = folder ? folder.split('/') : [];
  for (const part of path.split('/')) {
    if (part === '..') out.pop();
    else if (part !== '.' && part !== '') out.push(part);
  }
  return out.join('/');
}
