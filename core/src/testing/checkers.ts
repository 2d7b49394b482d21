/** Checks of files that were written, by programs that are not ours: the schema of COLLADA, and admesh for STL, both unpacked by `npm test`. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { XmlBufferInputProvider, XmlDocument, xmlRegisterInputProvider, XsdValidator } from 'libxml2-wasm';
import { WrittenFile } from '../write/writer.ts';
import { models } from './reading.ts';

const checkers = join(models, 'checkers');

/** What the schema of XML's own attributes says (W3C, xml.xsd): the schema of COLLADA imports it from the network. */
const XML_ATTRIBUTES = `<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="http://www.w3.org/XML/1998/namespace">
<xs:attribute name="lang" type="xs:language"/><xs:attribute name="base" type="xs:anyURI"/></xs:schema>`;

/** Faults of a COLLADA file against the schema of version 1.4.1; none where it is valid. */
export function colladaFaults(bytes: Uint8Array): string[] {
  xmlRegisterInputProvider(
    new XmlBufferInputProvider({ 'http://www.w3.org/2001/03/xml.xsd': new TextEncoder().encode(XML_ATTRIBUTES) }),
  );
  const schema = XmlDocument.fromBuffer(readFileSync(join(checkers, 'collada_schema_1_4_1.xsd')));
  const validator = XsdValidator.fromDoc(schema);
  const document = XmlDocument.fromBuffer(bytes);
  try {
    validator.validate(document);
    return [];
  } catch (error) {
    const { details = [], message } = error as { details?: { message: string }[]; message: string };
    return details.length > 0 ? details.map((detail) => detail.message) : [message];
  } finally {
    document.dispose();
    validator.dispose();
    schema.dispose();
  }
}

export interface StlCheck {
  min: number[];
  max: number[];
  /** Facets as they stand in the file, and the volume that they enclose. */
  facets: number;
  volume: number;
  /** Edges that only one facet has, facets without area, and facets turned inside out. */
  faults: number;
}

export function checkStl(bytes: Uint8Array): StlCheck {
  const text = inFolder([new WrittenFile('x.stl', '', bytes)], (folder) =>
    execFileSync(join(checkers, 'admesh'), [join(folder, 'x.stl')], { env: { LD_LIBRARY_PATH: checkers }, encoding: 'utf8' }),
  ); // prettier-ignore
  const numbers = (pattern: RegExp) => [...text.matchAll(pattern)].map((match) => match.slice(1).map(Number));
  const box = numbers(/Min [XYZ] = *(\S+), Max [XYZ] = *(\S+)/g);
  const figure = (name: string) => numbers(new RegExp(`${name} *: *(\\S+)`, 'g'))[0]?.[0] ?? NaN;
  return {
    min: box.map(([low]) => low),
    max: box.map(([, high]) => high),
    facets: figure('Number of facets'),
    volume: figure('Volume'),
    faults: figure('Edges fixed') + figure('Degenerate facets') + figure('Facets reversed') + figure('Facets removed') + figure('Facets added'),
  };
} // prettier-ignore

/** Lets a program look at files in a folder that is gone afterwards. */
export function inFolder<T>(files: readonly WrittenFile[], look: (folder: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'written-'));
  try {
    for (const { name, bytes } of files) {
      mkdirSync(dirname(join(folder, name)), { recursive: true });
      writeFileSync(join(folder, name), bytes);
    }
    return look(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
