/**
 * Which other files a file names, by what its format says: the statements that can hold a reference are parsed, and only they. A
 * name that occurs somewhere in the text (a product called like another file) is no reference.
 */
import { endingOf } from './paths.ts';
import { decodeString } from './step/strings.ts';

/** Bytes that can be had in slices: a file of the browser, or what is in memory. */
export interface ByteSource {
  size: number;
  slice(from: number, to: number): Promise<Uint8Array>;
}

/** What reads the references of one format. */
interface Naming {
  endings: readonly string[];
  /** Paths as they are written. `undefined` bytes of a source are never asked for. */
  find(source: ByteSource): Promise<string[]>;
}

/** Text is looked through in slices of this many bytes, each with the end of the one before, where a statement may be cut. */
const SLICE = 4_000_000;
const OVERLAP = 8_192;
/** Larger crates are not opened for their references: their tables stand at the end and are unpacked whole. Bytes. */
const MAX_CRATE = 300_000_000;

const latin = new TextDecoder('latin1');
const utf8 = new TextDecoder();

async function eachSlice(source: ByteSource, visit: (text: string) => void): Promise<void> {
  let tail = '';
  for (let at = 0; at < source.size; at += SLICE) {
    const text = tail + latin.decode(await source.slice(at, Math.min(source.size, at + SLICE)));
    visit(text);
    tail = text.slice(-OVERLAP);
  }
}

/** Everything that the only group of a pattern captured, anywhere in the text. Bytes above 127 are read as UTF-8. */
async function captured(source: ByteSource, pattern: RegExp): Promise<string[]> {
  const out = new Set<string>();
  await eachSlice(source, (text) => {
    for (const match of text.matchAll(pattern)) {
      const found = match.slice(1).find((group) => group !== undefined);
      if (found) out.add(found);
    }
  });
  return [...out].map((text) => utf8.decode(bytesOfLatin(text)));
}

const bytesOfLatin = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));

const NAMINGS: readonly Naming[] = [
  {
    // Documents of parts (ISO 10303-41): the name stands in the document or in its external identification.
    endings: ['stp', 'step', 'p21'],
    find: async (source) => {
      const statement =
        /(?:DOCUMENT_FILE|DOCUMENT|APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT)\s*\(((?:\s*'(?:[^']|'')*'\s*,?){1,2})/g;
      const out = new Set<string>();
      await eachSlice(source, (text) => {
        for (const [, names] of text.matchAll(statement))
          for (const [, name] of names.matchAll(/'((?:[^']|'')*)'/g)) out.add(decodeString(bytesOfLatin(name)));
      });
      return [...out];
    },
  },
  {
    endings: ['obj'],
    // One file, or several parted by spaces; names may hold spaces too, so both readings are offered.
    find: async (source) => bothReadings(await captured(source, /^[ \t]*mtllib[ \t]+([^\r\n]+)/gim)),
  },
  {
    endings: ['mtl'],
    // Options stand before the name: `map_Kd -s 2 2 2 wood light.png`.
    find: async (source) =>
      bothReadings(await captured(source, /^[ \t]*(?:map_\w+|bump|disp|decal|refl|norm)[ \t]+([^\r\n]+)/gim)),
  },
  { endings: ['gltf'], find: async (source) => urisOf(await source.slice(0, source.size)) },
  {
    // The first chunk is the JSON (glTF 2.0, 4.4.3).
    endings: ['glb'],
    find: async (source) => {
      const head = await source.slice(0, 20);
      if (head.length < 20) return [];
      const length = new DataView(head.buffer, head.byteOffset).getUint32(12, true);
      return length > source.size ? [] : urisOf(await source.slice(20, 20 + length));
    },
  },
  {
    endings: ['dae'],
    find: async (source) =>
      (
        await captured(
          source,
          /<(?:\w+:)?init_from[^>]*>\s*(?:<(?:\w+:)?ref>)?\s*([^<]+?)\s*<|<(?:\w+:)?ref>\s*([^<]+?)\s*</g,
        )
      ).map(plainXml),
  },
  {
    endings: ['x3d'],
    // A list of quoted names, or one name.
    find: async (source) =>
      (await captured(source, /\burl\s*=\s*(?:"([^"]*)"|'([^']*)')/gi)).flatMap((list) => {
        const text = plainXml(list);
        const quoted = [...text.matchAll(/"([^"]+)"/g)].map(([, name]) => name);
        return quoted.length > 0 ? quoted : [text.trim()];
      }),
  },
  { endings: ['ply'], find: (source) => captured(source, /^comment\s+texturefile\s+([^\r\n]+?)\s*$/gim) },
  {
    endings: ['usd', 'usda', 'usdc'],
    find: async (source) => {
      if (latin.decode(await source.slice(0, 8)) !== 'PXR-USDC') return captured(source, /@([^@\r\n]+)@/g);
      if (source.size > MAX_CRATE) return [];
      const { tokensOfCrate } = await import('./usd/usdc.ts');
      return tokensOfCrate(await source.slice(0, source.size));
    },
  },
];

/** Endings of the formats that can name other files. */
const NAMING_ENDINGS: ReadonlySet<string> = new Set(NAMINGS.flatMap(({ endings }) => endings));

/** References of a file as they are written in it; none where its format knows none, or where it is too damaged to tell. */
export async function referencesIn(path: string, source: ByteSource): Promise<string[]> {
  const ending = endingOf(path);
  if (!NAMING_ENDINGS.has(ending)) return [];
  const naming = NAMINGS.find(({ endings }) => endings.includes(ending));
  try {
    return (await naming?.find(source)) ?? [];
  } catch {
    // The reader says what is wrong with it; here it names nothing.
    return [];
  }
}

/** A line as one name, and each of its words: whichever is a file. */
function bothReadings(lines: string[]): string[] {
  return lines.flatMap((line) => {
    const words = line.trim().split(/\s+/);
    // The longest rest of the line that begins at a word: options may stand before a name with spaces.
    return words.length > 1 ? words.flatMap((word, i) => [words.slice(i).join(' '), word]) : words;
  });
}

function urisOf(json: Uint8Array): string[] {
  const { buffers = [], images = [] } = JSON.parse(utf8.decode(json)) as Record<string, { uri?: unknown }[]>;
  return [...buffers, ...images].flatMap(({ uri }) => (typeof uri === 'string' && !uri.startsWith('data:') ? uri : []));
}

function plainXml(text: string): string {
  return text
    .replaceAll('&quot;', '"')
    .replaceAll('&apos;', "'")
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&amp;', '&');
}

/** Bytes in memory as a source. */
export function sourceOfBytes(bytes: Uint8Array): ByteSource {
  return { size: bytes.length, slice: async (from, to) => bytes.subarray(from, to) };
}
