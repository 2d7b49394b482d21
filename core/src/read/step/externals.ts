/** Assemblies spread over several files: puts each file that an assembly refers to in its places; a missing one leaves a marked part. */
import { isIdentity } from '../../scene/matrix.ts';
import { plainNode } from '../../scene/nodes.ts';
import { nodeTable } from '../../scene/nodeWriter.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import { counted } from '../../units.ts';
import { said } from '../library.ts';
import type { FindReader, Reading, SourceFile } from '../reader.ts';

/** A reading that knows which of its nodes stand for other files: file name by node id. */
export interface ReadingWithExternals extends Reading {
  externals: Map<number, string>;
}

/** What is missing or cannot be read, by the name that the assembly gives it. */
interface Gap {
  name: string;
  why: string;
}

export async function withExternals(
  reading: ReadingWithExternals,
  file: SourceFile,
  sourceId: string,
  readerFor: FindReader,
): Promise<Reading> {
  const { externals } = reading;
  if (externals.size === 0) return reading;
  const { beside, within = [] } = file;
  const inner = new Map<string, Reading>();
  const paths = new Map<number, string>();
  const gaps = new Map<number, Gap>();
  for (const [node, name] of externals) {
    const path = beside?.find(name, file.name);
    if (!beside || path === undefined) {
      gaps.set(node, { name, why: 'did not come along' });
      continue;
    }
    beside.place(path);
    if (path === file.name || within.includes(path)) {
      gaps.set(node, { name, why: 'contains this file itself' });
      continue;
    }
    if (!inner.has(path)) {
      const part = { name: path, bytes: beside.bytes(path), beside, within: [...within, file.name] };
      try {
        const reader = readerFor(part);
        if (!reader) throw new Error('it is in no format that can be read');
        inner.set(path, await reader.read(part, sourceId, readerFor));
      } catch (error) {
        gaps.set(node, { name, why: `cannot be read (${said(error)})` });
        continue;
      }
    }
    paths.set(node, path);
  }
  return {
    survey: assembled(
      reading.survey,
      paths,
      new Map([...inner].map(([path, { survey }]) => [path, withProvisional(survey, path)])),
      gaps,
    ),
    // The first shapes of one file are no beginning of the assembly.
    async build(blobs, { begun: _, ...options } = {}) {
      const outer = await reading.build(blobs, options);
      const scenes = new Map<string, Scene>();
      for (const [path, part] of inner) scenes.set(path, await part.build(blobs, options));
      return assembled(outer, paths, scenes, gaps);
    },
  };
}

/** Solids of a survey are named by their entity: made distinct between files. */
function withProvisional(scene: Scene, path: string): Scene {
  const named = (id: string) => `${path} ${id}`;
  return {
    ...scene,
    nodes: nodeTable(
      scene.nodes.map((node) => ({ ...plainNode(node), ...(node.solid ? { solid: named(node.solid) } : {}) })),
    ),
    solids: Object.fromEntries(Object.entries(scene.solids).map(([id, solid]) => [named(id), solid])),
  };
}

function assembled(
  outer: Scene,
  paths: Map<number, string>,
  scenes: Map<string, Scene>,
  gaps: Map<number, Gap>,
): Scene {
  const out: Scene = {
    ...outer,
    solids: { ...outer.solids },
    meshes: { ...outer.meshes },
    materials: { ...outer.materials },
    textures: { ...outer.textures },
    layers: [...outer.layers],
  };
  const nodes = outer.nodes.map(plainNode);
  for (const [id, path] of paths) hang(nodes, id, scenes.get(path) as Scene);
  for (const scene of scenes.values()) {
    Object.assign(out.solids, scene.solids);
    Object.assign(out.meshes, scene.meshes);
    Object.assign(out.materials, scene.materials);
    Object.assign(out.textures, scene.textures);
    for (const layer of scene.layers) if (!out.layers.some(({ name }) => name === layer.name)) out.layers.push(layer);
  }
  const counts = new Map<string, { gap: Gap; places: number }>();
  for (const [id, gap] of gaps) {
    nodes[id] = { ...nodes[id], kind: 'part', problem: `${gap.name} ${gap.why}.` };
    const known = counts.get(gap.name);
    if (known) known.places++;
    else counts.set(gap.name, { gap, places: 1 });
  }
  out.nodes = nodeTable(nodes);
  const missing = [...counts.values()].map(({ gap, places }) => ({
    code: 'missing-file' as const,
    message: `${gap.name} is part of this assembly and ${gap.why}: ${counted(places, 'place is', 'places are')} empty. Drop all files together, or as a zip.`,
    where: gap.name,
  }));
  const [info] = outer.sources;
  const inner = [...scenes].flatMap(([path, { sources }]) =>
    sources.flatMap(({ warnings }) =>
      warnings.map((warning) => ({ ...warning, where: [path, warning.where].filter(Boolean).join(', ') })),
    ),
  );
  const units = [...new Set([...info.units, ...[...scenes.values()].flatMap(({ sources }) => sources[0].units)])];
  out.sources = [{ ...info, units, warnings: [...info.warnings, ...missing, ...inner] }];
  return out;
}

/** Puts the rows of a file under the node that stands for it; a single root without a place of its own becomes that node. */
function hang(nodes: SceneNode[], id: number, scene: Scene): void {
  const host = nodes[id];
  const rows = scene.nodes.map(plainNode);
  const roots = rows.filter(({ parent }) => parent === null);
  const [root] = roots;
  const isSame = roots.length === 1 && isIdentity(root.transform);
  const ids = new Map<number, number>();
  for (const node of rows) {
    if (isSame && node === root) {
      ids.set(node.id, id);
      const { kind, materials, solid, mesh, layer, problem } = node;
      nodes[id] = withoutUndefined({ ...host, kind, materials, solid, mesh, layer: host.layer ?? layer, problem });
      continue;
    }
    const added = nodes.length;
    ids.set(node.id, added);
    const parent = node.parent === null ? id : (ids.get(node.parent) ?? id);
    const inner = isSame ? node.key.slice(root.key.length) : node.key;
    nodes.push({ ...node, id: added, parent, key: `${host.key}${inner}` });
  }
}

function withoutUndefined(node: object): SceneNode {
  return Object.fromEntries(Object.entries(node).filter(([, value]) => value !== undefined)) as unknown as SceneNode;
}
