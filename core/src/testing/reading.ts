/** Reading files in tests: from text, from bytes, from the open files that `npm test` unpacks. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';
import { MemoryBlobs } from '../memoryStores.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { Companions } from '../read/companions.ts';
import { readSource } from '../read/readSource.ts';
import type { BuildOptions, SourceFile } from '../read/reader.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

/** Open files from Debian's packages gmsh-doc, occt-misc and assimp-testmodels. */
export const models = process.env.MODELS ?? join(import.meta.dirname, '../../../.data/models');

export const bytesOf = (text: string) => new TextEncoder().encode(text);

export function fileOf(
  name: string,
  content: string | Uint8Array,
  beside: Record<string, string | Uint8Array> = {},
): SourceFile {
  const asBytes = (value: string | Uint8Array) => (typeof value === 'string' ? bytesOf(value) : value);
  const files = Object.entries({ [name]: content, ...beside }).map(([path, value]) => [path, asBytes(value)] as const);
  return { name, bytes: asBytes(content), beside: new Companions(new Map(files)) };
}

/** An open file with everything in its folder beside it. */
export function modelOf(path: string): SourceFile {
  const folder = join(models, path.split('/')[0]);
  const files = new Map<string, Uint8Array>();
  const walk = (at: string) => {
    for (const entry of readdirSync(at)) {
      const inner = join(at, entry);
      if (statSync(inner).isDirectory()) walk(inner);
      else files.set(relative(models, inner), new Uint8Array(readFileSync(inner)));
    }
  };
  if (statSync(folder).isDirectory()) walk(folder);
  const bytes = files.get(path) ?? new Uint8Array(readFileSync(join(models, path)));
  return { name: path, bytes, beside: new Companions(files) };
}

export interface ReadFile {
  survey: Scene;
  scene: Scene;
  blobs: MemoryBlobs;
  /** The only node of that name. */
  node(name: string): SceneNode;
  meshOf(name: string): Promise<Mesh>;
}

/** Both strokes. */
export async function readAll(file: SourceFile, options: BuildOptions = {}): Promise<ReadFile> {
  const reading = await readSource(file, 's');
  const blobs = new MemoryBlobs();
  const scene = await reading.build(blobs, options);
  const node = (name: string) => {
    const found = scene.nodes.filter((candidate) => candidate.name === name);
    if (found.length !== 1) throw new Error(`${found.length} nodes are called ${name}`);
    return found[0];
  };
  return {
    survey: reading.survey,
    scene,
    blobs,
    node,
    meshOf: async (name) => unpackMesh(await blobs.get(node(name).mesh ?? '')),
  };
}

const once = new Map<string, Promise<ReadFile>>();

/** An open file as it was read, once for all tests of a process: scenes never change, and blobs only come. */
export function readOnce(path: string): Promise<ReadFile> {
  const read = once.get(path) ?? readAll(modelOf(path));
  once.set(path, read);
  return read;
}

/** Codes of the warnings of the only source. */
export const warningsOf = (scene: Scene) => scene.sources[0].warnings.map(({ code }) => code);
