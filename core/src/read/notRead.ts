/** What a file is that no reader takes, by its first bytes, and what to ask for instead. */
import { READERS } from './formats.ts';
import { endingOf } from './paths.ts';
import { isZip } from './zip.ts';
import type { SourceFile } from './reader.ts';

interface Kind {
  /** First bytes, as one letter each, and what else tells it. */
  is(head: string, ending: string): boolean;
  /** What it is; nothing where it is known only that it belongs to one program. */
  words?: string;
}

/** Text that is neither empty nor full of signs that no text has. */
const isText = (head: string) => head !== '' && !/[\x00-\x08\x0e-\x1f]/.test(head);

const KINDS: readonly Kind[] = [
  { is: (head) => head.startsWith('%PDF-'), words: 'is a PDF (ISO 32000): pages to look at and to measure on, without a model to prepare' },
  { is: (head, ending) => ending === 'svg' || /<svg[\s>]/i.test(head), words: 'is an SVG (W3C): an open drawing, without a model to prepare' },
  { is: (head, ending) => ending === 'dxf' || /^\s*0\s+SECTION\b/.test(head), words: 'is a DXF: an open drawing, which is not read yet' },
  { is: (head) => /^(\x89PNG|\xff\xd8\xff|GIF8|BM|RIFF....WEBP|II\*\0|MM\0\*)/s.test(head), words: 'is a picture: drop it together with the model that shows it' },
  { is: (head) => /^(\{\\rtf|PK\x03\x04.{26}(word|xl|ppt)\/|PK\x03\x04.{26}\[Content_Types\])/s.test(head), words: 'is a document of an office, and no model' },
  { is: (head) => /^(Rar!|7z\xbc\xaf|\x1f\x8b)/.test(head), words: 'is packed in a way that is not opened: pack it as a zip, or send the files themselves' },
  { is: (head) => /^\s*(<!doctype html|<html)/i.test(head), words: 'is a page of the web, perhaps what a download answered instead of the file: get it again' },
  // A container in which programs keep documents of their own, and what begins with no text at all.
  { is: (head) => head.startsWith('\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1') },
  { is: (head) => !isText(head) },
]; // prettier-ignore

/** Bytes that are looked at. */
const HEAD = 400;

/** The name and what it is, which open formats to ask for, in the order in which they keep most, and what to look at when it comes. */
export function notRead({ name, bytes }: Pick<SourceFile, 'name' | 'bytes'>): string {
  const head = Array.from(bytes.subarray(0, HEAD), (byte) => String.fromCharCode(byte)).join('');
  const kind = KINDS.find(({ is }) => is(head, endingOf(name)));
  const isPackage = isZip(bytes);
  const what =
    kind?.words ??
    (kind
      ? 'is in the format of one program, as its first bytes say, which others cannot open'
      : isPackage
        ? 'is a package without a model in it that is read'
        : `is not in an open format that Noble Prism reads (${READERS.map((reader) => reader.format).join(', ')})`);
  return `${name} ${what}. ${ASK}`;
}

const ASK =
  'Ask, in this order, for STEP (AP242 or AP214) where exact solids, structure and colours matter; for IFC where it is a building with storeys and classes; ' +
  'for glTF where materials, textures and movements matter; for OBJ, PLY or STL where only a mesh is there. ' +
  'When it comes, look at its unit and size, at how many parts it has and what they are called, and at its colours.';
