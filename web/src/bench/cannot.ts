/** What people look for that is not done here: said with what is near to it, so that nobody looks for ever. */

interface Cannot {
  words: readonly string[];
  say: string;
}

const LIST: readonly Cannot[] = [
  { words: ['camera', 'viewpoint'], say: 'Cameras come with sources, are looked through in the view, and go out where the format carries them. None is made here.' },
  { words: ['light', 'lamp', 'sun', 'hdri'], say: 'Lights come with sources and go out where the format carries them. None is made here.' },
  { words: ['normals', 'smooth', 'shade', 'hard edge'], say: 'Normals are those of the exact surfaces, or of the file; they are not edited. For faces that vanish from behind there is Sides.' },
  { words: ['render', 'ray', 'photo'], say: 'Pictures are made by the tool that receives the job. The report of a transmittal has a picture of it.' },
  { words: ['boolean', 'union', 'subtract', 'intersect', 'cut a hole'], say: 'Solids are not cut or united here: ask for it in the source. Split and Join part meshes and bring them together.' },
  { words: ['model', 'extrude', 'sketch', 'draw'], say: 'Nothing is modelled here. Setting-out points, groups and handles are all that is added.' },
  { words: ['bake', 'lightmap', 'ambient occlusion'], say: 'Light is baked by the tool that receives the job. Unwrap lays the second set of coordinates for it.' },
  { words: ['rig', 'bone', 'skin', 'morph'], say: 'Skins and morphs are not carried: what they bend stands still, which the carry-over sheet says.' },
  { words: ['keyframe', 'animate', 'timeline'], say: 'Movements come with sources. A linkage can be run, which makes one: Link, then Run.' },
]; // prettier-ignore

/** @returns nothing where the words are of no such thing */
export function cannotWords(sought: string): string | undefined {
  const text = sought.trim().toLowerCase();
  if (text.length < 3) return undefined;
  return LIST.find(({ words }) => words.some((word) => word.startsWith(text) || text.startsWith(word)))?.say;
}
