/**
 * Texture sets: loose pictures that belong together by their names, e.g. `oak_basecolor_2k.png` and `oak_normal_2k.png`. The
 * endings are common practice among makers of pictures; no source fixes them.
 */
import type { Texture, TextureSlot } from '../scene/types.ts';

/** What a picture of a set is for: a slot, or gloss, which is roughness the other way round. */
export type SetSlot = TextureSlot | 'gloss';

export interface TextureSet {
  /** What the names have in common. */
  name: string;
  source: string;
  /** Texture by what it is for. */
  slots: Partial<Record<SetSlot, string>>;
  /** Pictures of the set that no slot takes, with what they seem to be. */
  others: { texture: string; what: string }[];
}

const ROLES: Record<string, SetSlot | readonly SetSlot[]> = {
  basecolor: 'baseColor', albedo: 'baseColor', diffuse: 'baseColor', diff: 'baseColor', color: 'baseColor', colour: 'baseColor', col: 'baseColor',
  normal: 'normal', normalgl: 'normal', nrm: 'normal', nor: 'normal', norm: 'normal',
  metallicroughness: 'metallicRoughness', mr: 'metallicRoughness',
  orm: ['metallicRoughness', 'occlusion'], arm: ['metallicRoughness', 'occlusion'], occlusionroughnessmetallic: ['metallicRoughness', 'occlusion'],
  ao: 'occlusion', occlusion: 'occlusion', ambientocclusion: 'occlusion',
  emissive: 'emissive', emission: 'emissive', emit: 'emissive', glow: 'emissive',
  roughness: 'roughness', rough: 'roughness', rgh: 'roughness', gloss: 'gloss', glossiness: 'gloss', metallic: 'metallic', metalness: 'metallic',
  metal: 'metallic', opacity: 'opacity', alpha: 'opacity', mask: 'opacity',
}; // prettier-ignore

/** Known, but held by no slot as they are. */
const OTHERS: Record<string, string> = {
  height: 'height', displacement: 'height', disp: 'height', bump: 'height', specular: 'specular', spec: 'specular',
  normaldx: 'normals with green turned round',
}; // prettier-ignore

const RESOLUTION = /^(\d{1,2}k|\d{3,5}(x\d{3,5})?|\d{1,2}|jpg|png)$/i;

/** Sets among the pictures that belong to nothing yet, in the order of the pictures. */
export function textureSets(textures: readonly Texture[]): TextureSet[] {
  const sets = new Map<string, TextureSet>();
  for (const texture of textures) {
    const { stem, role } = partsOfName(texture.name);
    const key = `${texture.source}\n${stem.toLowerCase()}`;
    let set = sets.get(key);
    if (!set) sets.set(key, (set = { name: stem, source: texture.source, slots: {}, others: [] }));
    const slots = role === undefined ? ['baseColor' as const] : [ROLES[role] ?? []].flat();
    const free = slots.filter((slot) => set.slots[slot] === undefined);
    for (const slot of free) set.slots[slot] = texture.id;
    if (free.length === 0) set.others.push({ texture: texture.id, what: OTHERS[role ?? ''] ?? 'another picture' });
  }
  return [...sets.values()];
}

/** What a picture is called without its kind and size, and the word that says what it is. */
function partsOfName(path: string): { stem: string; role?: string } {
  const name = (path.split('/').at(-1) ?? path).replace(/\.[^.]+$/, '');
  const words = name
    .replace(/([a-z])([A-Z])/g, '$1_$2')
    .split(/[_\-. ]+/)
    .filter(Boolean);
  const plain = (list: readonly string[]) => list.join('').toLowerCase();
  const isKnown = (word: string) => word in ROLES || word in OTHERS;
  const rest = words.filter((word, i) => i === 0 || !RESOLUTION.test(word));
  // Longest first: `ambient_occlusion` is one kind, `occlusion` another spelling of it.
  for (let length = Math.min(3, rest.length - 1); length > 0; length--)
    for (let at = rest.length - length; at > 0; at--) {
      const word = plain(rest.slice(at, at + length));
      if (isKnown(word)) return { stem: [...rest.slice(0, at), ...rest.slice(at + length)].join(' '), role: word };
    }
  return { stem: rest.join(' ') || name };
}
