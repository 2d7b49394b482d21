/**
 * Puts the scene of a source, which knows nothing of where it is used, into a slot of a job: all that is named after its source gets the
 * name of the slot. Two revisions in the same slot so have the same names for what is the same in both.
 */
import { hashData } from './hash.ts';
import { Lists } from './lists.ts';
import { NodeTable } from './nodes.ts';
import type { Extras } from './nodes.ts';
import type { AnimationInfo, Material, Scene, Texture, TextureUse } from './types.ts';

/** What readers are told to call the source: stored scenes hold no other name. */
export const THIS_SOURCE = '';

/** Id of a picture: by its slot and its name, so that a new revision of it has the same. */
export function textureId(slot: string, name: string): string {
  return `t:${hashData([slot, name]).slice(0, 12)}`;
}

/** Id of a material: by all that it looks like. */
export function materialId({ id: _, origin: __, ...look }: Material): string {
  return `m:${hashData(look).slice(0, 12)}`;
}

export function inSlot(scene: Scene, slot: string): Scene {
  const textures = new Map(Object.values(scene.textures).map((texture) => [texture.id, textureId(slot, texture.name)]));
  const materials = new Map<string, Material>();
  for (const material of Object.values(scene.materials)) materials.set(material.id, withTextures(material, textures));
  const animations = new Map(Object.keys(scene.animations).map((id) => [id, `a:${hashData([slot, id]).slice(0, 12)}`]));
  return {
    ...scene,
    sources: scene.sources.map((source) => ({ ...source, id: slot })),
    layers: scene.layers.map((layer) => ({ ...layer, source: slot })),
    textures: Object.fromEntries(
      Object.values(scene.textures).map((texture): [string, Texture] => {
        const id = textures.get(texture.id) as string;
        return [id, { ...texture, id, source: slot }];
      }),
    ),
    materials: Object.fromEntries([...materials.values()].map((material) => [material.id, material])),
    animations: Object.fromEntries(
      Object.values(scene.animations).map((info): [string, AnimationInfo] => {
        const id = animations.get(info.id) as string;
        return [id, { ...info, id, source: slot }];
      }),
    ),
    nodes: namedNodes(scene.nodes, slot, materials, animations),
  };
}

function withTextures(material: Material, ids: ReadonlyMap<string, string>): Material {
  if (!material.textures) return material;
  const textures = Object.fromEntries(
    Object.entries(material.textures).map(([use, given]: [string, TextureUse]) => [
      use,
      { ...given, texture: ids.get(given.texture) ?? given.texture },
    ]),
  );
  const named = { ...material, textures };
  return { ...named, id: materialId(named) };
}

function namedNodes(
  nodes: NodeTable,
  slot: string,
  materials: ReadonlyMap<string, Material>,
  animations: ReadonlyMap<string, string>,
): NodeTable {
  const { columns, tables } = nodes;
  const renamed = new Map([...materials].flatMap(([before, { id }]) => (id === before ? [] : [[before, id] as const])));
  const added = [slot, ...renamed.values()].filter((word) => tables.words.find(word) < 0);
  const words = tables.words.with([...new Set(added)]);
  // Only lists of materials name materials; a property that is worded like one is none.
  const isMaterials = new Uint8Array(tables.lists.length);
  for (const list of columns.materials) isMaterials[list] = 1;
  const renamedWord = new Map([...renamed].map(([before, after]) => [words.find(before), words.find(after)]));
  const lists =
    renamed.size === 0
      ? tables.lists
      : Lists.from(
          tables.lists
            .slice()
            .map((list, number) => (isMaterials[number] ? list.map((word) => renamedWord.get(word) ?? word) : list)),
        );
  const extras = tables.extras.map((one): Extras => {
    const { variants, motion } = one;
    return {
      ...one,
      ...(variants
        ? {
            variants: Object.fromEntries(
              Object.entries(variants).map(([name, ids]) => [name, ids.map((id) => renamed.get(id) ?? id)]),
            ),
          }
        : {}),
      ...(motion
        ? {
            motion: {
              ...motion,
              tracks: Object.fromEntries(
                Object.entries(motion.tracks).map(([id, track]) => [animations.get(id) ?? id, track]),
              ),
            },
          }
        : {}),
    };
  });
  const source = new Int32Array(nodes.rows).fill(words.find(slot));
  return new NodeTable({ ...columns, source }, { ...tables, words, lists, extras });
}
