/**
 * Puts together what was dropped together: files that name each other (a mesh, its material file, its pictures; an assembly and its
 * parts), or that came in one folder, are sent as one package.
 */
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';

/** A file and its path inside what was dropped. */
export interface Dropped {
  path: string;
  file: File;
}

/** Pictures and other files that are no model of their own. */
const COMPANIONS = /\.(mtl|bin|png|jpe?g|webp|ktx2|tga|bmp|tiff?|gif|exr|hdr)$/i;
const PICTURES = /\.(png|jpe?g|webp|ktx2|tga|bmp|tiff?|gif|exr|hdr)$/i;
/** Formats that can name other files. */
const NAMING = /\.(stp|step|p21|obj|mtl|gltf|dae|ply|x3d|usd[ac]?)$/i;
/** Names of other files stand at the beginning or the end; bytes looked through at each. */
const HEAD = 4_000_000;
const TAIL = 1_000_000;
/** Bytes that are packed at once. */
const SLICE = 2_000_000;

/** Files of a drop, folders walked through. */
export async function droppedFiles(transfer: DataTransfer): Promise<Dropped[]> {
  const entries = [...transfer.items].flatMap((item) => item.webkitGetAsEntry?.() ?? []);
  // Read now: the list of files is empty once the event is over.
  const files = [...transfer.files].map((file) => ({ path: file.name, file }));
  if (!entries.some((entry) => entry.isDirectory)) return files;
  const out: Dropped[] = [];
  for (const entry of entries) await walk(entry, out);
  return out;
}

async function walk(entry: FileSystemEntry, out: Dropped[]): Promise<void> {
  if (entry.name.startsWith('.')) return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    out.push({ path: entry.fullPath.replace(/^\//, ''), file });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  // A reader gives a hundred entries at a time, and none when it is through.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return;
    for (const inner of some) await walk(inner, out);
  }
}

/** What is sent for them: single files as they are, groups as zips. */
export async function bundled(dropped: readonly Dropped[]): Promise<File[]> {
  const groups = await grouped(dropped);
  return Promise.all(
    groups.map((group) => (group.length === 1 && !isPicture(group[0]) ? group[0].file : packed(group))),
  );
}

const nameOf = (path: string) => path.split('/').at(-1) ?? path;
const isPicture = ({ path }: Dropped) => PICTURES.test(path);

/** Groups of files that belong together. */
export async function grouped(dropped: readonly Dropped[]): Promise<Dropped[][]> {
  const group = dropped.map((_, i) => i);
  const rootOf = (i: number): number => (group[i] === i ? i : (group[i] = rootOf(group[i])));
  const join = (a: number, b: number) => (group[rootOf(a)] = rootOf(b));
  // (1) One folder is one delivery.
  const folders = new Map<string, number>();
  dropped.forEach(({ path }, i) => {
    const slash = path.indexOf('/');
    if (slash < 0) return;
    const first = folders.get(path.slice(0, slash));
    if (first === undefined) folders.set(path.slice(0, slash), i);
    else join(i, first);
  });
  // (2) Files that name each other.
  if (dropped.length > 1) {
    for (const [i, { path, file }] of dropped.entries()) {
      if (!NAMING.test(path)) continue;
      const text = (await textOf(file)).toLowerCase();
      dropped.forEach((other, k) => {
        if (k === i) return;
        const name = nameOf(other.path).toLowerCase();
        if (text.includes(name) || text.includes(encodeURIComponent(name).toLowerCase())) join(i, k);
      });
    }
  }
  // (3) Loose pictures and material files go with the one model that is there, or stay together.
  const models = dropped.flatMap(({ path }, i) => (COMPANIONS.test(path) ? [] : [rootOf(i)]));
  const only = new Set(models).size === 1 ? models[0] : undefined;
  let loose: number | undefined;
  dropped.forEach((one, i) => {
    if (!COMPANIONS.test(one.path) || models.includes(rootOf(i))) return;
    if (only !== undefined) join(i, only);
    else if (loose === undefined) loose = i;
    else join(i, loose);
  });
  const out = new Map<number, Dropped[]>();
  dropped.forEach((one, i) => out.set(rootOf(i), [...(out.get(rootOf(i)) ?? []), one]));
  return [...out.values()];
}

async function textOf(file: File): Promise<string> {
  const head = await file.slice(0, HEAD).text();
  return file.size > HEAD ? head + (await file.slice(Math.max(HEAD, file.size - TAIL)).text()) : head;
}

async function packed(group: readonly Dropped[]): Promise<File> {
  const model = group.find(({ path }) => !COMPANIONS.test(path)) ?? group[0];
  const slash = model.path.indexOf('/');
  const name = slash > 0 ? model.path.slice(0, slash) : nameOf(model.path).replace(/\.[^.]*$/, '');
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let failed: Error | undefined;
  const zip = new Zip((error, part) => {
    if (error) failed = error;
    else parts.push(part as Uint8Array<ArrayBuffer>);
  });
  for (const { path, file } of group) {
    // Pictures are packed already.
    const entry = PICTURES.test(path) ? new ZipPassThrough(path) : new ZipDeflate(path, { level: 1 });
    zip.add(entry);
    // Slice by slice: the bench stays in hand, and no file has to be in memory whole.
    for (let at = 0; at === 0 || at < file.size; at += SLICE) {
      entry.push(new Uint8Array(await file.slice(at, at + SLICE).arrayBuffer()), at + SLICE >= file.size);
      if (failed) throw failed;
    }
  }
  zip.end();
  return new File(parts, `${name}.zip`, {
    type: 'application/zip',
    lastModified: model.file.lastModified,
  });
}
