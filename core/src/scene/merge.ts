/** Puts several scenes into one; ids and keys stay unique. */
import { IDENTITY } from './matrix.ts';
import { EMPTY_SCENE } from './types.ts';
import type { Scene } from './types.ts';

/** Scenes of several sources, each with its own roots. Ids are shifted source by source; keys begin with the id of the source. */
export function mergeScenes(scenes: readonly Scene[]): Scene {
  let out: Scene = EMPTY_SCENE;
  for (const scene of scenes) {
    const shift = out.nodes.length;
    const prefix = scene.sources[0]?.id ?? '';
    out = {
      sources: [...out.sources, ...scene.sources],
      nodes: [
        ...out.nodes,
        ...scene.nodes.map((node) => ({
          ...node,
          id: node.id + shift,
          parent: node.parent === null ? null : node.parent + shift,
          key: `${prefix}:${node.key}`,
        })),
      ],
      meshes: { ...out.meshes, ...scene.meshes },
      solids: { ...out.solids, ...scene.solids },
      materials: { ...out.materials, ...scene.materials },
      textures: { ...out.textures, ...scene.textures },
      layers: [...out.layers, ...scene.layers],
      animations: { ...out.animations, ...scene.animations },
    };
  }
  return out;
}

/** Scenes of several files of one source, each under an assembly named after its file; a single one stays as it is. */
export function nestScenes(parts: readonly { name: string; scene: Scene }[]): Scene {
  if (parts.length === 1) return parts[0].scene;
  const [{ scene: first }] = parts;
  const [info] = first.sources;
  const out: Scene = { ...EMPTY_SCENE, nodes: [], layers: [] };
  const seen = new Map<string, number>();
  for (const { name, scene } of parts) {
    const ordinal = (seen.get(name) ?? 0) + 1;
    seen.set(name, ordinal);
    const key = `/${name}${ordinal > 1 ? `#${ordinal}` : ''}`;
    const root = out.nodes.length;
    const shift = root + 1;
    out.nodes.push({
      id: root,
      key,
      parent: null,
      name: name.replace(/\.[^.]*$/, ''),
      kind: 'assembly',
      source: info.id,
      transform: IDENTITY,
      materials: [],
      layer: null,
    });
    for (const node of scene.nodes)
      out.nodes.push({
        ...node,
        id: node.id + shift,
        parent: node.parent === null ? root : node.parent + shift,
        key: `${key}${node.key}`,
      });
    out.meshes = { ...out.meshes, ...scene.meshes };
    out.solids = { ...out.solids, ...scene.solids };
    out.materials = { ...out.materials, ...scene.materials };
    out.textures = { ...out.textures, ...scene.textures };
    out.animations = { ...out.animations, ...scene.animations };
    for (const layer of scene.layers)
      if (!out.layers.some(({ name: known }) => known === layer.name)) out.layers.push(layer);
  }
  const infos = parts.map(({ scene }) => scene.sources[0]);
  const units = [...new Set(infos.flatMap((entry) => entry.units))];
  const formats = [...new Set(infos.map((entry) => entry.format))];
  out.sources = [
    {
      ...info,
      format: formats.join(', '),
      units,
      warnings: infos.flatMap((entry) => entry.warnings),
      notRead: [...new Set(infos.flatMap((entry) => entry.notRead ?? []))],
    },
  ];
  return out;
}
