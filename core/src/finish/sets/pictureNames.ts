/**
 * What the name of a picture says it holds: `oak_basecolor_2k`, `Eiche-Rauheit`, `mur_couleur`, `T_Rail_ORM`. The words are common
 * practice among makers of pictures; no source fixes them.
 */
import { baseName } from '../../read/paths.ts';
import type { Holds, Packed, Value } from './holds.ts';

/** What a name says: what is held, or what no material has. */
export interface NameSays {
  /** What is left of the name; empty where the name says only what is held. */
  stem: string;
  /** What it says is held. */
  holds?: Holds;
  /** What it is instead, where no material takes it: heights. */
  other?: string;
  /** Normals of which the name does not say where green points. */
  direction?: 'not said';
  /** The whole name is a word that things are called by too. */
  ordinary?: boolean;
}

/** Words of a value, by language: English, German, French, Spanish, Italian, Portuguese, Dutch, Polish, Swedish. Accents left away. */
const OF_VALUE: Record<Value, string> = {
  roughness:
    'roughness rough rgh rauheit rauigkeit rauhigkeit rugosite rugueux rugosidad aspereza rugosita ruvidezza rugosidade ruwheid chropowatosc ojamnhet',
  gloss:
    'gloss glossiness glossy smoothness smooth glanz glanzgrad brillance brillant lissage brillo lucentezza lucidita brilho glans polysk glatthet',
  metalness:
    'metalness metallic metallicness metalic metal mtl met metall metallisch metallique metalique metalico metallico metaal metallisk metalicznosc',
  occlusion:
    'ao occlusion ambientocclusion occ ambocc verdeckung umgebungsverdeckung occlusionambiante oclusion oclusionambiental occlusione occlusioneambientale oclusao okluzja',
  opacity:
    'opacity alpha mask maske masque mascara maschera masker transparency opazitat deckkraft opacite opacidad opacita opacidade dekking krycie opacitet',
};
const OF_COLOUR =
  'basecolor basecolour albedo diffuse diffuseanddirect diff dif color colour col bc farbe grundfarbe basisfarbe couleur couleurdebase colorbase colore coloredibase cor corbase kleur basiskleur kolor kolorbazowy farg grundfarg';
const OF_GLOW =
  'emissive emission emit emissiveness glow selfillumination leuchten leuchtkraft emissif emisivo emision emissivo emissione emissao emissief swiecenie';
const OF_NORMALS = 'normal normals normalmap nrm nor norm nmap normale normalen normales normali normais normalna';
/** Written together with normals, or beside them. */
const UP = ['gl', 'ogl', 'opengl'];
const DOWN = ['dx', 'directx', 'd3d'];
const OF_SPECULAR = 'specular spec specularcolor speculaire especular speculare spiegelung reflection reflexion';
const OTHERS: Record<string, string> = {
  heights:
    'height displacement disp bump hohe hoehe hohenkarte verschiebung hauteur deplacement altura desplazamiento altezza spostamento hoogte wysokosc hojd parallax',
};

/** Packings that have a name of their own. */
const PACKED: Record<string, Packed> = {
  orm: { r: 'occlusion', g: 'roughness', b: 'metalness' },
  arm: { r: 'occlusion', g: 'roughness', b: 'metalness' },
  rma: { r: 'roughness', g: 'metalness', b: 'occlusion' },
  rmo: { r: 'roughness', g: 'metalness', b: 'occlusion' },
  mra: { r: 'metalness', g: 'roughness', b: 'occlusion' },
  mro: { r: 'metalness', g: 'roughness', b: 'occlusion' },
  mr: { g: 'roughness', b: 'metalness' },
  // As glTF has them, whichever is named first.
  metallicroughness: { g: 'roughness', b: 'metalness' },
  metalroughness: { g: 'roughness', b: 'metalness' },
  roughnessmetallic: { g: 'roughness', b: 'metalness' },
  occlusionroughnessmetallic: { r: 'occlusion', g: 'roughness', b: 'metalness' },
  metallicsmoothness: { r: 'metalness', a: 'gloss' },
  metallicgloss: { r: 'metalness', a: 'gloss' },
};

/** One letter after a stem that other pictures have too. */
const LETTERS: Record<string, Holds | 'other'> = {
  d: 'colour', c: 'colour', b: 'colour', n: 'normals', r: 'roughness', m: 'metalness', g: 'gloss', e: 'glow', o: 'opacity', h: 'other',
}; // prettier-ignore

type Said = Pick<NameSays, 'holds' | 'other' | 'direction'>;
const SAID = new Map<string, Said>();
const enter = (words: string, said: Said) => words.split(' ').forEach((word) => SAID.set(word, said));
for (const [value, words] of Object.entries(OF_VALUE)) enter(words, { holds: value as Value });
for (const [word, holds] of Object.entries(PACKED)) SAID.set(word, { holds });
enter(OF_COLOUR, { holds: 'colour' });
enter(OF_GLOW, { holds: 'glow' });
enter(OF_SPECULAR, { holds: 'specular' });
enter(OF_NORMALS, { holds: 'normals', direction: 'not said' });
for (const word of OF_NORMALS.split(' ')) {
  for (const way of UP) SAID.set(word + way, { holds: 'normals' });
  for (const way of DOWN) SAID.set(word + way, { holds: 'normals-down' });
}
for (const [other, words] of Object.entries(OTHERS)) enter(words, { other });

/** Words that names of things have too: they say something only where nothing stands behind them. */
const ORDINARY = new Set(
  'metal metall metaal rough smooth glossy gloss glanz color colour col cor farbe couleur colore kleur kolor normal norm nor mask maske masque alpha glow met mtl dif mr bc spec reflection brillant brillo glans'.split(' '),
); // prettier-ignore

/** Sizes and numbers of copies: they say nothing of what is held. */
const SIZE =
  /^(\d{1,2}k|\d{3,5}(x\d{3,5})?|\d{1,2}|v\d{1,2}|\d{1,2}bits?|\d{1,3}(cm|mm|m)|jpg|jpeg|png|tif|exr|tga|seamless|tile(able)?)$/;

/** The words of a name, in lower case and without accents; what is written together in capitals of its own is parted. */
export function wordsOf(name: string): string[] {
  return (
    name
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .replaceAll('ß', 'ss')
      .replaceAll('ł', 'l')
      .replaceAll('Ł', 'L')
      .replaceAll('ø', 'o')
      .replace(/(\p{Ll})(\p{Lu})/gu, '$1_$2')
      .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1_$2')
      // Two names that have capitals of their own.
      .replace(/direct_?x\b/gi, 'directx')
      .replace(/open_?gl\b/gi, 'opengl')
      .split(/[_\-. ,;()[\]]+/)
      .filter(Boolean)
  );
}

/** Longest kind of word, in words: `occlusion_roughness_metallic`. */
const MOST = 4;

/** What a name says by itself. @param path with its folders */
export function nameSays(path: string): NameSays {
  const words = wordsOf(baseName(path));
  const rest = words.filter((word, i) => i === 0 || !SIZE.test(word.toLowerCase()));
  // From the end; longest first: `ambient_occlusion` is one kind, `occlusion` another spelling of it.
  for (let end = rest.length; end > 0; end--)
    for (let length = Math.min(MOST, end); length > 0; length--) {
      const from = end - length;
      // The first word is the name, unless it is all there is.
      if (from === 0 && length < rest.length) continue;
      const said = saidBy(rest.slice(from, end), end === rest.length);
      if (!said) continue;
      const others = [...rest.slice(0, from), ...rest.slice(end)];
      const way = said.direction && others.find((word) => UP.includes(word.toLowerCase()) || DOWN.includes(word.toLowerCase())); // prettier-ignore
      const stem = others.filter((word) => word !== way).join(' ');
      if (way) return { stem, holds: UP.includes(way.toLowerCase()) ? 'normals' : 'normals-down' };
      return { stem, ...said, ...(stem || !ORDINARY.has(rest[0].toLowerCase()) ? {} : { ordinary: true }) };
    }
  return { stem: rest.join(' ') || baseName(path) };
}

function saidBy(words: readonly string[], isLast: boolean): Said | undefined {
  const joined = words.join('').toLowerCase();
  const known = SAID.get(joined);
  if (known) return isLast || !ORDINARY.has(joined) ? known : undefined;
  return words.length > 1 ? packedIn(words.map((word) => word.toLowerCase())) : undefined;
}

/** Values that are named one after the other lie in red, green, blue and alpha. */
function packedIn(words: readonly string[]): Said | undefined {
  const values: Value[] = [];
  for (const word of words) {
    const holds = SAID.get(word)?.holds;
    if (typeof holds !== 'string' || !(holds in OF_VALUE)) return undefined;
    values.push(holds as Value);
  }
  if (new Set(values).size < values.length) return undefined;
  return { holds: Object.fromEntries(values.map((value, i) => ['rgba'[i], value])) as Packed };
}

/** What the last letter of a name says, where pictures of the same stem are there. */
export function letterSays(stem: string): NameSays | undefined {
  const words = stem.split(' ');
  const said = LETTERS[words.at(-1)?.toLowerCase() ?? ''];
  if (!said || words.length < 2) return undefined;
  const rest = { stem: words.slice(0, -1).join(' ') };
  if (said === 'other') return { ...rest, other: 'heights' };
  return { ...rest, holds: said, ...(said === 'normals' ? { direction: 'not said' as const } : {}) };
}
