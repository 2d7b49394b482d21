/** XML texts as a plain tree, with limits, and without entities of their own: those could unpack to any size. */
import { SaxesParser } from 'saxes';
import { PrismError } from '../errors.ts';

export interface XmlElement {
  /** Without prefix. */
  name: string;
  attributes: Record<string, string>;
  children: XmlElement[];
  text: string;
  parent: XmlElement | undefined;
  line: number;
}

export interface XmlOptions {
  /** Takes an element as it opens: true keeps it out of the tree. For the thousands of small ones that only carry numbers. */
  take?: (name: string, attributes: Record<string, string>, parent: XmlElement) => boolean;
}

const MAX_DEPTH = 500;
const MAX_ELEMENTS = 5_000_000;
/** Texts are fed to the parser in pieces of this many bytes. */
const PIECE = 1 << 20;

/**
 * The root, and why the text could not be read to its end where that is so: what stands before is kept.
 * @throws PrismError `not-readable` where there is no root, or the text declares entities
 */
export function parseXml(
  bytes: Uint8Array,
  file: string,
  { take }: XmlOptions = {},
): { root: XmlElement; broken?: string } {
  const parser = new SaxesParser();
  const decoder = new TextDecoder(encodingOf(bytes));
  let root: XmlElement | undefined;
  let at: XmlElement | undefined;
  let taken = 0;
  let depth = 0;
  let elements = 0;
  let broken: string | undefined;
  const refuse = (why: string) =>
    new PrismError('not-readable', `${file}: ${why}`, { file, where: `line ${parser.line}` });
  let refused: PrismError | undefined;
  parser.on('error', (error) => {
    broken ??= error.message;
  });
  parser.on('doctype', (text) => {
    if (/<!ENTITY/i.test(text))
      refused ??= refuse('it declares entities of its own, which are refused. Ask for it without.');
  });
  parser.on('opentag', ({ name, attributes }) => {
    if (broken !== undefined || refused) return;
    if (++depth > MAX_DEPTH) refused ??= refuse(`its elements nest deeper than ${MAX_DEPTH}.`);
    const local = name.slice(name.indexOf(':') + 1);
    if (taken > 0 || (at && take?.(local, attributes, at))) {
      taken++;
      return;
    }
    if (++elements > MAX_ELEMENTS) refused ??= refuse(`it has more than ${MAX_ELEMENTS} elements.`);
    const element: XmlElement = {
      name: local,
      attributes: plain(attributes),
      children: [],
      text: '',
      parent: at,
      line: parser.line,
    };
    if (at) at.children.push(element);
    else root ??= element;
    at = element;
  });
  parser.on('closetag', () => {
    if (broken !== undefined) return;
    depth--;
    if (taken > 0) taken--;
    else at = at?.parent;
  });
  parser.on('text', (text) => {
    if (at && taken === 0 && broken === undefined) at.text += text;
  });
  parser.on('cdata', (text) => {
    if (at && taken === 0 && broken === undefined) at.text += text;
  });
  for (let from = 0; from < bytes.length && broken === undefined && !refused; from += PIECE)
    parser.write(decoder.decode(bytes.subarray(from, from + PIECE), { stream: true }));
  if (broken === undefined && !refused) parser.close();
  if (refused) throw refused;
  if (!root) throw refuse(`it is not readable as XML${broken ? ` (${broken})` : ''}. Ask for it again.`);
  return { root, ...(broken === undefined ? {} : { broken: `line ${parser.line}` }) };
}

/** Attributes without prefixes, unless that would hide another one. */
function plain(attributes: Record<string, string>): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [name, value] of Object.entries(attributes)) {
    const local = name.slice(name.indexOf(':') + 1);
    out[local in out || name.startsWith('xmlns') ? name : local] = value;
  }
  return out;
}

function encodingOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const head = String.fromCharCode(...bytes.subarray(0, 200));
  const declared = head.match(/encoding\s*=\s*["']([\w-]+)["']/)?.[1] ?? 'utf-8';
  try {
    return new TextDecoder(declared).encoding;
  } catch {
    return 'utf-8';
  }
}

/** First child of this name, or of a path of names. */
export function child(element: XmlElement | undefined, ...path: string[]): XmlElement | undefined {
  let at = element;
  for (const name of path) at = at?.children.find((candidate) => candidate.name === name);
  return at;
}

/** Children of these names. */
export function childrenNamed(element: XmlElement | undefined, ...names: string[]): XmlElement[] {
  return element?.children.filter((candidate) => names.includes(candidate.name)) ?? [];
}

/** The element and everything below it, in document order. */
export function* everything(element: XmlElement): Generator<XmlElement> {
  yield element;
  for (const inner of element.children) yield* everything(inner);
}

/** Numbers parted by blanks or commas, as X3D has them. What is no number becomes NaN. */
export function numbersOf(text: string | undefined): number[] {
  const trimmed = text?.trim();
  return trimmed ? trimmed.split(/[\s,]+/).map(Number) : [];
}

/** A number of some locales: a comma before the decimals. */
const DECIMAL_COMMA = /^[-+]?\d*,\d+(e[-+]?\d+)?$/i;

/**
 * Numbers parted by blanks, as XML Schema has lists. Some programs write a comma before the decimals: within a word it is that, where
 * the word makes one number, and parts numbers where it does not. What is no number becomes NaN.
 */
export function decimalsOf(text: string | undefined): number[] {
  const trimmed = text?.trim();
  if (!trimmed) return [];
  if (!trimmed.includes(',')) return trimmed.split(/\s+/).map(Number);
  return trimmed
    .split(/\s+/)
    .flatMap((word) =>
      DECIMAL_COMMA.test(word) ? Number(word.replace(',', '.')) : word.split(',').filter(Boolean).map(Number),
    );
}

/** One number; NaN for none. */
export function decimalOf(text: string | undefined): number {
  const [value = NaN] = decimalsOf(text);
  return value;
}

/** True where words of a list are numbers with a comma before the decimals. */
export function hasDecimalCommas(text: string): boolean {
  return text.split(/\s+/, 50).some((word) => DECIMAL_COMMA.test(word));
}
