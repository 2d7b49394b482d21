/**
 * Puts together what was dropped together: each model is sent as a source of its own, with the files that it names (its material
 * file, its pictures, the parts of an assembly) as one package.
 */
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { belonging, isCompanion, namesOf } from '@noble-prism/core/read/belonging';
import { READABLE_ENDINGS } from '@noble-prism/core/read/endings';
import { baseName, endingOf, lastOf } from '@noble-prism/core/read/paths';
import { referencesIn } from '@noble-prism/core/read/references';
import type { ByteSource } from '@noble-prism/core/read/references';
import { isPicture } from '@noble-prism/core/read/pictureKinds';

/** A file and its path inside what was dropped. */
export interface Dropped {
  path: string;
  file: File;
}

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

/** What is sent: a file for each model, and what of a folder is nothing to send. */
export interface Bundle {
  files: File[];
  /** Paths of files in folders that are neither a model nor of use to one. */
  ignored: string[];
}

/** Single files as they are, a model with its companions as a zip that bears the name of the model; in the order of the drop. */
export async function bundled(dropped: readonly Dropped[]): Promise<Bundle> {
  const { groups, ignored } = await grouped(dropped);
  const files = [];
  for (const { name, members } of groups)
    files.push(
      members.length === 1 && !isPicture(members[0].path)
        ? renamed(members[0].file, name)
        : await packed(name, members),
    );
  return { files, ignored };
}

export interface Group {
  /** Name of the source. */
  name: string;
  members: Dropped[];
}

/** What belongs together; a file may belong to several models. */
export async function grouped(dropped: readonly Dropped[]): Promise<{ groups: Group[]; ignored: string[] }> {
  const byPath = new Map(dropped.map((one) => [one.path, one]));
  const at = [...byPath.keys()];
  const { models, pictures, ignored } = await belonging(
    at,
    // Outside a folder everything was chosen by hand: the server says what is wrong with what it cannot read.
    (path) => isModelEnding(endingOf(path)) || !path.includes('/'),
    (path) => referencesIn(path, sourceOfFile((byPath.get(path) as Dropped).file)),
  );
  const names = namesOf(models.map(({ model }) => model));
  const groups = models.map(({ files }, i) => ({
    name: names[i],
    members: files.flatMap((path) => byPath.get(path) ?? []),
  }));
  // Material files and buffers that nothing wants are sent for the server to say so, unless they lay in a folder.
  const alone = ignored
    .filter((path) => !path.includes('/'))
    .map((path) => ({ name: path, members: [byPath.get(path) as Dropped] }));
  if (pictures.length > 0)
    groups.push({ name: pictureName(pictures), members: pictures.flatMap((path) => byPath.get(path) ?? []) });
  const order = new Map(at.map((path, i) => [path, i]));
  return {
    groups: [...groups, ...alone].sort(
      (a, b) => (order.get(a.members[0].path) ?? 0) - (order.get(b.members[0].path) ?? 0),
    ),
    ignored: ignored.filter((path) => path.includes('/')),
  };
}

const MODEL_ENDINGS: ReadonlySet<string> = new Set(
  READABLE_ENDINGS.split(',')
    .map((ending) => ending.slice(1))
    .filter((ending) => !isCompanion(`x.${ending}`)),
);
const isModelEnding = (ending: string) => MODEL_ENDINGS.has(ending);

/** A texture set is called after its folder, a single picture after itself. */
function pictureName(paths: readonly string[]): string {
  const [first] = paths;
  if (paths.length === 1) return lastOf(first);
  const folder = first.split('/').at(-2);
  return folder ?? `${baseName(first)} and ${paths.length - 1} more`;
}

export function sourceOfFile(file: File): ByteSource {
  return { size: file.size, slice: async (from, to) => new Uint8Array(await file.slice(from, to).arrayBuffer()) };
}

function renamed(file: File, name: string): File {
  return file.name === name ? file : new File([file], name, { type: file.type, lastModified: file.lastModified });
}

async function packed(name: string, group: readonly Dropped[]): Promise<File> {
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let failed: Error | undefined;
  const zip = new Zip((error, part) => {
    if (error) failed = error;
    else parts.push(part as Uint8Array<ArrayBuffer>);
  });
  for (const { path, file } of group) {
    // Pictures are packed already.
    const entry = isPicture(path) ? new ZipPassThrough(path) : new ZipDeflate(path, { level: 1 });
    zip.add(entry);
    // Slice by slice: the bench stays in hand, and no file has to be in memory whole.
    for (let at = 0; at === 0 || at < file.size; at += SLICE) {
      entry.push(new Uint8Array(await file.slice(at, at + SLICE).arrayBuffer()), at + SLICE >= file.size);
      if (failed) throw failed;
    }
  }
  zip.end();
  return new File(parts, name, { type: 'application/zip', lastModified: group[0].file.lastModified });
}
