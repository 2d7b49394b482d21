/** Step: say what a texture set belongs to. The parts keep their materials and get its pictures. */
import { object, string } from 'yup';
import type { SetSlot } from '../finish/textureSets.ts';
import { hashData } from '../scene/hash.ts';
import { PART } from '../scene/nodes.ts';
import type { Material, Scene, Texture, TextureUse } from '../scene/types.ts';
import { counted, formatLength } from '../units.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export const SET_SLOTS: readonly SetSlot[] = [
  'baseColor', 'normal', 'metallicRoughness', 'roughness', 'gloss', 'metallic', 'occlusion', 'opacity', 'emissive',
]; // prettier-ignore

export interface TexturesParameters {
  /** Name of the set, for people; the material gets it too. */
  set: string;
  /** Id of the texture per slot. */
  slots: Partial<Record<SetSlot, string>>;
  /** Only where this material is; everywhere on the parts where it is empty. */
  material: string;
  /** Length that the picture covers, metres; used where texture coordinates are lengths. */
  tile: number;
}

export const texturesStep = defineStep<TexturesParameters>({
  kind: 'textures',
  title: 'Textures',
  purpose: 'Says what a set of pictures belongs to; the parts keep their materials and get its pictures.',
  also: ['pictures', 'maps', 'bind', 'images'],
  station: 'receive',
  begunThere: true,
  place: WHEREVER,
  version: 2,
  needs: 'manifest',
  fields: {
    set: { type: 'text', label: 'Set', most: 300, help: 'Its name; the material gets it too.' },
    slots: {
      type: 'own',
      label: 'Pictures',
      schema: object(Object.fromEntries(SET_SLOTS.map((slot) => [slot, string().max(100)])))
        .noUnknown()
        .required()
        .test('some', 'There is no picture in this set.', (slots) => Object.values(slots ?? {}).some(Boolean)),
      written: `the id of a picture for each of: ${SET_SLOTS.join(', ')}`,
    },
    material: {
      type: 'text',
      label: 'Material',
      most: 200,
      empty: true,
      help: 'Id; only where this material is. Everywhere on the parts where it is empty.',
    },
    tile: {
      type: 'quantity',
      of: 'length',
      unit: 'm',
      label: 'Width',
      called: 'width of the picture',
      min: 0.001,
      max: 1000,
      help: 'Length that the picture covers on solids, whose coordinates are in metres.',
    },
  },
  defaults: { set: '', slots: {}, material: '', tile: 1 },

  summary: ({ set, tile }) => `${set}, ${formatLength(tile, 'm')} wide`,

  apply(edit, rows, parameters) {
    const { scene } = edit;
    const { nodes } = scene;
    const { kind, mesh, materials } = nodes.columns;
    const { words, lists } = nodes.tables;
    const { slots, material: only } = parameters;
    const missing = Object.values(slots).filter((id) => id && !scene.textures[id]?.blob);
    const dressed: Record<string, Material> = {};
    let bare = 0;
    eachRow(scene, rows, (row) => {
      if (kind[row] !== PART) return;
      const figures = mesh[row] > 0 ? scene.meshes[words.get(mesh[row])] : undefined;
      const before = lists.get(materials[row]).map((word) => words.get(word));
      const next = before.map((id) => {
        if (only && id !== only) return id;
        const made = withTextures(scene.materials[id] ?? scene.materials.none, parameters, scene, figures?.trueSize);
        dressed[made.id] = made;
        return made.id;
      });
      if (next.every((id, i) => id === before[i])) return;
      if (figures && !figures.uvs) bare++;
      edit.setMaterials(row, next);
    });
    const problems = [
      ...(bare > 0 ? [`${counted(bare, 'part')} without texture coordinates: the pictures cannot be seen there.`] : []),
      ...(missing.length > 0
        ? [`${counted(missing.length, 'picture')} of ${parameters.set} not in the job any more.`]
        : []),
    ];
    if (edit.isIdle) return { pending: 0, problems };
    edit.setMaterialsOfScene(dressed);
    const bound: Record<string, Texture> = {};
    for (const id of Object.values(slots)) {
      const texture = id ? scene.textures[id] : undefined;
      if (texture?.state === 'unbound') bound[texture.id] = { ...texture, state: 'found' };
    }
    edit.setTextures(bound);
    return { pending: 0, problems };
  },
});

const ROUGH_AND_METAL: readonly SetSlot[] = ['roughness', 'gloss', 'metallic'];

/** The material with the pictures of the set; what a picture holds is no longer a factor. */
function withTextures(
  material: Material,
  { set, slots, tile }: TexturesParameters,
  scene: Scene,
  trueSize = false,
): Material {
  const use = (texture: string): TextureUse => ({
    texture,
    uv: 0,
    ...(trueSize && tile !== 1 ? { scale: [1 / tile, 1 / tile] } : {}),
  });
  const textures: Material['textures'] = { ...material.textures };
  const there = (slot: SetSlot) => (slots[slot] && scene.textures[slots[slot]] ? slots[slot] : undefined);
  const alone = ROUGH_AND_METAL.some(there);
  // Either one picture for both, or one for each.
  if (alone) delete textures.metallicRoughness;
  else if (there('metallicRoughness')) for (const slot of ['roughness', 'metallic'] as const) delete textures[slot];
  for (const slot of SET_SLOTS) {
    const id = there(slot);
    if (!id || (alone && slot === 'metallicRoughness')) continue;
    if (slot === 'gloss') textures.roughness = { ...use(id), inverted: true };
    else textures[slot] = use(id);
  }
  const id = `t:${hashData([material.id, set, slots, trueSize ? tile : 0]).slice(0, 12)}`;
  return {
    ...material,
    id,
    name: set,
    textures,
    ...(slots.baseColor ? { baseColor: [1, 1, 1] } : {}),
    ...(textures.metallicRoughness || textures.roughness ? { roughness: 1 } : {}),
    ...(textures.metallicRoughness || textures.metallic ? { metallic: 1 } : {}),
    ...(slots.opacity ? { blended: true } : {}),
    ...(slots.emissive ? { emissive: [1, 1, 1] } : {}),
  };
}
