/** What a picture of a texture set can hold: a whole picture of one thing, or one value in each of its channels. */

/** One number for each point of a surface. */
export type Value = 'roughness' | 'gloss' | 'metalness' | 'occlusion' | 'opacity';
export const VALUES: readonly Value[] = ['roughness', 'gloss', 'metalness', 'occlusion', 'opacity'];

/**
 * `normals` have green upwards, as glTF has them; `normals-down` have it turned round. `specular` is what is mirrored at normal incidence,
 * beside a colour that is only what is scattered.
 */
export type Whole = 'colour' | 'normals' | 'normals-down' | 'glow' | 'specular' | Value;
export const WHOLES: readonly Whole[] = ['colour', 'normals', 'normals-down', 'glow', 'specular', ...VALUES];

/** A value in each channel; nothing is read from those that are left out. */
export type Packed = Partial<Record<Channel, Value>>;
export type Channel = 'r' | 'g' | 'b' | 'a';
export const CHANNELS: readonly Channel[] = ['r', 'g', 'b', 'a'];

export type Holds = Whole | Packed;

export const isPacked = (holds: Holds): holds is Packed => typeof holds === 'object';

const WORDS: Record<Whole, string> = {
  colour: 'colour',
  normals: 'normals, green up',
  'normals-down': 'normals, green down',
  glow: 'glow',
  specular: 'specular colour',
  roughness: 'roughness',
  gloss: 'gloss',
  metalness: 'metalness',
  occlusion: 'occlusion',
  opacity: 'opacity',
};
const LETTERS: Record<Channel, string> = { r: 'red', g: 'green', b: 'blue', a: 'alpha' };

/** What a picture holds, for people: `colour`, or `occlusion in red, roughness in green`. */
export function holdsWords(holds: Holds): string {
  if (!isPacked(holds)) return WORDS[holds];
  return CHANNELS.flatMap((channel) => (holds[channel] ? [`${holds[channel]} in ${LETTERS[channel]}`] : [])).join(', ');
}

export const channelWord = (channel: Channel): string => LETTERS[channel];
