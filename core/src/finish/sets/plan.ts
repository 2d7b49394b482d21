/**
 * What the pictures of a set come to: the ones that glTF has (base colour with opacity, normals with green up, one surface picture with
 * occlusion in red, roughness in green and metalness in blue, glow). What stands so already is used as it is, everything else is made.
 */
import { hashData } from '../../scene/hash.ts';
import type { Texture } from '../../scene/types.ts';
import { CHANNELS, holdsWords, isPacked } from './holds.ts';
import type { Channel, Holds, Value, Whole } from './holds.ts';

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

/** A picture that is made. */
export interface PictureOrder extends SetChanges {
  from: readonly (ChannelFrom | number)[];
  /** Colours come as sRGB, whatever their profile; values as they are stored. */
  colour: boolean;
  normals: boolean;
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
  const surface = { occlusion: values.get('occlusion'), roughness, metalness: values.get('metalness') };
  const opacity = values.get('opacity');

  const out: PlannedPicture[] = [];
  const add = (slot: MadeSlot, from: (ChannelFrom | number)[], kind: Pick<PictureOrder, 'colour' | 'normals'>, unread: readonly number[] = []) => {
    const order = { from, ...kind, ...changes };
    const asIs = asItIs(order, textures, unread);
    out.push(asIs === undefined ? { slot, order } : { slot, asIs });
  };
  const whole = (texture: string, alpha: ChannelFrom | number = 255) => [0, 1, 2].map((channel): ChannelFrom | number => ({ texture, channel, inverted: false })).concat(alpha); // prettier-ignore
  const colour = wholes.get('colour');
  if (colour || opacity) {
    const own = colour && textures[colour].signs?.alpha ? { texture: colour, channel: 3, inverted: false } : 255;
    const from = colour ? whole(colour, opacity ?? own) : [255, 255, 255, opacity ?? 255];
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

/** What a picture holds, and in which channel: a grey one has its value in green, as in all. */
function partsOf(holds: Holds): [what: Whole, channel: Channel][] {
  if (!isPacked(holds)) return [[holds, 'g']];
  return CHANNELS.flatMap((channel): [Whole, Channel][] => (holds[channel] ? [[holds[channel], channel]] : []));
}

const WHOLE: ReadonlySet<string> = new Set(['colour', 'normals', 'normals-down', 'glow']);
const isValue = (what: Whole): what is Value => !WHOLE.has(what);

/** The texture that an order comes to without anything being done to it. @param unread channels in which anything may stand */
function asItIs({ from, colour, flipU, flipV, most }: PictureOrder, textures: Readonly<Record<string, Texture>>, unread: readonly number[]): string | undefined {
  if (flipU || flipV) return undefined;
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
export function filesOf({ from }: PictureOrder): string[] {
  return [...new Set(from.flatMap((one) => (typeof one === 'number' ? [] : [one.texture])))];
}

/** Raised when orders come to other pictures. */
const VERSION = 1;

/** Key under which a made picture is remembered: of the files' contents, not of their names. */
export function keyOfOrder(order: PictureOrder, textures: Readonly<Record<string, Texture>>): string {
  const files = filesOf(order);
  const from = order.from.map((one) => (typeof one === 'number' ? one : [files.indexOf(one.texture), one.channel, one.inverted])); // prettier-ignore
  return hashData(['picture', VERSION, { ...order, from }, files.map((id) => textures[id].blob)]);
}
