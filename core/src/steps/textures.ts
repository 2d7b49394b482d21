/** Step: say what a texture set belongs to. The parts keep their materials and get its pictures, as glTF has them. */
import { array, lazy, object, string } from 'yup';
import { CHANNELS, isPacked, VALUES, WHOLES } from '../finish/sets/holds.ts';
import type { Holds } from '../finish/sets/holds.ts';
import type { PictureOutput } from '../finish/sets/makePicture.ts';
import { filesOf, keyOfOrder, numbered, planOf } from '../finish/sets/plan.ts';
import type { PlannedPicture, SetPicture, SetPlan } from '../finish/sets/plan.ts';
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import { PART } from '../scene/nodes.ts';
import type { Hash, Material, Scene, Texture, TextureUse } from '../scene/types.ts';
import { counted, formatLength } from '../units.ts';
import { defineStep, eachRow, isFailed, WHEREVER } from './kind.ts';
import type { Lookup, Work } from './kind.ts';

export interface TexturesParameters {
  /** Name of the set, for people; the material gets it too. */
  set: string;
  /** Which picture holds what. */
  pictures: SetPicture[];
  /** Only where this material is; everywhere on the parts where it is empty. */
  material: string;
  /** Length that the picture covers, metres; used where texture coordinates are lengths. */
  tile: number;
  /** Left to right, upside down; nothing where they stay as they are. */
  flip?: 'u' | 'v' | 'both';
  /** Longest side, pixels; as text, since it is a choice. Nothing where pictures stay as large as they are. */
  most?: string;
}

/** Longest sides that can be chosen, pixels. */
const SIDES = ['8192', '4096', '2048', '1024', '512', '256'];
const MOST_PICTURES = 40;

/** What is remembered of a picture that was made. */
interface Made {
  blob: Hash;
  bytes: number;
  width: number;
  height: number;
}

const holdsSchema = lazy((holds: unknown) =>
  typeof holds === 'object' && holds !== null
    ? object(Object.fromEntries(CHANNELS.map((channel) => [channel, string().oneOf([...VALUES])])))
        .noUnknown()
        .test('some', 'None of its channels holds anything.', (packed) => Object.values(packed).some(Boolean))
    : string()
        .oneOf([...WHOLES])
        .required(),
);

const changesOf = ({ flip, most }: TexturesParameters) => ({
  flipU: flip === 'u' || flip === 'both',
  flipV: flip === 'v' || flip === 'both',
  ...(most ? { most: Number(most) } : {}),
});
export const planOfStep = ({ textures }: Pick<Scene, 'textures'>, parameters: TexturesParameters): SetPlan =>
  planOf(parameters.pictures, textures, changesOf(parameters));

/** What older programs saved: a picture for each slot. */
function picturesOf(slots: Readonly<Record<string, string>>): SetPicture[] {
  const whole: Record<string, Holds> = { baseColor: 'colour', normal: 'normals', metallicRoughness: { g: 'roughness', b: 'metalness' }, metallic: 'metalness', emissive: 'glow' }; // prettier-ignore
  const out = new Map<string, Holds>();
  for (const [slot, texture] of Object.entries(slots)) {
    const before = out.get(texture);
    const isWithOcclusion = before !== undefined && isPacked(before) && slot === 'occlusion';
    out.set(texture, isWithOcclusion ? { r: 'occlusion', ...before } : (whole[slot] ?? (slot as Holds)));
  }
  return [...out].map(([texture, holds]) => ({ texture, holds }));
}

export const texturesStep = defineStep<TexturesParameters>({
  kind: 'textures',
  title: 'Texture sets',
  purpose: 'Says what a set of pictures belongs to, and which picture holds what; the parts keep their materials and get the pictures.',
  also: ['pictures', 'maps', 'bind', 'images', 'textures', 'normal', 'roughness', 'flip', 'upside down'],
  act: 'Bind',
  station: 'finishes',
  place: WHEREVER,
  version: 3,
  upgrades: [
    // Steps that are written by hand say no format.
    ({ slots, ...rest }) => (slots ? { ...rest, pictures: picturesOf(slots as Record<string, string>) } : rest),
  ],
  needs: 'manifest',
  fields: {
    set: { type: 'text', label: 'Set', most: 300, help: 'Its name; the material gets it too.' },
    pictures: {
      type: 'own',
      label: 'Pictures',
      schema: array(object({ texture: string().required().max(100), holds: holdsSchema }).noUnknown())
        .required()
        .min(1, 'There is no picture in this set.')
        .max(MOST_PICTURES, `A set has at most ${MOST_PICTURES} pictures.`),
      written: `a list of \`{ "texture": id, "holds": what }\`, where \`what\` is ${WHOLES.map((whole) => `\`${whole}\``).join(', ')}, or of packed ones a value for each channel: \`{ "r": "occlusion", "g": "roughness", "b": "metalness" }\``,
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
      help: 'Length that the picture covers, where texture coordinates are in metres: on solids, and where they were laid here.',
    },
    flip: {
      type: 'choice',
      label: 'Flip',
      choices: [
        { value: undefined, label: 'as they are' },
        { value: 'u', label: 'left to right' },
        { value: 'v', label: 'upside down' },
        { value: 'both', label: 'both' },
      ],
    },
    most: {
      type: 'choice',
      label: 'Largest',
      called: 'largest size',
      choices: [
        { value: undefined, label: 'as they are' },
        ...SIDES.map((value) => ({ value, label: `${value} px` })),
      ],
      help: 'Longest side; larger ones are made smaller.',
    },
  },
  defaults: { set: '', pictures: [], material: '', tile: 1 },
  example: {
    parameters: {
      set: 'oak',
      pictures: [
        { texture: 't:0123456789ab', holds: 'colour' },
        { texture: 't:cdef01234567', holds: { r: 'occlusion', g: 'roughness', b: 'metalness' } },
      ],
      material: '',
      tile: 1,
    },
  },

  summary: ({ set, tile, most, flip }) =>
    [
      `${set}, ${formatLength(tile, 'm')} wide`,
      ...(flip ? ['flipped'] : []),
      ...(most ? [`at most ${most}\u00a0px`] : []),
    ].join(', '),

  // What has to be made of pictures depends on them; what says so by itself is known before.
  needsWork: ({ pictures, flip, most }) =>
    flip !== undefined || most !== undefined || pictures.some(({ holds }) => !['colour', 'normals', 'glow'].includes(holds as string)), // prettier-ignore
  work: (scene, _rows, parameters) =>
    planOfStep(scene, parameters).pictures.flatMap(({ slot, order }): Work<'picture'>[] => {
      if (!order) return [];
      const files = filesOf(order);
      return [
        {
          key: keyOfOrder(order, scene.textures),
          task: 'picture',
          label: `${parameters.set}, ${WORDS[slot]}`,
          input: async (blobs) => ({
            ...numbered(order),
            files: await Promise.all(
              files.map(async (id) => ({ bytes: await blobs.get(scene.textures[id].blob!), mime: scene.textures[id].mime })), // prettier-ignore
            ),
          }),
          keep: async ({ blob, width, height }: PictureOutput, blobs): Promise<Made> => ({ blob: await blobs.put(blob), bytes: blob.length, width, height }), // prettier-ignore
        },
      ];
    }),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const { kind, mesh, materials } = nodes.columns;
    const { words, lists } = nodes.tables;
    const facts = factsOf(scene);
    const { set, material: only } = parameters;
    const plan = planOfStep(scene, parameters);
    const nameOf = (id: string) => scene.textures[id]?.name.split('/').at(-1) ?? 'A picture';
    const problems = plan.left.map(({ texture, why }) => `${nameOf(texture)} of ${set} ${why}.`.replace('..', '.'));
    const made = texturesOf(plan, scene, parameters, lookup);
    problems.push(...made.problems);
    const dressed: Record<string, Material> = {};
    let [bare, concerned] = [0, 0];
    const isThere = made.slots.size > 0 || made.waits;
    eachRow(scene, rows, (row) => {
      if (kind[row] !== PART || !isThere) return;
      const figures = mesh[row] > 0 ? scene.meshes[words.get(mesh[row])] : undefined;
      const before = lists.get(materials[row]).map((word) => words.get(word));
      const next = before.map((id) => {
        if (only && id !== only) return id;
        const with_ = withTextures(scene.materials[id] ?? scene.materials.none, parameters, plan, made.slots, figures?.trueSize ? facts.enlargements[row] : undefined); // prettier-ignore
        dressed[with_.id] = with_;
        return with_.id;
      });
      if (next.every((id, i) => id === before[i])) return;
      concerned++;
      if (figures && !figures.uvs) bare++;
      if (made.slots.size > 0) edit.setMaterials(row, next);
    });
    if (bare > 0)
      problems.push(`${counted(bare, 'part')} without texture coordinates: the pictures cannot be seen there.`);
    const pending = made.waits ? concerned : 0;
    if (edit.isIdle) return { pending, problems };
    edit.setMaterialsOfScene(dressed);
    const bound: Record<string, Texture> = { ...made.textures };
    for (const { texture: id } of parameters.pictures) {
      const texture = scene.textures[id];
      if (texture?.state === 'unbound') bound[id] = { ...texture, state: 'found' };
    }
    edit.setTextures(bound);
    return { pending, problems };
  },
}); // prettier-ignore

const WORDS: Record<PlannedPicture['slot'], string> = { baseColor: 'colour', normal: 'normals', surface: 'surface', emissive: 'glow' }; // prettier-ignore

interface MadeTextures {
  /** Id of the texture for each slot that is ready. */
  slots: Map<PlannedPicture['slot'], string>;
  textures: Record<string, Texture>;
  waits: boolean;
  problems: string[];
}

/** The pictures as far as they are there. */
function texturesOf(plan: SetPlan, scene: Scene, { set }: TexturesParameters, lookup: Lookup): MadeTextures {
  const out: MadeTextures = { slots: new Map(), textures: {}, waits: false, problems: [] };
  for (const { slot, asIs, order } of plan.pictures) {
    if (asIs !== undefined) out.slots.set(slot, asIs);
    if (!order) continue;
    const key = keyOfOrder(order, scene.textures);
    const found = lookup(key) as Made | undefined;
    if (found === undefined) out.waits = true;
    else if (isFailed(found)) out.problems.push(`${set}, ${WORDS[slot]}: ${found.failed}`);
    else {
      const { source } = scene.textures[filesOf(order)[0]];
      const id = `s:${key.slice(0, 12)}`;
      const { blob, bytes, width, height } = found;
      out.textures[id] = { id, name: `${set}_${WORDS[slot]}.png`, source, state: 'found', mime: 'image/png', blob, bytes, width, height }; // prettier-ignore
      out.slots.set(slot, id);
    }
  }
  return out;
}

/**
 * The material with the pictures of the set; what a picture holds is no longer a factor.
 * @param larger how much larger the mesh stands, where its coordinates are lengths
 */
function withTextures(
  material: Material,
  { set, tile }: TexturesParameters,
  { surface, opacity }: SetPlan,
  slots: MadeTextures['slots'],
  larger?: number,
): Material {
  const times = larger === undefined ? 1 : larger / tile;
  const use = (texture: string): TextureUse => ({
    texture,
    uv: 0,
    ...(times === 1 ? {} : { scale: [times, times] }),
  });
  const textures: Material['textures'] = { ...material.textures };
  const [colour, normal, onSurface, glow] = (['baseColor', 'normal', 'surface', 'emissive'] as const).map((slot) => slots.get(slot)); // prettier-ignore
  if (colour) {
    textures.baseColor = use(colour);
    delete textures.opacity;
  }
  if (normal) textures.normal = use(normal);
  if (glow) textures.emissive = use(glow);
  const reflects = surface.has('roughness') || surface.has('metalness');
  if (onSurface && reflects) {
    delete textures.roughness;
    delete textures.metallic;
    textures.metallicRoughness = use(onSurface);
  }
  if (onSurface && surface.has('occlusion')) textures.occlusion = use(onSurface);
  const shown = [...slots].map(([slot, texture]) => [slot, texture]);
  const id = `t:${hashData([material.id, set, shown, [...surface], larger === undefined ? 0 : 1 / times]).slice(0, 12)}`;
  return {
    ...material,
    id,
    name: set,
    textures,
    ...(colour ? { baseColor: [1, 1, 1] } : {}),
    ...(onSurface && surface.has('roughness') ? { roughness: 1 } : {}),
    ...(onSurface && surface.has('metalness') ? { metallic: 1 } : {}),
    ...(colour && opacity ? { blended: true } : {}),
    ...(glow ? { emissive: [1, 1, 1] } : {}),
  };
}
