/**
 * What the pictures of a set come to: the ones that glTF has (base colour with opacity, normals with green up, one surface picture with
 * occlusion in red, roughness in green and metalness in blue, glow). What stands so already is used as it is, everything else is made.
 */
import { hashData } from '../../scene/hash.ts';
import type { Texture } from '../../scene/types.ts';
import { CHANNELS, holdsWords, isPacked } from './holds.ts';
import type { Channel, Holds, Value, Whole } from './holds.ts';
import type { PictureInput } from './makePicture.ts';

/** A picture of a set and what it holds. */
export interface SetPicture {
  /** Id of the texture. */
  texture: string;
  holds: Holds;
}

export interface SetChanges {
  flipU: boolean;
  flipV: boolean;
  /** Longest side, pixels; nothing where they stay as large as they are. */
  most?: number;
}

export type MadeSlot = 'baseColor' | 'normal' | 'surface' | 'emissive';

/** Where a channel comes from: of which picture, or the same everywhere (0 to 255). */
export interface ChannelFrom {
  texture: string;
  channel: number;
  inverted: boolean;
}

/** Instead of the id of a texture: what a pair comes to, base colour with metalness in alpha. */
export const CONVERTED = '~metal-rough';

/** A picture that is made. */
export interface PictureOrder extends SetChanges {
  from: readonly (ChannelFrom | number)[];
  /** Colours come as sRGB, whatever their profile; values as they are stored. */
  colour: boolean;
  normals: boolean;
  /** Pictures of what is scattered and of what is mirrored, that are converted to base colour and metalness. */
  pair?: { diffuse: string; specular: string };
}

export interface PlannedPicture {
  slot: MadeSlot;
  /** Id of a texture that is used as it is. */
  asIs?: string;
  order?: PictureOrder;
}

export interface SetPlan {
  pictures: PlannedPicture[];
  /** Values that the surface picture holds. */
  surface: ReadonlySet<'roughness' | 'metalness' | 'occlusion'>;
  opacity: boolean;
  /** Pictures that cannot be used, and why. */
  left: { texture: string; why: string }[];
}

const NUMBER: Record<Channel, number> = { r: 0, g: 1, b: 2, a: 3 };
const ALPHA = NUMBER.a;
/** What glTF takes without asking more of a reader. */
const AS_IT_IS = new Set(['image/png', 'image/jpeg', 'image/webp']);

export function planOf(pictures: readonly SetPicture[], textures: Readonly<Record<string, Texture>>, changes: SetChanges): SetPlan {
  const left: SetPlan['left'] = [];
  const wholes = new Map<string, string>();
  const values = new Map<Value, ChannelFrom>();
  const given = new Set<string>();
  for (const { texture: id, holds } of pictures) {
    const texture = textures[id];
    const say = (why: string) => left.push({ texture: id, why });
    if (!texture?.blob) {
      say('is not in the job any more');
      continue;
    }
    if (texture.problem) {
      say(`cannot be opened: ${texture.problem}`);
      continue;
    }
    for (const [what, channel] of partsOf(holds)) {
      // Gloss is roughness, and normals are normals, whichever way round.
      const as = what === 'gloss' ? 'roughness' : what === 'normals-down' ? 'normals' : what;
      if (given.has(as)) {
        say(`holds ${what === as ? as : `${as}, as ${holdsWords(what)}`}, which another picture gives already`);
        continue;
      }
      given.add(as);
      if (isValue(what)) values.set(what, { texture: id, channel: NUMBER[channel], inverted: false });
      else wholes.set(what, id);
    }
  }
  const gloss = values.get('gloss');
  const roughness = values.get('roughness') ?? (gloss && { ...gloss, inverted: true });
  const colour = wholes.get('colour');
  const pair = pairOf(wholes, values, left);
  // Gloss often lies in the alpha of the specular colour, as in glTF's extension.
  const glossBeside = pair && !roughness && textures[pair.specular].signs?.alpha ? { texture: pair.specular, channel: ALPHA, inverted: true } : undefined; // prettier-ignore
  const converted = (channel: number): ChannelFrom => ({ texture: CONVERTED, channel, inverted: false });
  const surface = {
    occlusion: values.get('occlusion'),
    roughness: roughness ?? glossBeside,
    metalness: pair ? converted(ALPHA) : values.get('metalness'),
  };
  const opacity = values.get('opacity');

  const out: PlannedPicture[] = [];
  const add = (slot: MadeSlot, from: (ChannelFrom | number)[], kind: Pick<PictureOrder, 'colour' | 'normals'>, unread: readonly number[] = []) => {
    const needsPair = pair && from.some((one) => typeof one !== 'number' && one.texture === CONVERTED);
    const order: PictureOrder = { from, ...kind, ...changes, ...(needsPair ? { pair } : {}) };
    const asIs = asItIs(order, textures, unread);
    out.push(asIs === undefined ? { slot, order } : { slot, asIs });
  };
  const whole = (texture: string, alpha: ChannelFrom | number = 255) => [0, 1, 2].map((channel): ChannelFrom | number => ({ texture, channel, inverted: false })).concat(alpha); // prettier-ignore
  if (colour || opacity) {
    const own = colour && textures[colour].signs?.alpha ? { texture: colour, channel: 3, inverted: false } : 255;
    const from = colour ? whole(pair ? CONVERTED : colour, opacity ?? own) : [255, 255, 255, opacity ?? 255];
    add('baseColor', from, { colour: true, normals: false });
  }
  const normals = wholes.get('normals') ?? wholes.get('normals-down');
  if (normals) {
    const isDown = !wholes.has('normals');
    const from = whole(normals).map((one, k): ChannelFrom | number => typeof one === 'number' ? one : { ...one, inverted: (k === 0 && changes.flipU) || (k === 1 && isDown !== changes.flipV) }); // prettier-ignore
    add('normal', from, { colour: false, normals: true });
  }
  const reflects = surface.roughness !== undefined || surface.metalness !== undefined;
  if (surface.occlusion || reflects) {
    const unread = [...(surface.occlusion ? [] : [0]), ...(reflects ? [] : [1, 2]), 3];
    const from = [surface.occlusion ?? 255, surface.roughness ?? 255, surface.metalness ?? 255, 255];
    add('surface', from, { colour: false, normals: false }, unread);
  }
  const glow = wholes.get('glow');
  if (glow) add('emissive', whole(glow), { colour: true, normals: false });
  return {
    pictures: out,
    surface: new Set((['occlusion', 'roughness', 'metalness'] as const).filter((value) => surface[value])),
    opacity: opacity !== undefined || (colour !== undefined && textures[colour].signs?.alpha === true),
    left,
  };
} // prettier-ignore

/** The pictures that are converted; a specular colour is of no use by itself, nor beside metalness. */
function pairOf(
  wholes: ReadonlyMap<string, string>,
  values: ReadonlyMap<Value, ChannelFrom>,
  left: SetPlan['left'],
): PictureOrder['pair'] {
  const [diffuse, specular] = [wholes.get('colour'), wholes.get('specular')];
  if (specular === undefined) return undefined;
  if (diffuse !== undefined && !values.has('metalness')) return { diffuse, specular };
  const why = diffuse === undefined ? 'holds specular colour, which says something only beside the colour' : 'holds specular colour, which is not needed beside metalness'; // prettier-ignore
  left.push({ texture: specular, why });
  return undefined;
}

/** What a picture holds, and in which channel: a grey one has its value in green, as in all. */
function partsOf(holds: Holds): [what: Whole, channel: Channel][] {
  if (!isPacked(holds)) return [[holds, 'g']];
  return CHANNELS.flatMap((channel): [Whole, Channel][] => (holds[channel] ? [[holds[channel], channel]] : []));
}

const WHOLE: ReadonlySet<string> = new Set(['colour', 'normals', 'normals-down', 'glow', 'specular']);
const isValue = (what: Whole): what is Value => !WHOLE.has(what);

/** The texture that an order comes to without anything being done to it. @param unread channels in which anything may stand */
function asItIs({ from, colour, flipU, flipV, most }: PictureOrder, textures: Readonly<Record<string, Texture>>, unread: readonly number[]): string | undefined {
  if (flipU || flipV || from.some((one) => typeof one !== 'number' && one.texture === CONVERTED)) return undefined;
  const ids = new Set(from.flatMap((one) => (typeof one === 'number' ? [] : [one.texture])));
  const [id] = ids;
  if (ids.size !== 1) return undefined;
  const { mime, bits, profile, width = 0, height = 0, signs } = textures[id];
  if (!AS_IT_IS.has(mime) || bits !== undefined || (colour && profile !== undefined)) return undefined;
  if (most !== undefined && Math.max(width, height) > most) return undefined;
  const stays = from.every((one, k) => {
    if (unread.includes(k)) return true;
    if (typeof one === 'number') return k === ALPHA && signs?.alpha !== true;
    // A grey picture has in each channel what stands in one of them.
    return !one.inverted && (one.channel === k || (signs?.grey === true && k < ALPHA));
  });
  return stays ? id : undefined;
} // prettier-ignore

/** Files that an order needs, in the order in which the task gets them. */
export function filesOf({ from, pair }: PictureOrder): string[] {
  const named = from.flatMap((one) => (typeof one === 'number' || one.texture === CONVERTED ? [] : [one.texture]));
  return [...new Set([...named, ...(pair ? [pair.diffuse, pair.specular] : [])])];
}

/** An order with files by their numbers; what is converted stands behind them. */
export function numbered({ pair, ...order }: PictureOrder): Omit<PictureInput, 'files'> {
  const files = filesOf({ ...order, ...(pair ? { pair } : {}) });
  const numberOf = (texture: string) => (texture === CONVERTED ? files.length : files.indexOf(texture));
  return {
    ...order,
    from: order.from.map((one) => typeof one === 'number' ? one : { file: numberOf(one.texture), channel: one.channel, inverted: one.inverted }), // prettier-ignore
    ...(pair ? { pair: { diffuse: numberOf(pair.diffuse), specular: numberOf(pair.specular) } } : {}),
  };
}

/** Raised when orders come to other pictures. */
const VERSION = 1;

/** Key under which a made picture is remembered: of the files' contents, not of their names. */
export function keyOfOrder(order: PictureOrder, textures: Readonly<Record<string, Texture>>): string {
  return hashData(['picture', VERSION, numbered(order), filesOf(order).map((id) => textures[id].blob)]);
}
