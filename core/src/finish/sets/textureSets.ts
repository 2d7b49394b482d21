/** Texture sets: loose pictures that belong together by their names, with what each of them seems to hold. */
import { baseName } from '../../read/paths.ts';
import type { Texture } from '../../scene/types.ts';
import type { Holds } from './holds.ts';
import { isPacked, VALUES, WHOLES } from './holds.ts';
import { letterSays, nameSays } from './pictureNames.ts';
import type { NameSays } from './pictureNames.ts';

/** A picture of a set, and what it seems to hold; nothing where no material takes it. */
export interface SetMember {
  texture: Texture;
  holds?: Holds;
  /** Why it is taken for that, or why it is left, where somebody should look. */
  note?: string;
}

export interface TextureSet {
  /** What the names have in common. */
  name: string;
  source: string;
  members: SetMember[];
  /** What sets usually have and this one has not. */
  missing: string[];
}

/** Sets among the pictures that belong to nothing yet, in the order of the pictures. */
export function textureSets(textures: readonly Texture[]): TextureSet[] {
  const folderOf = ({ name }: Texture) => name.split('/').slice(0, -1).join('/');
  const keyOf = (texture: Texture, stem: string) => `${texture.source}\n${folderOf(texture)}\n${stem.toLowerCase()}`;
  const named = textures.map((texture) => {
    const says = nameSays(texture.name);
    return { texture, says, letter: says.holds || says.other ? undefined : letterSays(says.stem) };
  });
  /** How many pictures there are of a stem. */
  const stems = new Map<string, number>();
  for (const { texture, says, letter } of named)
    for (const stem of new Set([says.stem, letter?.stem ?? says.stem]))
      stems.set(keyOf(texture, stem), (stems.get(keyOf(texture, stem)) ?? 0) + 1);
  const hasOthers = (texture: Texture, stem: string) => (stems.get(keyOf(texture, stem)) ?? 0) > 1;

  const sets = new Map<string, TextureSet>();
  for (const { texture, says: whole, letter } of named) {
    let says = letter && hasOthers(texture, letter.stem) ? letter : whole;
    // A picture called Metal that lies by itself is one of metal.
    if (says.ordinary && !hasOthers(texture, says.stem)) says = { stem: baseName(texture.name) };
    const key = keyOf(texture, says.stem);
    let set = sets.get(key);
    if (!set) {
      const name = says.stem || (folderOf(texture).split('/').at(-1) ?? '') || baseName(texture.name);
      sets.set(key, (set = { name, source: texture.source, members: [], missing: [] }));
    }
    set.members.push(memberOf(texture, says));
  }
  const found = [...sets.values()];
  for (const set of found) {
    set.members = withoutSmaller(set.members).sort((a, b) => placeOf(a) - placeOf(b));
    set.missing = missingIn(set.members);
  }
  return found;
}

function memberOf(texture: Texture, says: NameSays): SetMember {
  const { signs, problem } = texture;
  if (problem) return { texture, note: problem };
  if (says.other) return { texture, note: `${says.other}: no material takes them` };
  const { holds } = says;
  if (!holds) {
    if (!signs?.normals) return { texture, holds: 'colour' };
    const direction = signs.normals === 'down' ? 'normals-down' : 'normals';
    return { texture, holds: direction, note: 'by how it looks: the name says nothing' };
  }
  if (says.direction && signs?.normals === 'down')
    return { texture, holds: 'normals-down', note: 'green points down, by how it looks' };
  if (holds === 'normals' && !says.direction && signs?.normals === 'down')
    return { texture, holds, note: 'the name says up, but green looks turned round' };
  if (holds === 'normals-down' && signs?.normals === 'up')
    return { texture, holds, note: 'the name says down, but green looks as if it points up' };
  if (isValue(holds) && signs?.grey === false)
    return { texture, holds, note: 'its channels differ: several values may be packed in it' };
  return { texture, holds };
}

const isValue = (holds: Holds) => !isPacked(holds) && (VALUES as readonly string[]).includes(holds);

/** Of pictures that hold the same the largest stays. */
function withoutSmaller(members: readonly SetMember[]): SetMember[] {
  const pixels = ({ texture: { width = 0, height = 0 } }: SetMember) => width * height;
  const best = new Map<string, SetMember>();
  for (const member of members) {
    if (!member.holds) continue;
    const key = valuesIn(member.holds).join();
    const other = best.get(key);
    if (!other || pixels(member) > pixels(other)) best.set(key, member);
  }
  return members.map((member) => {
    const other = member.holds && best.get(valuesIn(member.holds).join());
    return other && other !== member
      ? { texture: member.texture, note: `the same as ${other.texture.name.split('/').at(-1)}, which is not smaller` }
      : member;
  });
}

/** What materials have, as it is asked for: roughness is there as gloss too. */
export function valuesIn(holds: Holds): string[] {
  const plain = (value: string) => (value === 'gloss' ? 'roughness' : value === 'normals-down' ? 'normals' : value);
  return isPacked(holds) ? Object.values(holds).map(plain) : [plain(holds)];
}

/** As people go through a set: colour first, what is bound by nothing last. */
function placeOf({ holds }: SetMember): number {
  if (!holds) return WHOLES.length + 1;
  return isPacked(holds) ? WHOLES.indexOf('glow') : WHOLES.indexOf(holds);
}

/** What a full set has (common practice among makers of pictures). */
const USUAL = ['colour', 'normals', 'roughness', 'metalness', 'occlusion'];

export function missingIn(members: readonly Pick<SetMember, 'holds'>[]): string[] {
  const there = new Set(members.flatMap(({ holds }) => (holds ? valuesIn(holds) : [])));
  // From what is mirrored it is told what is a metal.
  if (there.has('specular')) there.add('metalness');
  return USUAL.filter((value) => !there.has(value));
}
